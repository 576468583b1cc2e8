-- What was pressed at the booth: stored once by the name the browser gave it, in the order it came.

CREATE TABLE booth_event (
  seq INTEGER PRIMARY KEY AUTOINCREMENT,
  id TEXT NOT NULL UNIQUE CHECK (length(id) BETWEEN 8 AND 64),
  day TEXT NOT NULL REFERENCES day (id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  minute REAL NOT NULL,
  kind TEXT NOT NULL,
  step TEXT NOT NULL,
  number INTEGER NOT NULL CHECK (number >= 0),
  told TEXT NOT NULL CHECK (json_valid(told)),
  received_at TEXT NOT NULL
) STRICT;
CREATE INDEX booth_event_of_day ON booth_event (day, seq);
