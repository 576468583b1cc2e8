"""Plans as the painter uses them: open, save, undo, start, put away."""

from __future__ import annotations

import uuid

from pydantic import BaseModel

from haze.core.plan.document import Plan
from haze.service.piece.ready import key_of
from haze.store import meshes, plans
from haze.store.connection import Database
from haze.store.plans import PlanRow

SAVED_AS_DEFAULT = "Changed"


class PlanView(BaseModel):
    """A plan with what the screen needs to save, undo and redo it."""

    id: str
    version: int
    plan: Plan
    updated_at: str
    can_undo: bool
    can_redo: bool
    what: str


class PlanSummary(BaseModel):
    """A plan in the list."""

    id: str
    version: int
    name: str
    piece: str
    copies: int
    coats: int
    school: str
    updated_at: str
    piece_key: str
    film: list[str]
    pictured: bool = False


def view(row: PlanRow) -> PlanView:
    """A stored plan for the screen."""
    return PlanView(
        id=row.id,
        version=row.version,
        plan=Plan.model_validate_json(row.document),
        updated_at=row.updated_at,
        can_undo=row.parent is not None,
        can_redo=row.child is not None,
        what=row.what,
    )


def summary(row: PlanRow) -> PlanSummary:
    """A stored plan for the list."""
    plan = Plan.model_validate_json(row.document)
    return PlanSummary(
        id=row.id,
        version=row.version,
        name=plan.name,
        piece=plan.piece.name,
        copies=plan.piece.copies,
        coats=len(plan.coats),
        school=plan.schools.words,
        updated_at=row.updated_at,
        film=[step.mix.hex for step in plan.done if step.mix],
        piece_key=key_of(plan.piece),
    )


def every(db: Database) -> list[PlanSummary]:
    """Plans that are not in the trash, last changed first."""
    return [summary(row) for row in plans.live(db.connection())]


def in_trash(db: Database) -> list[PlanSummary]:
    """Plans in the trash."""
    return [summary(row) for row in plans.trashed(db.connection())]


def open_plan(db: Database, identity: str) -> PlanView:
    """One plan as it stands."""
    return view(plans.get(db.connection(), identity))


def save(db: Database, identity: str, *, version: int, plan: Plan, what: str) -> PlanView:
    """A new revision; refused with `StaleError` when the plan was changed elsewhere."""
    with db.atomic() as tx:
        meshes.get(tx, plan.piece.mesh)
        row = plans.save(
            tx,
            identity=identity,
            version=version,
            document=plan.model_dump_json(),
            mesh=plan.piece.mesh,
            what=what.strip()[:200] or SAVED_AS_DEFAULT,
        )
    return view(row)


def undo(db: Database, identity: str, *, version: int) -> PlanView:
    """Back one revision."""
    with db.atomic() as tx:
        row = plans.undo(tx, identity=identity, version=version)
    return view(row)


def redo(db: Database, identity: str, *, version: int) -> PlanView:
    """Forward one revision."""
    with db.atomic() as tx:
        row = plans.redo(tx, identity=identity, version=version)
    return view(row)


def put_away(db: Database, identity: str, *, version: int, trashed: bool) -> PlanSummary:
    """Into the trash, or out of it."""
    with db.atomic() as tx:
        row = plans.set_trashed(tx, identity=identity, version=version, trashed=trashed)
    return summary(row)


def empty_trash(db: Database) -> int:
    """Delete for good what is in the trash."""
    with db.atomic() as tx:
        return plans.empty_trash(tx)


def add(db: Database, plan: Plan, *, what: str) -> PlanView:
    """Store a new plan."""
    with db.atomic() as tx:
        meshes.get(tx, plan.piece.mesh)
        row = plans.add(
            tx,
            identity=uuid.uuid4().hex,
            document=plan.model_dump_json(),
            mesh=plan.piece.mesh,
            what=what,
        )
    return view(row)
