-- Trial cards that were printed, their photos, and what the photos measured.

CREATE TABLE card (
  number INTEGER PRIMARY KEY CHECK (number BETWEEN 0 AND 999999),
  made_at TEXT NOT NULL,
  dark INTEGER NOT NULL CHECK (dark IN (0, 1)),
  asked TEXT NOT NULL CHECK (json_valid(asked))
) STRICT;
CREATE INDEX card_by_time ON card (made_at);

CREATE TABLE card_photo (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  at TEXT NOT NULL,
  hash TEXT NOT NULL UNIQUE CHECK (length(hash) = 64),
  card INTEGER REFERENCES card (number) ON DELETE SET NULL,
  width INTEGER NOT NULL CHECK (width > 0),
  height INTEGER NOT NULL CHECK (height > 0),
  data BLOB NOT NULL,
  found TEXT NOT NULL CHECK (json_valid(found)),
  trial TEXT REFERENCES trial (id) ON DELETE SET NULL
) STRICT;
CREATE INDEX card_photo_by_time ON card_photo (at);

ALTER TABLE trial ADD COLUMN measured TEXT CHECK (measured IS NULL OR json_valid(measured));
