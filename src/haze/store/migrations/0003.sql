-- More of a paint: range, millilitres left, tinting strength, light of its own, two swatches, trash.

ALTER TABLE paint ADD COLUMN "range" TEXT NOT NULL DEFAULT '';
ALTER TABLE paint ADD COLUMN ml_left REAL CHECK (ml_left IS NULL OR ml_left BETWEEN 0 AND 100000);
ALTER TABLE paint ADD COLUMN strength REAL NOT NULL DEFAULT 1 CHECK (strength BETWEEN 0.05 AND 20);
ALTER TABLE paint ADD COLUMN fluorescent REAL NOT NULL DEFAULT 0 CHECK (fluorescent BETWEEN 0 AND 1);
ALTER TABLE paint ADD COLUMN over_dark TEXT;
ALTER TABLE paint ADD COLUMN over_light TEXT;
ALTER TABLE paint ADD COLUMN swatch_um REAL;
ALTER TABLE paint ADD COLUMN trashed_at TEXT;
ALTER TABLE thinner ADD COLUMN ml_left REAL CHECK (ml_left IS NULL OR ml_left BETWEEN 0 AND 100000);
ALTER TABLE thinner ADD COLUMN trashed_at TEXT;
ALTER TABLE airbrush ADD COLUMN trashed_at TEXT;

CREATE TABLE compressor (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  most_psi REAL NOT NULL CHECK (most_psi BETWEEN 1 AND 300),
  tank_l REAL NOT NULL DEFAULT 0 CHECK (tank_l BETWEEN 0 AND 1000),
  trashed_at TEXT
) STRICT;
