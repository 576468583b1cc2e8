"""Photos of painted pieces by their plan, with the marks on them and what was found."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store import putting_away
from haze.store.connection import MissingError

COLUMNS = "id, at, hash, plan, width, height, marks, told, trashed_at"
ADD = """INSERT INTO piece_photo (id, at, hash, plan, width, height, data)
VALUES (:id, :at, :hash, :plan, :width, :height, :data)
ON CONFLICT (plan, hash) DO UPDATE SET trashed_at = NULL"""
SAME = f"SELECT {COLUMNS} FROM piece_photo WHERE plan = :plan AND hash = :hash"
ONE = f"SELECT {COLUMNS} FROM piece_photo WHERE id = :id"
NEWEST = f"""SELECT {COLUMNS} FROM piece_photo WHERE trashed_at IS NULL
ORDER BY at DESC, rowid DESC LIMIT :most"""
TRASHED = f"""SELECT {COLUMNS} FROM piece_photo WHERE trashed_at IS NOT NULL
ORDER BY trashed_at DESC, rowid DESC"""
EVERY = f"SELECT {COLUMNS} FROM piece_photo ORDER BY at, rowid"
DATA = "SELECT data FROM piece_photo WHERE id = :id"
TOLD = "UPDATE piece_photo SET marks = :marks, told = :told WHERE id = :id"


@dataclass(frozen=True, slots=True)
class PiecePhotoRow:
    """A photo without its bytes; `marks` and `told` are JSON."""

    id: str
    at: str
    hash: str
    plan: str
    width: int
    height: int
    marks: str | None = None
    told: str | None = None
    trashed_at: str | None = None


def _row(found: sqlite3.Row | None) -> PiecePhotoRow:
    if found is None:
        raise MissingError("This photo of a piece is not known.", field="photo")
    return PiecePhotoRow(**dict(found))


def add(db: sqlite3.Connection, row: PiecePhotoRow, *, data: bytes) -> PiecePhotoRow:
    """Store a photo; the same one of the same plan, by its hash, is the one there is."""
    db.execute(ADD, asdict(row) | {"data": data})
    return _row(db.execute(SAME, {"plan": row.plan, "hash": row.hash}).fetchone())


def one(db: sqlite3.Connection, identity: str) -> PiecePhotoRow:
    """A photo; `MissingError` when there is none."""
    return _row(db.execute(ONE, {"id": identity}).fetchone())


def is_known(db: sqlite3.Connection, identity: str) -> bool:
    """Whether there is a photo, in the trash or not."""
    return db.execute(ONE, {"id": identity}).fetchone() is not None


def newest(db: sqlite3.Connection, most: int) -> list[PiecePhotoRow]:
    """The photos taken in last, the newest first."""
    return [_row(found) for found in db.execute(NEWEST, {"most": most})]


def data(db: sqlite3.Connection, identity: str) -> bytes:
    """A photo's bytes (JPEG)."""
    found = db.execute(DATA, {"id": identity}).fetchone()
    if found is None:
        raise MissingError("This photo of a piece is not known.", field="photo")
    return bytes(found[0])


def tell(db: sqlite3.Connection, identity: str, *, marks: str, told: str) -> None:
    """Keep the marks on a photo and what was found with them."""
    db.execute(TOLD, {"id": identity, "marks": marks, "told": told})


def trashed(db: sqlite3.Connection) -> list[PiecePhotoRow]:
    """The photos in the trash, the last first."""
    return [_row(found) for found in db.execute(TRASHED)]


def every(db: sqlite3.Connection) -> list[PiecePhotoRow]:
    """All photos, in the trash or not, the oldest first."""
    return [_row(found) for found in db.execute(EVERY)]


def set_trashed(db: sqlite3.Connection, identity: str, *, trashed: bool) -> PiecePhotoRow:
    """Put a photo into the trash, or take it out."""
    putting_away.move(db, "piece_photo", identity, trashed=trashed)
    return one(db, identity)


def empty_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash; how many photos went."""
    return putting_away.empty(db, "piece_photo")


def size(db: sqlite3.Connection) -> tuple[int, int]:
    """How many photos there are, and their bytes."""
    return putting_away.size(db, "piece_photo")
