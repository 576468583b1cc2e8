-- The notebook: sessions with the plan as it was, their photos, a search; plans in groups.

CREATE TABLE session (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  kind TEXT NOT NULL CHECK (kind IN ('booth', 'cards')),
  date TEXT NOT NULL CHECK (date GLOB '[0-9][0-9][0-9][0-9]-[0-9][0-9]-[0-9][0-9]'),
  began_at TEXT NOT NULL,
  ended_at TEXT NOT NULL,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 250),
  day TEXT REFERENCES day (id) ON DELETE SET NULL,
  plan TEXT,
  paint TEXT,
  airbrush TEXT,
  document TEXT CHECK (document IS NULL OR json_valid(document)),
  mesh TEXT REFERENCES mesh (id),
  planned TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(planned)),
  room TEXT CHECK (room IS NULL OR json_valid(room)),
  told TEXT CHECK (told IS NULL OR json_valid(told)),
  log TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(log)),
  note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 4000),
  rating INTEGER CHECK (rating IS NULL OR rating BETWEEN 1 AND 5),
  trashed_at TEXT
) STRICT;
CREATE UNIQUE INDEX session_at_booth ON session (day, plan, date) WHERE kind = 'booth';
CREATE INDEX session_by_time ON session (trashed_at, began_at);

CREATE TABLE photo (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  session TEXT NOT NULL REFERENCES session (id) ON DELETE CASCADE,
  at TEXT NOT NULL,
  hash TEXT NOT NULL CHECK (length(hash) = 64),
  width INTEGER NOT NULL CHECK (width > 0),
  height INTEGER NOT NULL CHECK (height > 0),
  data BLOB NOT NULL,
  small BLOB NOT NULL,
  note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 500),
  trashed_at TEXT
) STRICT;
CREATE INDEX photo_of_session ON photo (session, at);

CREATE VIRTUAL TABLE found USING fts5 (session UNINDEXED, words, tokenize = "unicode61 remove_diacritics 2");

ALTER TABLE trial ADD COLUMN session TEXT REFERENCES session (id) ON DELETE SET NULL;
CREATE INDEX trial_of_session ON trial (session);

INSERT INTO session (id, kind, date, began_at, ended_at, name, paint, airbrush)
SELECT lower(hex(randomblob(16))), 'cards', date(at, 'localtime'), min(at), max(at),
  'Trial cards, ' || paint_name, paint, airbrush
FROM trial WHERE id NOT IN (SELECT id FROM booth_event)
GROUP BY date(at, 'localtime'), paint, airbrush;

UPDATE trial SET session = (
  SELECT s.id FROM session s WHERE s.kind = 'cards' AND s.date = date(trial.at, 'localtime')
    AND s.paint = trial.paint AND s.airbrush = trial.airbrush
);

ALTER TABLE plan ADD COLUMN grouped TEXT NOT NULL DEFAULT '' CHECK (length(grouped) <= 60);
