-- Meshes may also come as PLY and GLB: the table is made anew, because a check cannot be changed.

CREATE TABLE mesh_new (
  id TEXT PRIMARY KEY CHECK (length(id) = 64),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
  format TEXT NOT NULL CHECK (format IN ('stl', 'obj', 'ply', 'glb')),
  size_bytes INTEGER NOT NULL CHECK (size_bytes > 0),
  faces INTEGER NOT NULL CHECK (faces > 0),
  data BLOB NOT NULL CHECK (length(data) = size_bytes),
  created_at TEXT NOT NULL
) STRICT;

INSERT INTO mesh_new (id, name, format, size_bytes, faces, data, created_at)
SELECT id, name, format, size_bytes, faces, data, created_at FROM mesh;

DROP TABLE mesh;

ALTER TABLE mesh_new RENAME TO mesh;
