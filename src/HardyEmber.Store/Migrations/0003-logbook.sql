-- A long run arrives in parts, so that it holds up nobody; until it is whole it is not there.
ALTER TABLE runs ADD COLUMN arriving INTEGER NOT NULL DEFAULT 0;

-- The logbook pages by time and id. Each index begins with one filter and holds the others, so that filtering and counting
-- never look at the rows themselves.
DROP INDEX runs_created;
DROP INDEX runs_pilot;
CREATE INDEX runs_listed ON runs (created DESC, id DESC) WHERE arriving = 0;
CREATE INDEX runs_pilot ON runs (pilot, created DESC, id DESC, verdict, aircraft, start) WHERE arriving = 0;
CREATE INDEX runs_verdict ON runs (verdict, created DESC, id DESC, aircraft, start) WHERE arriving = 0;
CREATE INDEX runs_aircraft ON runs (aircraft, created DESC, id DESC, start) WHERE arriving = 0;
CREATE INDEX runs_start ON runs (start, created DESC, id DESC) WHERE arriving = 0;
