"""Photos of sessions, sized down; each with a small one for lists."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store import putting_away
from haze.store.connection import MissingError

LISTED = "id, session, at, hash, width, height, note, trashed_at"
ADD = """
INSERT INTO photo (id, session, at, hash, width, height, data, small, note)
VALUES (:id, :session, :at, :hash, :width, :height, :data, :small, :note)
ON CONFLICT (id) DO NOTHING
"""
ONE = f"SELECT {LISTED} FROM photo WHERE id = :id"
OF_SESSION = (
    f"SELECT {LISTED} FROM photo WHERE session = :session AND trashed_at IS NULL ORDER BY at, id"
)
SAME = f"SELECT {LISTED} FROM photo WHERE session = :session AND hash = :hash"
TRASHED = f"SELECT {LISTED} FROM photo WHERE trashed_at IS NOT NULL ORDER BY trashed_at DESC, id"
EVERY = f"SELECT {LISTED} FROM photo ORDER BY at, id"
DATA = "SELECT data FROM photo WHERE id = :id"
SMALL = "SELECT small FROM photo WHERE id = :id"
MARK = "UPDATE photo SET note = :note WHERE id = :id"
SIZE = (
    "SELECT count(*) AS photos, coalesce(sum(length(data) + length(small)), 0) AS bytes FROM photo"
)


@dataclass(frozen=True, slots=True)
class PhotoRow:
    """A photo without its bytes; `hash` is SHA-256 of them."""

    id: str
    session: str
    at: str
    hash: str
    width: int
    height: int
    note: str = ""
    trashed_at: str | None = None


def add(db: sqlite3.Connection, row: PhotoRow, *, data: bytes, small: bytes) -> PhotoRow:
    """Store a photo; the same one again, by its hash within a session, gives the row there is."""
    have = db.execute(SAME, {"session": row.session, "hash": row.hash}).fetchone()
    if have is not None:
        set_trashed(db, str(have["id"]), trashed=False)
        return one(db, str(have["id"]))
    db.execute(ADD, asdict(row) | {"data": data, "small": small})
    return one(db, row.id)


def one(db: sqlite3.Connection, identity: str) -> PhotoRow:
    """A photo; `MissingError` when there is none."""
    row = db.execute(ONE, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This photo is not in the notebook.", field="photo")
    return PhotoRow(**dict(row))


def of_session(db: sqlite3.Connection, session: str) -> list[PhotoRow]:
    """Photos of a session that are not in the trash, the oldest first."""
    return [PhotoRow(**dict(row)) for row in db.execute(OF_SESSION, {"session": session})]


def trashed(db: sqlite3.Connection) -> list[PhotoRow]:
    """Photos in the trash."""
    return [PhotoRow(**dict(row)) for row in db.execute(TRASHED)]


def every(db: sqlite3.Connection) -> list[PhotoRow]:
    """All photos, the oldest first."""
    return [PhotoRow(**dict(row)) for row in db.execute(EVERY)]


def read(db: sqlite3.Connection, identity: str, *, small: bool) -> bytes:
    """A photo's bytes (JPEG)."""
    row = db.execute(SMALL if small else DATA, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This photo is not in the notebook.", field="photo")
    return bytes(row[0])


def mark(db: sqlite3.Connection, identity: str, *, note: str) -> PhotoRow:
    """Keep a note with a photo."""
    db.execute(MARK, {"id": identity, "note": note})
    return one(db, identity)


def set_trashed(db: sqlite3.Connection, identity: str, *, trashed: bool) -> PhotoRow:
    """Put a photo into the trash, or take it out."""
    putting_away.move(db, "photo", identity, trashed=trashed)
    return one(db, identity)


def empty_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash; how many photos went."""
    return putting_away.empty(db, "photo")


def size(db: sqlite3.Connection) -> tuple[int, int]:
    """How many photos there are, and their bytes."""
    row = db.execute(SIZE).fetchone()
    return int(row["photos"]), int(row["bytes"])
