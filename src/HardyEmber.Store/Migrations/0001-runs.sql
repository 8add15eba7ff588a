-- A run is its header and its command log; the trajectory is recomputed, never stored.
CREATE TABLE runs (
    id            TEXT PRIMARY KEY,
    created       TEXT NOT NULL,              -- UTC, ISO 8601
    header        TEXT NOT NULL,              -- JSON as in the run format
    aircraft      TEXT NOT NULL,
    place         TEXT NOT NULL,
    pilot         TEXT NOT NULL,
    start         TEXT NOT NULL,
    mode          TEXT NOT NULL,
    parent        TEXT NULL,
    parent_step   INTEGER NULL,
    progress_step INTEGER NOT NULL DEFAULT 0, -- how far the run was seen to get; a restart resumes here
    ended         INTEGER NOT NULL DEFAULT 0,
    verdict       TEXT NULL,                  -- set when the run has ended
    sentence      TEXT NULL,
    peak_c        REAL NULL,
    findings      INTEGER NULL
);

CREATE INDEX runs_created ON runs (created DESC, id);
CREATE INDEX runs_pilot ON runs (pilot, created DESC);

CREATE TABLE commands (
    run      TEXT NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
    seq      INTEGER NOT NULL,
    step     INTEGER NOT NULL,
    kind     TEXT NOT NULL,
    target   TEXT NOT NULL,
    position TEXT NULL,
    number   REAL NULL,
    PRIMARY KEY (run, seq)
) WITHOUT ROWID;
