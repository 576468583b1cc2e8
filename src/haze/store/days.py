"""Days: which plans are in them, as they are asked for and as they were laid."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from haze.store.connection import MissingError, StaleError, now

COLUMNS = "id, version, document, laid, created_at, updated_at, ended_at"
EVERY = f"SELECT {COLUMNS} FROM day ORDER BY created_at, id"
ONE = f"SELECT {COLUMNS} FROM day WHERE id = :id"
OPEN_OF_PLAN = f"""
SELECT {COLUMNS} FROM day
WHERE ended_at IS NULL AND id IN (SELECT day FROM day_plan WHERE plan = :plan)
ORDER BY updated_at DESC, id LIMIT 1
"""
ADD = """
INSERT INTO day (id, version, document, created_at, updated_at)
VALUES (:id, 1, :document, :at, :at)
"""
CHANGE = """
UPDATE day SET document = :document, version = version + 1, updated_at = :at
WHERE id = :id AND version = :version
"""
LAY = "UPDATE day SET laid = :laid WHERE id = :id"
END = "UPDATE day SET ended_at = :at, version = version + 1 WHERE id = :id"
PLANS_LEAVE = "DELETE FROM day_plan WHERE day = :day"
PLAN_COMES = "INSERT INTO day_plan (day, plan) VALUES (:day, :plan)"


@dataclass(frozen=True, slots=True)
class DayRow:
    """A day; `document` and `laid` are JSON, `laid` None until an order was looked for."""

    id: str
    version: int
    document: str
    laid: str | None
    created_at: str
    updated_at: str
    ended_at: str | None


def one(db: sqlite3.Connection, identity: str) -> DayRow:
    """A day; `MissingError` when there is none."""
    row = db.execute(ONE, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This day is not known.", field="day")
    return DayRow(**dict(row))


def every(db: sqlite3.Connection) -> list[DayRow]:
    """All days, the oldest first."""
    return [DayRow(**dict(row)) for row in db.execute(EVERY)]


def open_of_plan(db: sqlite3.Connection, plan: str) -> DayRow | None:
    """The day a plan is in that has not ended; None when it is in none."""
    row = db.execute(OPEN_OF_PLAN, {"plan": plan}).fetchone()
    return None if row is None else DayRow(**dict(row))


def put(
    db: sqlite3.Connection, identity: str, *, version: int, document: str, plans: Sequence[str]
) -> DayRow:
    """Store a day as it is asked for; version 0 is a new one. `StaleError` when it moved on."""
    at = now()
    if version == 0 and db.execute(ONE, {"id": identity}).fetchone() is None:
        db.execute(ADD, {"id": identity, "document": document, "at": at})
    else:
        values = {"id": identity, "version": version, "document": document, "at": at}
        if db.execute(CHANGE, values).rowcount == 0:
            one(db, identity)
            raise StaleError("This day was changed elsewhere; it was loaded again.")
    db.execute(PLANS_LEAVE, {"day": identity})
    db.executemany(PLAN_COMES, [{"day": identity, "plan": plan} for plan in plans])
    return one(db, identity)


def lay(db: sqlite3.Connection, identity: str, *, laid: str) -> None:
    """Keep the order a day was laid in."""
    db.execute(LAY, {"id": identity, "laid": laid})


def end(db: sqlite3.Connection, identity: str) -> DayRow:
    """A day is over; `MissingError` when there is none."""
    one(db, identity)
    db.execute(END, {"id": identity, "at": now()})
    return one(db, identity)
