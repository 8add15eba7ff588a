-- A run keeps the data it was flown with and the judgement it was given. Each version of the data stands once, under its digest.
CREATE TABLE data (
    digest TEXT PRIMARY KEY,
    files  BLOB NOT NULL -- gzip of JSON: path and text of each file
) WITHOUT ROWID;

CREATE TABLE judgements (
    run        TEXT PRIMARY KEY REFERENCES runs (id) ON DELETE CASCADE,
    physics    INTEGER NOT NULL, -- version of the program's physics that judged it
    digest     TEXT NOT NULL,    -- of the final state
    judgement  TEXT NOT NULL,    -- JSON: verdict, sentence, findings, what was missing
    milestones TEXT NOT NULL     -- JSON: when each step was first done
) WITHOUT ROWID;
