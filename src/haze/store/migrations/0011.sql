-- Cards to practise on: what each was, and what it was taken for.

CREATE TABLE practice_card (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  at TEXT NOT NULL,
  asked TEXT NOT NULL CHECK (json_valid(asked)),
  answer TEXT CHECK (answer IS NULL OR json_valid(answer))
) STRICT;
CREATE INDEX practice_card_by_time ON practice_card (at);
