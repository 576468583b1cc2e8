"""Trials on card, and the settings a painter came to use for a paint in an airbrush."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass

from haze.store.connection import MissingError, now


@dataclass(frozen=True, slots=True)
class TrialRow:
    """One trial; `setting` and `measured` are JSON; `taken_back_at`: it no longer counts."""

    id: str
    paint: str
    paint_name: str
    kind: str
    airbrush: str
    airbrush_name: str
    needle_mm: float
    setting: str
    look: str
    plan: str | None = None
    step: str | None = None
    at: str = ""
    taken_back_at: str | None = None
    session: str | None = None
    measured: str | None = None


@dataclass(frozen=True, slots=True)
class Whose:
    """Whose own setting it is: of a paint through a needle, for a task."""

    paint: str
    airbrush: str
    needle_mm: float
    task: str


COLUMNS = (
    "id, paint, paint_name, kind, airbrush, airbrush_name, needle_mm, setting, look, plan, step, "
    "at, taken_back_at, session, measured"
)
ADD = f"""
INSERT INTO trial ({COLUMNS})
VALUES (:id, :paint, :paint_name, :kind, :airbrush, :airbrush_name, :needle_mm, :setting, :look,
  :plan, :step, :at, :taken_back_at, :session, :measured)
ON CONFLICT (id) DO NOTHING
"""
OF_SESSION = f"SELECT {COLUMNS} FROM trial WHERE session = :session ORDER BY at, id"
EVERY = f"SELECT {COLUMNS} FROM trial ORDER BY at, id"
ONE = f"SELECT {COLUMNS} FROM trial WHERE id = :id"
TAKE_BACK = "UPDATE trial SET taken_back_at = :at WHERE id = :id"
BELONG = "UPDATE trial SET session = :session WHERE id = :id"
PUT_WAY = """
INSERT INTO way (paint, airbrush, needle_mm, task, setting, at)
VALUES (:paint, :airbrush, :needle_mm, :task, :setting, :at)
ON CONFLICT (paint, airbrush, needle_mm, task) DO UPDATE SET setting = :setting, at = :at
"""
WAYS = "SELECT paint, airbrush, needle_mm, task, setting FROM way ORDER BY paint, airbrush, task"
WAY = """
SELECT setting FROM way
WHERE paint = :paint AND airbrush = :airbrush AND needle_mm = :needle_mm AND task = :task
"""
FORGET_WAY = """
DELETE FROM way
WHERE paint = :paint AND airbrush = :airbrush AND needle_mm = :needle_mm AND task = :task
"""


def add(db: sqlite3.Connection, trial: TrialRow) -> TrialRow:
    """Store a trial; one that is stored already, by its id, stays as it is."""
    db.execute(ADD, asdict(trial) | {"at": trial.at or now()})
    return one(db, trial.id)


def is_known(db: sqlite3.Connection, identity: str) -> bool:
    """Whether a trial is stored already."""
    return db.execute(ONE, {"id": identity}).fetchone() is not None


def one(db: sqlite3.Connection, identity: str) -> TrialRow:
    """A trial; `MissingError` when there is none."""
    row = db.execute(ONE, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This trial is not known.", field="trial")
    return TrialRow(**dict(row))


def of_session(db: sqlite3.Connection, session: str) -> list[TrialRow]:
    """Trials of a session, the oldest first, those taken back too."""
    return [TrialRow(**dict(row)) for row in db.execute(OF_SESSION, {"session": session})]


def every(db: sqlite3.Connection) -> list[TrialRow]:
    """All trials, the oldest first, those taken back too."""
    return [TrialRow(**dict(row)) for row in db.execute(EVERY)]


def take_back(db: sqlite3.Connection, identity: str, *, back: bool) -> TrialRow:
    """Let a trial no longer count, or count again; `MissingError` when there is none."""
    one(db, identity)
    db.execute(TAKE_BACK, {"id": identity, "at": now() if back else None})
    return one(db, identity)


def belong(db: sqlite3.Connection, identity: str, *, session: str) -> None:
    """Let a trial belong to a session."""
    db.execute(BELONG, {"id": identity, "session": session})


def put_way(db: sqlite3.Connection, whose: Whose, *, setting: str) -> None:
    """Keep a painter's own setting, in the place of an older one."""
    db.execute(PUT_WAY, asdict(whose) | {"setting": setting, "at": now()})


def ways(db: sqlite3.Connection) -> list[tuple[Whose, str]]:
    """All of a painter's own settings, with whose they are."""
    return [
        (Whose(row["paint"], row["airbrush"], row["needle_mm"], row["task"]), str(row["setting"]))
        for row in db.execute(WAYS)
    ]


def way(db: sqlite3.Connection, whose: Whose) -> str | None:
    """A painter's own setting as JSON; None when there is none."""
    row = db.execute(WAY, asdict(whose)).fetchone()
    return None if row is None else str(row["setting"])


def forget_way(db: sqlite3.Connection, whose: Whose) -> None:
    """Let go of a painter's own setting."""
    db.execute(FORGET_WAY, asdict(whose))
