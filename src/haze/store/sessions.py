"""Sessions: what was done on a day, with the plan as it was, notes and a search over the words."""

from __future__ import annotations

import sqlite3
from dataclasses import asdict, dataclass
from typing import Literal

from haze.store.connection import MissingError, now

Kind = Literal["booth", "cards"]
COLUMNS = (
    "id, kind, date, began_at, ended_at, name, day, plan, paint, airbrush, document, mesh, "
    "planned, room, told, log, note, rating, trashed_at"
)
# the list needs neither plan nor what was planned
LISTED = (
    COLUMNS.replace("document,", "NULL AS document,")
    .replace("planned,", "'' AS planned,")
    .replace("log,", "'' AS log,")
)
ADD = f"""
INSERT INTO session ({COLUMNS})
VALUES (:id, :kind, :date, :began_at, :ended_at, :name, :day, :plan, :paint, :airbrush, :document,
  :mesh, :planned, :room, :told, :log, :note, :rating, :trashed_at)
"""
GO_ON = """
UPDATE session SET began_at = min(began_at, :began_at), ended_at = max(ended_at, :ended_at),
  name = :name, document = coalesce(:document, document), mesh = coalesce(:mesh, mesh),
  room = coalesce(:room, room), told = NULL, trashed_at = NULL
WHERE id = :id
"""
ONE = f"SELECT {COLUMNS} FROM session WHERE id = :id"
AT_BOOTH = (
    "SELECT id FROM session WHERE kind = 'booth' AND day = :day AND plan = :plan AND date = :date"
)
OF_CARDS = """
SELECT id FROM session
WHERE kind = 'cards' AND date = :date AND paint = :paint AND airbrush = :airbrush
"""
LIVE = f"SELECT {LISTED} FROM session WHERE trashed_at IS NULL ORDER BY began_at DESC, id"
TRASHED = f"SELECT {LISTED} FROM session WHERE trashed_at IS NOT NULL ORDER BY trashed_at DESC, id"
EVERY = f"SELECT {COLUMNS} FROM session ORDER BY began_at, id"
NAMING = f"""
SELECT {LISTED} FROM session
WHERE trashed_at IS NULL
  AND (paint = :id OR airbrush = :id OR instr(document, '"' || :id || '"') > 0)
ORDER BY began_at DESC, id
"""
TELL = "UPDATE session SET told = :told WHERE id = :id"
MARK = "UPDATE session SET note = :note, rating = :rating WHERE id = :id"
TRASH = "UPDATE session SET trashed_at = :at WHERE id = :id"
DELETE_TRASHED = "DELETE FROM session WHERE trashed_at IS NOT NULL"
UNFIND = "DELETE FROM found WHERE session = :id"
FIND = "INSERT INTO found (session, words) VALUES (:id, :words)"
UNFIND_GONE = "DELETE FROM found WHERE session NOT IN (SELECT id FROM session)"
SEARCH = "SELECT session FROM found WHERE found MATCH :query ORDER BY rank LIMIT :most"
BOOTH_DAYS = """
SELECT DISTINCT day FROM booth_event
WHERE day NOT IN (SELECT day FROM session WHERE day IS NOT NULL)
"""


@dataclass(frozen=True, slots=True)
class SessionRow:
    """What was done on a day.

    Times are UTC, `date` is the painter's own. `plan` outlives a plan that is deleted for good;
    `document` is it as it was, `planned` the
    minutes of each stretch as it was laid, `room` and `told` what was measured and what came of it
    (JSON; `told` None until it is worked out). `log` are the presses of one that came from a file.
    Of cards, `paint` and `airbrush` are what was tried.
    """

    id: str
    kind: Kind
    date: str
    began_at: str
    ended_at: str
    name: str
    day: str | None = None
    plan: str | None = None
    paint: str | None = None
    airbrush: str | None = None
    document: str | None = None
    mesh: str | None = None
    planned: str = "{}"
    room: str | None = None
    told: str | None = None
    log: str = "[]"
    note: str = ""
    rating: int | None = None
    trashed_at: str | None = None


def add(db: sqlite3.Connection, row: SessionRow) -> None:
    """Store a session."""
    db.execute(ADD, asdict(row))


def keep(db: sqlite3.Connection, row: SessionRow) -> str:
    """Begin a session, or go on with the one of the same day; its identity."""
    where = AT_BOOTH if row.kind == "booth" else OF_CARDS
    have = db.execute(where, asdict(row)).fetchone()
    if have is None:
        add(db, row)
        return row.id
    identity = str(have["id"])
    db.execute(GO_ON, asdict(row) | {"id": identity})
    return identity


def at_booth(db: sqlite3.Connection, *, day: str, plan: str, date: str) -> str | None:
    """The session of a plan at the booth on a date."""
    row = db.execute(AT_BOOTH, {"day": day, "plan": plan, "date": date}).fetchone()
    return None if row is None else str(row["id"])


def one(db: sqlite3.Connection, identity: str) -> SessionRow:
    """A session; `MissingError` when there is none."""
    row = db.execute(ONE, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This session is not in the notebook.", field="session")
    return SessionRow(**dict(row))


def is_known(db: sqlite3.Connection, identity: str) -> bool:
    """Whether a session is stored already."""
    return db.execute(ONE, {"id": identity}).fetchone() is not None


def live(db: sqlite3.Connection) -> list[SessionRow]:
    """Sessions that are not in the trash, the last first, without their plans."""
    return [SessionRow(**dict(row)) for row in db.execute(LIVE)]


def trashed(db: sqlite3.Connection) -> list[SessionRow]:
    """Sessions in the trash, without their plans."""
    return [SessionRow(**dict(row)) for row in db.execute(TRASHED)]


def every(db: sqlite3.Connection) -> list[SessionRow]:
    """All sessions whole, the oldest first, those in the trash too."""
    return [SessionRow(**dict(row)) for row in db.execute(EVERY)]


def naming(db: sqlite3.Connection, identity: str) -> list[SessionRow]:
    """Sessions with a paint or an airbrush, the last first, without their plans."""
    return [SessionRow(**dict(row)) for row in db.execute(NAMING, {"id": identity})]


def tell(db: sqlite3.Connection, identity: str, *, told: str, words: str) -> None:
    """Keep what came of a session, and the words it is found by."""
    db.execute(TELL, {"id": identity, "told": told})
    find_by(db, identity, words=words)


def find_by(db: sqlite3.Connection, identity: str, *, words: str) -> None:
    """Keep the words a session is found by."""
    db.execute(UNFIND, {"id": identity})
    db.execute(FIND, {"id": identity, "words": words})


def mark(db: sqlite3.Connection, identity: str, *, note: str, rating: int | None) -> None:
    """Keep a painter's note and rating."""
    one(db, identity)
    db.execute(MARK, {"id": identity, "note": note, "rating": rating})


def set_trashed(db: sqlite3.Connection, identity: str, *, trashed: bool) -> None:
    """Put a session into the trash, or take it out; its trials go on counting."""
    one(db, identity)
    db.execute(TRASH, {"id": identity, "at": now() if trashed else None})


def empty_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash, photos too; how many sessions went."""
    gone = int(db.execute(DELETE_TRASHED).rowcount)
    db.execute(UNFIND_GONE)
    return gone


def search(db: sqlite3.Connection, query: str, *, most: int) -> list[str]:
    """Identities of sessions whose words match, the best first; `query` in FTS5's own syntax."""
    return [str(row["session"]) for row in db.execute(SEARCH, {"query": query, "most": most})]


def days_without(db: sqlite3.Connection) -> list[str]:
    """Days something was pressed on that no session tells of."""
    return [str(row["day"]) for row in db.execute(BOOTH_DAYS)]
