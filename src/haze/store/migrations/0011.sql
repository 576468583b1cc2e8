-- Cards to practise on, and photos of painted pieces beside their plans.

CREATE TABLE practice_card (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  at TEXT NOT NULL,
  asked TEXT NOT NULL CHECK (json_valid(asked)),
  answer TEXT CHECK (answer IS NULL OR json_valid(answer))
) STRICT;
CREATE INDEX practice_card_by_time ON practice_card (at);

-- Photos of painted pieces, laid over their plans: the marks, and what was told then.

CREATE TABLE piece_photo (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  at TEXT NOT NULL,
  hash TEXT NOT NULL CHECK (length(hash) = 64),
  plan TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
  width INTEGER NOT NULL CHECK (width > 0),
  height INTEGER NOT NULL CHECK (height > 0),
  data BLOB NOT NULL,
  marks TEXT CHECK (marks IS NULL OR json_valid(marks)),
  told TEXT CHECK (told IS NULL OR json_valid(told)),
  UNIQUE (plan, hash)
) STRICT;
CREATE INDEX piece_photo_by_time ON piece_photo (at);
