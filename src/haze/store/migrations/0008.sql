-- Tablets in the same room that were let in by a code shown on the desk.

CREATE TABLE tablet (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
  token_hash TEXT NOT NULL UNIQUE CHECK (length(token_hash) = 64),
  paired_at TEXT NOT NULL,
  last_seen_at TEXT NOT NULL
) STRICT;
