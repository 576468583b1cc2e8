-- Which presses still have to be learned from: a cut between storing and learning loses none.

ALTER TABLE booth_event ADD COLUMN taught INTEGER NOT NULL DEFAULT 1 CHECK (taught IN (0, 1));
CREATE INDEX booth_event_untaught ON booth_event (day, seq) WHERE taught = 0;
