"""What was pressed at the booth; an event is stored once, however often it is sent."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store.connection import now

COLUMNS = "seq, id, day, at, minute, kind, step, number, told, received_at"
ADD = """
INSERT INTO booth_event (id, day, at, minute, kind, step, number, told, received_at)
VALUES (:id, :day, :at, :minute, :kind, :step, :number, :told, :received_at)
ON CONFLICT (id) DO NOTHING
"""
SINCE = f"SELECT {COLUMNS} FROM booth_event WHERE day = :day AND seq > :seq ORDER BY seq"


@dataclass(frozen=True, slots=True)
class EventRow:
    """One press.

    `at` is when it was pressed (UTC), `minute` the same from the start of the day on the painter's
    own clock; `step` and `number` what it is about, `told` more of it as JSON.
    """

    id: str
    day: str
    at: str
    minute: float
    kind: str
    step: str
    number: int
    told: str
    seq: int = 0
    received_at: str = ""


def add(db: sqlite3.Connection, event: EventRow) -> bool:
    """Store an event; False when it is stored already."""
    return db.execute(ADD, asdict(event) | {"received_at": now()}).rowcount > 0


def since(db: sqlite3.Connection, day: str, seq: int) -> list[EventRow]:
    """Events of a day that came after one, in the order they came."""
    return [EventRow(**dict(row)) for row in db.execute(SINCE, {"day": day, "seq": seq})]
