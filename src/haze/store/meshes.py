"""Meshes as they were imported; the original file is kept."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from haze.store.connection import MissingError, now

INSERT = """
INSERT INTO mesh (id, name, format, size_bytes, faces, data, created_at)
VALUES (:id, :name, :format, :size_bytes, :faces, :data, :created_at)
ON CONFLICT (id) DO NOTHING
"""
SELECT = "SELECT id, name, format, size_bytes, faces, created_at FROM mesh WHERE id = :id"
SELECT_ALL = """
SELECT id, name, format, size_bytes, faces, created_at FROM mesh ORDER BY created_at, id
"""
SELECT_DATA = "SELECT data, name FROM mesh WHERE id = :id"


@dataclass(frozen=True, slots=True)
class MeshRow:
    """A stored mesh without its bytes."""

    id: str
    name: str
    format: str
    size_bytes: int
    faces: int
    created_at: str


def add(
    db: sqlite3.Connection, *, identity: str, name: str, form: str, faces: int, data: bytes
) -> MeshRow:
    """Store a mesh once; the same bytes again give the row that is there."""
    db.execute(
        INSERT,
        {
            "id": identity,
            "name": name,
            "format": form,
            "size_bytes": len(data),
            "faces": faces,
            "data": data,
            "created_at": now(),
        },
    )
    return get(db, identity)


def get(db: sqlite3.Connection, identity: str) -> MeshRow:
    """One mesh; `MissingError` when there is none."""
    row = db.execute(SELECT, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This mesh is not in the data folder.", field="mesh")
    return MeshRow(**dict(row))


def every(db: sqlite3.Connection) -> list[MeshRow]:
    """All meshes, oldest first."""
    return [MeshRow(**dict(row)) for row in db.execute(SELECT_ALL)]


def data_of(db: sqlite3.Connection, identity: str) -> tuple[bytes, str]:
    """The original file and its name."""
    row = db.execute(SELECT_DATA, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This mesh is not in the data folder.", field="mesh")
    return bytes(row["data"]), str(row["name"])
