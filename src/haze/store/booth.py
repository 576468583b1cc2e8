"""What was pressed at the booth; an event is stored once, however often it is sent."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store.connection import now

COLUMNS = "seq, id, day, at, minute, kind, step, number, told, received_at, taught"
ADD = """
INSERT INTO booth_event (id, day, at, minute, kind, step, number, told, received_at, taught)
VALUES (:id, :day, :at, :minute, :kind, :step, :number, :told, :received_at, :taught)
ON CONFLICT (id) DO NOTHING
"""
DAY_OF = "SELECT day FROM booth_event WHERE id = :id"
UNTAUGHT = f"SELECT {COLUMNS} FROM booth_event WHERE day = :day AND taught = 0 ORDER BY seq"
DAYS_UNTAUGHT = "SELECT DISTINCT day FROM booth_event WHERE taught = 0 ORDER BY day"
TAUGHT = "UPDATE booth_event SET taught = 1 WHERE id = :id"
EVERY = f"SELECT {COLUMNS} FROM booth_event ORDER BY seq"
SINCE = f"SELECT {COLUMNS} FROM booth_event WHERE day = :day AND seq > :seq ORDER BY seq"


@dataclass(frozen=True, slots=True)
class EventRow:
    """One press.

    `at` is when it was pressed (UTC), `minute` the same from the start of the day on the painter's
    own clock; `step` and `number` what it is about, `told` more of it as JSON. `taught` is 0 while
    it still has to be learned from.
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
    taught: int = 1


def add(db: sqlite3.Connection, event: EventRow) -> bool:
    """Store an event; False when it is stored already."""
    return db.execute(ADD, asdict(event) | {"received_at": now()}).rowcount > 0


def since(db: sqlite3.Connection, day: str, seq: int) -> list[EventRow]:
    """Events of a day that came after one, in the order they came."""
    return [EventRow(**dict(row)) for row in db.execute(SINCE, {"day": day, "seq": seq})]


def every(db: sqlite3.Connection) -> list[EventRow]:
    """Events of all days, in the order they came."""
    return [EventRow(**dict(row)) for row in db.execute(EVERY)]


def day_of(db: sqlite3.Connection, identity: str) -> str | None:
    """The day an event is stored with; None when it is not stored."""
    row = db.execute(DAY_OF, {"id": identity}).fetchone()
    return None if row is None else str(row["day"])


def untaught(db: sqlite3.Connection, day: str) -> list[EventRow]:
    """Events of a day that still have to be learned from, in the order they came."""
    return [EventRow(**dict(row)) for row in db.execute(UNTAUGHT, {"day": day})]


def days_untaught(db: sqlite3.Connection) -> list[str]:
    """Days with events that still have to be learned from."""
    return [str(row["day"]) for row in db.execute(DAYS_UNTAUGHT)]


def taught(db: sqlite3.Connection, identity: str) -> None:
    """An event has been learned from."""
    db.execute(TAUGHT, {"id": identity})
