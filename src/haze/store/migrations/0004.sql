-- Changes to the shelf, so that they can be undone and done again.

CREATE TABLE shelf_step (
  n INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  what TEXT NOT NULL CHECK (length(what) BETWEEN 1 AND 200),
  before TEXT NOT NULL CHECK (json_valid(before)),
  after TEXT NOT NULL CHECK (json_valid(after)),
  undone INTEGER NOT NULL DEFAULT 0 CHECK (undone IN (0, 1))
) STRICT;
