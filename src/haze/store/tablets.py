"""Paired tablets; of what they show to be let in only a hash is kept."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store.connection import MissingError, now

COLUMNS = "id, name, token_hash, paired_at, last_seen_at"
ADD = f"""
INSERT INTO tablet ({COLUMNS}) VALUES (:id, :name, :token_hash, :paired_at, :last_seen_at)
"""
EVERY = f"SELECT {COLUMNS} FROM tablet ORDER BY paired_at DESC, id"
BY_HASH = f"SELECT {COLUMNS} FROM tablet WHERE token_hash = :token_hash"
SEEN = "UPDATE tablet SET last_seen_at = :at WHERE id = :id"
REVOKE = "DELETE FROM tablet WHERE id = :id"


@dataclass(frozen=True, slots=True)
class TabletRow:
    """A tablet that was let in."""

    id: str
    name: str
    token_hash: str
    paired_at: str = ""
    last_seen_at: str = ""


def add(db: sqlite3.Connection, tablet: TabletRow) -> None:
    """Let a tablet in."""
    at = now()
    db.execute(ADD, asdict(tablet) | {"paired_at": at, "last_seen_at": at})


def every(db: sqlite3.Connection) -> list[TabletRow]:
    """All tablets, the last paired first."""
    return [TabletRow(**dict(row)) for row in db.execute(EVERY)]


def by_hash(db: sqlite3.Connection, token_hash: str) -> TabletRow | None:
    """The tablet with this hash; None when there is none."""
    row = db.execute(BY_HASH, {"token_hash": token_hash}).fetchone()
    return None if row is None else TabletRow(**dict(row))


def seen(db: sqlite3.Connection, identity: str) -> None:
    """A tablet was here just now."""
    db.execute(SEEN, {"id": identity, "at": now()})


def revoke(db: sqlite3.Connection, identity: str) -> None:
    """Let a tablet no longer in; `MissingError` when there is none."""
    if db.execute(REVOKE, {"id": identity}).rowcount == 0:
        raise MissingError("This tablet is not paired.", field="tablet")
