-- The card of every attempt to start an engine, of ended runs: a pilot's next start is held against these.
CREATE TABLE starts (
    run       TEXT NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
    seq       INTEGER NOT NULL,
    aircraft  TEXT NOT NULL,
    pilot     TEXT NOT NULL,
    created   TEXT NOT NULL, -- of the run
    oat_c     REAL NOT NULL,
    engine    TEXT NOT NULL,
    outcome   TEXT NOT NULL,
    light_s   REAL NULL,
    peak_c    REAL NOT NULL,
    margin_c  REAL NOT NULL,
    over_s    REAL NOT NULL,
    idle_s    REAL NULL,
    starter_s REAL NOT NULL,
    reaction_s REAL NULL,
    PRIMARY KEY (run, seq)
) WITHOUT ROWID;

CREATE INDEX starts_pilot ON starts (pilot, aircraft, created DESC);
