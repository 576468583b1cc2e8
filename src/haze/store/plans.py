"""Plans and all their revisions; undo and redo move along them, nothing is overwritten."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass

from haze.store.connection import MissingError, StaleError, now

INSERT_PLAN = """
INSERT INTO plan (id, current, version, created_at, updated_at)
VALUES (:id, 1, 1, :at, :at)
"""
INSERT_REVISION = """
INSERT INTO revision (plan_id, number, parent, what, document, mesh, created_at)
VALUES (:plan, :number, :parent, :what, :document, :mesh, :at)
"""
SELECT = """
SELECT p.id, p.version, p.current, p.created_at, p.updated_at, p.trashed_at, p.grouped,
       coalesce(r.document, '') AS document, r.parent, coalesce(r.what, '') AS what,
       (SELECT max(number) FROM revision c WHERE c.plan_id = p.id AND c.parent = p.current) AS child
FROM plan p LEFT JOIN revision r ON r.plan_id = p.id AND r.number = p.current
"""
ONE = SELECT + " WHERE p.id = :id"
LIVE = SELECT + " WHERE p.trashed_at IS NULL ORDER BY p.updated_at DESC, p.id"
TRASHED = SELECT + " WHERE p.trashed_at IS NOT NULL ORDER BY p.trashed_at DESC, p.id"
LAST_NUMBER = "SELECT max(number) FROM revision WHERE plan_id = :id"
REVISIONS = """
SELECT number, what, document, created_at FROM revision
WHERE plan_id = :id ORDER BY number DESC
"""
NEWEST = """
SELECT number, what, created_at FROM revision WHERE plan_id = :id ORDER BY number DESC LIMIT :most
"""
ONE_REVISION = """
SELECT number, what, document, created_at FROM revision WHERE plan_id = :id AND number = :number
"""
MOVE = """
UPDATE plan SET current = :current, version = version + 1, updated_at = :at
WHERE id = :id AND version = :version
"""
TRASH = (
    "UPDATE plan SET trashed_at = :at, version = version + 1 WHERE id = :id AND version = :version"
)
OLDEST = "SELECT min(created_at) FROM plan WHERE trashed_at IS NULL"
GROUP = "UPDATE plan SET grouped = :grouped WHERE id = :id"
DELETE_TRASHED = "DELETE FROM plan WHERE trashed_at IS NOT NULL"


@dataclass(frozen=True, slots=True)
class PlanRow:
    """A plan as it stands; `parent` and `child` are what undo and redo would go to.

    `document` is "" when its current revision is not there.
    """

    id: str
    version: int
    current: int
    created_at: str
    updated_at: str
    trashed_at: str | None
    grouped: str
    document: str
    parent: int | None
    what: str
    child: int | None


@dataclass(frozen=True, slots=True)
class Revision:
    """A plan as it once was."""

    number: int
    what: str
    document: str
    created_at: str


@dataclass(frozen=True, slots=True)
class RevisionNamed:
    """What was changed with a revision, and when."""

    number: int
    what: str
    created_at: str


def add(db: sqlite3.Connection, *, identity: str, document: str, mesh: str, what: str) -> PlanRow:
    """A new plan with its first revision."""
    at = now()
    db.execute(INSERT_PLAN, {"id": identity, "at": at})
    _revise(db, plan=identity, number=1, parent=None, what=what, document=document, mesh=mesh)
    return get(db, identity)


def _revise(
    db: sqlite3.Connection,
    *,
    plan: str,
    number: int,
    parent: int | None,
    what: str,
    document: str,
    mesh: str,
) -> None:
    db.execute(
        INSERT_REVISION,
        {
            "plan": plan,
            "number": number,
            "parent": parent,
            "what": what,
            "document": document,
            "mesh": mesh,
            "at": now(),
        },
    )


def get(db: sqlite3.Connection, identity: str) -> PlanRow:
    """One plan as it stands; `MissingError` when there is none."""
    row = db.execute(ONE, {"id": identity}).fetchone()
    if row is None:
        raise MissingError("This plan is not in the data folder.", field="plan")
    return PlanRow(**dict(row))


def is_known(db: sqlite3.Connection, identity: str) -> bool:
    """Whether there is a plan, in the trash or not."""
    return db.execute(ONE, {"id": identity}).fetchone() is not None


def live(db: sqlite3.Connection) -> list[PlanRow]:
    """Plans that are not in the trash, last changed first."""
    return [PlanRow(**dict(row)) for row in db.execute(LIVE)]


def oldest(db: sqlite3.Connection) -> str | None:
    """When the first plan that is not in the trash was begun; None without one."""
    row = db.execute(OLDEST).fetchone()
    return None if row[0] is None else str(row[0])


def trashed(db: sqlite3.Connection) -> list[PlanRow]:
    """Plans in the trash."""
    return [PlanRow(**dict(row)) for row in db.execute(TRASHED)]


def _fresh(row: PlanRow, version: int) -> None:
    if row.version != version:
        raise StaleError(
            "This plan was changed elsewhere since you opened it. Yours was not saved; reload to "
            "see the newer one.",
            field="version",
        )


def _move(db: sqlite3.Connection, row: PlanRow, to: int) -> PlanRow:
    done = db.execute(
        MOVE, {"id": row.id, "current": to, "version": row.version, "at": now()}
    ).rowcount
    if done != 1:
        _fresh(get(db, row.id), row.version)
    return get(db, row.id)


def save(
    db: sqlite3.Connection, *, identity: str, version: int, document: str, mesh: str, what: str
) -> PlanRow:
    """A new revision on top of the one it was made from; `StaleError` when that is not current."""
    row = get(db, identity)
    _fresh(row, version)
    number = int(db.execute(LAST_NUMBER, {"id": identity}).fetchone()[0]) + 1
    _revise(
        db,
        plan=identity,
        number=number,
        parent=row.current,
        what=what,
        document=document,
        mesh=mesh,
    )
    return _move(db, row, number)


def undo(db: sqlite3.Connection, *, identity: str, version: int) -> PlanRow:
    """Back to the revision this one was made from; stays where it is at the first."""
    row = get(db, identity)
    _fresh(row, version)
    return row if row.parent is None else _move(db, row, row.parent)


def redo(db: sqlite3.Connection, *, identity: str, version: int) -> PlanRow:
    """Forward to the newest revision made from this one; stays when there is none."""
    row = get(db, identity)
    _fresh(row, version)
    return row if row.child is None else _move(db, row, row.child)


def move(db: sqlite3.Connection, *, identity: str, version: int, to: int) -> PlanRow:
    """Make another of its revisions the current one."""
    row = get(db, identity)
    _fresh(row, version)
    return _move(db, row, to)


def revisions(db: sqlite3.Connection, identity: str) -> Iterator[Revision]:
    """All revisions of a plan, the newest first."""
    for row in db.execute(REVISIONS, {"id": identity}):
        yield Revision(**dict(row))


def newest(db: sqlite3.Connection, identity: str, *, most: int) -> list[RevisionNamed]:
    """The newest revisions of a plan by what was changed, the newest first."""
    get(db, identity)
    return [RevisionNamed(**dict(r)) for r in db.execute(NEWEST, {"id": identity, "most": most})]


def revision(db: sqlite3.Connection, identity: str, number: int) -> Revision:
    """One revision of a plan; `MissingError` when there is none of that number."""
    row = db.execute(ONE_REVISION, {"id": identity, "number": number}).fetchone()
    if row is None:
        raise MissingError("This version of the plan is not kept.")
    return Revision(**dict(row))


def set_trashed(db: sqlite3.Connection, *, identity: str, version: int, trashed: bool) -> PlanRow:
    """Put a plan into the trash, or take it out."""
    row = get(db, identity)
    _fresh(row, version)
    db.execute(TRASH, {"id": identity, "version": version, "at": now() if trashed else None})
    return get(db, identity)


def put_in_group(db: sqlite3.Connection, identity: str, *, grouped: str) -> PlanRow:
    """Name the group a plan stands in; empty takes it out. It is no change of the plan."""
    get(db, identity)
    db.execute(GROUP, {"id": identity, "grouped": grouped})
    return get(db, identity)


def empty_trash(db: sqlite3.Connection) -> int:
    """Delete for good what is in the trash; how many plans went."""
    return int(db.execute(DELETE_TRASHED).rowcount)
