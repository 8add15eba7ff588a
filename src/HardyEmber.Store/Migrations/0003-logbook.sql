-- A long run arrives in parts, so that it holds up nobody; until it is whole it is not there.
ALTER TABLE runs ADD COLUMN arriving INTEGER NOT NULL DEFAULT 0;

-- The logbook pages by time and id, and filters without looking at the rows themselves.
DROP INDEX runs_created;
DROP INDEX runs_pilot;
CREATE INDEX runs_listed ON runs (created DESC, id DESC, arriving, pilot, verdict, aircraft, start);
CREATE INDEX runs_pilot ON runs (pilot, created DESC, id DESC);
CREATE INDEX runs_verdict ON runs (verdict, created DESC, id DESC);
