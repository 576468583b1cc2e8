-- The first schema: meshes, shelf, settings, plans with every revision they ever had.

CREATE TABLE mesh (
  id TEXT PRIMARY KEY CHECK (length(id) = 64),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
  format TEXT NOT NULL CHECK (format IN ('stl', 'obj')),
  size_bytes INTEGER NOT NULL CHECK (size_bytes > 0),
  faces INTEGER NOT NULL CHECK (faces > 0),
  data BLOB NOT NULL CHECK (length(data) = size_bytes),
  created_at TEXT NOT NULL
) STRICT;

CREATE TABLE paint (
  id TEXT PRIMARY KEY,
  maker TEXT NOT NULL,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  kind TEXT NOT NULL,
  masstone TEXT NOT NULL CHECK (masstone GLOB '#[0-9a-fA-F][0-9a-fA-F][0-9a-fA-F][0-9a-fA-F][0-9a-fA-F][0-9a-fA-F]'),
  opacity TEXT NOT NULL CHECK (opacity IN ('opaque', 'semi_opaque', 'semi_transparent', 'transparent')),
  finish TEXT NOT NULL CHECK (finish IN ('ultra_matt', 'matt', 'satin', 'gloss')),
  drop_ul REAL NOT NULL DEFAULT 50 CHECK (drop_ul BETWEEN 5 AND 200)
) STRICT;

CREATE TABLE thinner (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  kind TEXT NOT NULL,
  drop_ul REAL NOT NULL DEFAULT 50 CHECK (drop_ul BETWEEN 5 AND 200)
) STRICT;

CREATE TABLE airbrush (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  needle_mm REAL NOT NULL CHECK (needle_mm BETWEEN 0.1 AND 1.0),
  cup_ml REAL NOT NULL CHECK (cup_ml > 0)
) STRICT;

CREATE TABLE setting (
  name TEXT PRIMARY KEY,
  value TEXT NOT NULL
) STRICT;

CREATE TABLE plan (
  id TEXT PRIMARY KEY,
  current INTEGER NOT NULL CHECK (current >= 1),
  version INTEGER NOT NULL CHECK (version >= 1),
  created_at TEXT NOT NULL,
  updated_at TEXT NOT NULL,
  trashed_at TEXT,
  FOREIGN KEY (id, current) REFERENCES revision (plan_id, number) DEFERRABLE INITIALLY DEFERRED
) STRICT;

CREATE TABLE revision (
  plan_id TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE DEFERRABLE INITIALLY DEFERRED,
  number INTEGER NOT NULL CHECK (number >= 1),
  parent INTEGER,
  what TEXT NOT NULL,
  document TEXT NOT NULL CHECK (json_valid(document)),
  mesh TEXT NOT NULL REFERENCES mesh (id),
  created_at TEXT NOT NULL,
  PRIMARY KEY (plan_id, number),
  FOREIGN KEY (plan_id, parent) REFERENCES revision (plan_id, number) DEFERRABLE INITIALLY DEFERRED
) STRICT;

CREATE INDEX revision_parent ON revision (plan_id, parent);
CREATE INDEX plan_updated ON plan (trashed_at, updated_at);
