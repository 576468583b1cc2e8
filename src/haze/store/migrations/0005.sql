-- Trials on card, and the settings a painter came to use.

CREATE TABLE trial (
  id TEXT PRIMARY KEY CHECK (length(id) BETWEEN 8 AND 64),
  at TEXT NOT NULL,
  paint TEXT NOT NULL,
  paint_name TEXT NOT NULL CHECK (length(paint_name) BETWEEN 1 AND 120),
  kind TEXT NOT NULL,
  airbrush TEXT NOT NULL,
  airbrush_name TEXT NOT NULL CHECK (length(airbrush_name) BETWEEN 1 AND 120),
  needle_mm REAL NOT NULL CHECK (needle_mm BETWEEN 0.1 AND 1),
  setting TEXT NOT NULL CHECK (json_valid(setting)),
  look TEXT NOT NULL
    CHECK (look IN ('clean', 'spiders', 'specks', 'dust', 'nothing', 'pooled', 'tip_dry')),
  plan TEXT,
  step TEXT,
  taken_back_at TEXT
) STRICT;
CREATE INDEX trial_of_pair ON trial (paint, airbrush, needle_mm);

CREATE TABLE way (
  paint TEXT NOT NULL,
  airbrush TEXT NOT NULL,
  needle_mm REAL NOT NULL CHECK (needle_mm BETWEEN 0.1 AND 1),
  task TEXT NOT NULL,
  setting TEXT NOT NULL CHECK (json_valid(setting)),
  at TEXT NOT NULL,
  PRIMARY KEY (paint, airbrush, needle_mm, task)
) STRICT;
