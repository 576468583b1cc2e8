"""Photos in and out of the trash, wherever they are kept."""

from __future__ import annotations

import sqlite3
from typing import Literal

from haze.store.connection import now

Table = Literal["photo", "card_photo", "piece_photo"]


def move(db: sqlite3.Connection, table: Table, identity: str, *, trashed: bool) -> None:
    """Put a photo into the trash, or take it out."""
    moved = {"id": identity, "at": now() if trashed else None}
    db.execute(f"UPDATE {table} SET trashed_at = :at WHERE id = :id", moved)


def empty(db: sqlite3.Connection, table: Table) -> int:
    """Delete for good what is in the trash; how many photos went."""
    return int(db.execute(f"DELETE FROM {table} WHERE trashed_at IS NOT NULL").rowcount)


def size(db: sqlite3.Connection, table: Table) -> tuple[int, int]:
    """How many photos there are, and their bytes."""
    row = db.execute(f"SELECT count(*), coalesce(sum(length(data)), 0) FROM {table}").fetchone()
    return int(row[0]), int(row[1])
