"""Meshes as they were imported; the original file is kept."""

from __future__ import annotations

import os
import sqlite3
from dataclasses import dataclass
from typing import IO, NamedTuple

from haze.store.connection import MissingError, now

INSERT = """
INSERT INTO mesh (id, name, format, size_bytes, faces, data, created_at)
VALUES (:id, :name, :format, :size_bytes, :faces, zeroblob(:size_bytes), :created_at)
"""
SELECT = "SELECT id, name, format, size_bytes, faces, created_at FROM mesh WHERE id = :id"
SELECT_ALL = """
SELECT id, name, format, size_bytes, faces, created_at FROM mesh ORDER BY created_at, id
"""
NOT_USED = (
    "created_at < :before AND id NOT IN (SELECT mesh FROM revision) "
    "AND id NOT IN (SELECT mesh FROM session WHERE mesh IS NOT NULL)"
)
UNUSED = f"""
SELECT count(*) AS meshes, coalesce(sum(size_bytes), 0) AS size_bytes FROM mesh WHERE {NOT_USED}
"""
DELETE_UNUSED = f"DELETE FROM mesh WHERE {NOT_USED}"
PLACE = "SELECT rowid, name FROM mesh WHERE id = :id"
BLOCK_BYTES = 2**20  # a mesh goes in and out a block at a time: it may be large


@dataclass(frozen=True, slots=True)
class MeshRow:
    """A stored mesh without its bytes."""

    id: str
    name: str
    format: str
    size_bytes: int
    faces: int
    created_at: str


class Unused(NamedTuple):
    """Meshes that no plan uses."""

    meshes: int
    size_bytes: int


def add(
    db: sqlite3.Connection, *, identity: str, name: str, form: str, faces: int, file: IO[bytes]
) -> MeshRow:
    """Store a mesh once; the same bytes again give the row that is there."""
    if db.execute(PLACE, {"id": identity}).fetchone() is None:
        row = {
            "id": identity,
            "name": name,
            "format": form,
            "size_bytes": file.seek(0, os.SEEK_END),
            "faces": faces,
            "created_at": now(),
        }
        file.seek(0)
        placed = db.execute(INSERT, row).lastrowid or 0
        with db.blobopen("mesh", "data", placed) as blob:
            while block := file.read(BLOCK_BYTES):
                blob.write(block)
    return get(db, identity)


def get(db: sqlite3.Connection, identity: str) -> MeshRow:
    """One mesh; `MissingError` when there is none."""
    row = db.execute(SELECT, {"id": identity}).fetchone()
    if row is None:
        raise _missing()
    return MeshRow(**dict(row))


def every(db: sqlite3.Connection) -> list[MeshRow]:
    """All meshes, oldest first."""
    return [MeshRow(**dict(row)) for row in db.execute(SELECT_ALL)]


def unused(db: sqlite3.Connection, *, before: str) -> Unused:
    """Meshes that no revision of any plan uses, brought in before a time (UTC, ISO 8601)."""
    row = db.execute(UNUSED, {"before": before}).fetchone()
    return Unused(int(row["meshes"]), int(row["size_bytes"]))


def delete_unused(db: sqlite3.Connection, *, before: str) -> None:
    """Delete for good the meshes that `unused` counts."""
    db.execute(DELETE_UNUSED, {"before": before})


def write_out(db: sqlite3.Connection, identity: str, file: IO[bytes]) -> str:
    """Write the original file; its name."""
    row = db.execute(PLACE, {"id": identity}).fetchone()
    if row is None:
        raise _missing()
    with db.blobopen("mesh", "data", row["rowid"], readonly=True) as blob:
        while block := blob.read(BLOCK_BYTES):
            file.write(block)
    return str(row["name"])


def _missing() -> MissingError:
    return MissingError("This mesh is not in the data folder.", field="mesh")
