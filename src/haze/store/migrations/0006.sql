-- Days: several plans worked on together, and the order they were laid in.

CREATE TABLE day (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  version INTEGER NOT NULL CHECK (version >= 1),
  document TEXT NOT NULL CHECK (json_valid(document)),
  laid TEXT CHECK (laid IS NULL OR json_valid(laid)),
  created_at TEXT NOT NULL,
  updated_at TEXT NOT NULL,
  ended_at TEXT
) STRICT;

CREATE TABLE day_plan (
  day TEXT NOT NULL REFERENCES day (id) ON DELETE CASCADE,
  plan TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
  PRIMARY KEY (day, plan)
) STRICT;
CREATE INDEX day_of_plan ON day_plan (plan);
