"""Single rows as they are stored, whatever they hold: to export one, or to delete it for good."""

from __future__ import annotations

import base64
import sqlite3
from typing import NamedTuple

from haze.store.connection import MissingError

Cell = str | int | float | None


class RecordTable(NamedTuple):
    """Where records of a kind lie: their table, its key, and what belongs to them."""

    key: str
    parts: tuple[tuple[str, str], ...] = ()  # a table, and its column that names the record


PLACES = {
    "plan": RecordTable("id", (("revision", "plan_id"),)),
    "session": RecordTable("id", (("photo", "session"),)),
    "day": RecordTable("id", (("booth_event", "day"),)),
    "booth_event": RecordTable("id"),
    "trial": RecordTable("id"),
    "card": RecordTable("number"),
    "card_photo": RecordTable("id"),
    "piece_photo": RecordTable("id"),
    "photo": RecordTable("id"),
    "practice_card": RecordTable("id"),
    "paint": RecordTable("id"),
    "thinner": RecordTable("id"),
    "airbrush": RecordTable("id"),
    "compressor": RecordTable("id"),
    "mesh": RecordTable("id"),
}
UNFIND = "DELETE FROM found WHERE session = :id"


def whole(db: sqlite3.Connection, kind: str, identity: str) -> dict[str, object]:
    """A record and what belongs to it, by table, as plain values; bytes as base64.

    Parameters
    ----------
    db : read from
    kind : one of `PLACES`
    identity : its key, as text

    Raises
    ------
    MissingError
    """
    place = PLACES[kind]
    rows = _rows(db, kind, place.key, identity)
    if not rows:
        raise MissingError("This record is not stored.", field="id")
    parts = {table: _rows(db, table, column, identity) for table, column in place.parts}
    return {kind: rows[0], **parts}


def _rows(db: sqlite3.Connection, table: str, column: str, identity: str) -> list[dict[str, Cell]]:
    found = db.execute(f"SELECT * FROM {table} WHERE {column} = :id", {"id": identity})
    return [{name: _plain(row[name]) for name in row.keys()} for row in found]  # noqa: SIM118


def _plain(value: Cell | bytes) -> Cell:
    return base64.b64encode(value).decode() if isinstance(value, bytes) else value


def delete(db: sqlite3.Connection, kind: str, identity: str) -> None:
    """Delete a record for good, with what belongs to it.

    Parameters
    ----------
    db : deleted from
    kind : one of `PLACES`
    identity : its key, as text

    Raises
    ------
    MissingError
    """
    gone = db.execute(f"DELETE FROM {kind} WHERE {PLACES[kind].key} = :id", {"id": identity})
    if gone.rowcount == 0:
        raise MissingError("This record is not stored.", field="id")
    if kind == "session":
        db.execute(UNFIND, {"id": identity})
