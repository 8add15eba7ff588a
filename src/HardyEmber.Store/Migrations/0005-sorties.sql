-- Situations with a name, kept by a callsign to be flown again.
CREATE TABLE sorties (
    id      TEXT PRIMARY KEY,
    pilot   TEXT NOT NULL,
    name    TEXT NOT NULL,
    header  TEXT NOT NULL, -- JSON
    created TEXT NOT NULL,
    UNIQUE (pilot, name)
) WITHOUT ROWID;
