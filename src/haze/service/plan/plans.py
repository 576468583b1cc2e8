"""Plans as the painter uses them: open, save, undo, start, put away."""

from __future__ import annotations

import logging
import sqlite3
import uuid
from contextlib import suppress
from dataclasses import dataclass
from datetime import timedelta
from functools import lru_cache

from pydantic import BaseModel

from haze.core.errors import NotInPlanError
from haze.core.plan.base import MOST_NAME
from haze.core.plan.document import Plan
from haze.core.plan.piece import Piece
from haze.service.forms.records import Unreadable, UnreadableError
from haze.service.piece.ready import key_of
from haze.store import meshes, plans
from haze.store.connection import Database, MissingError, now
from haze.store.plans import PlanRow, Revision

SAVED_AS_DEFAULT = "Changed"
COPY = ", copy"
MOST_VERSIONS = 60  # that are listed by name
FRESH = timedelta(hours=1)  # a mesh just brought in may be about to become a plan
KEPT_SUMS = 500
DAMAGED = "A damaged plan"
GONE = "A plan that is gone"
UNREADABLE = (
    "This plan cannot be read as it stands; nothing of it was changed. The list of plans "
    "offers its last good revision, its export and its deletion."
)
log = logging.getLogger(__name__)


class PlanView(BaseModel):
    """A plan with what the screen needs to save, undo and redo it."""

    id: str
    version: int
    plan: Plan
    updated_at: str
    can_undo: bool
    can_redo: bool
    what: str


class VersionNamed(BaseModel):
    """A version of a plan: what was changed with it, and when (UTC)."""

    number: int
    what: str
    at: str


class Stands(BaseModel):
    """Hands in words, how much is to mind, and the first of it in a sentence; none when clean."""

    hands: str
    to_mind: int
    first: str | None


class DoneSoFar(BaseModel):
    """How far a plan has been done: steps finished on all copies, and its last session."""

    steps: int
    of: int
    session: str
    date: str
    rating: int | None


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
    stands: Stands | None = None  # null until it is worked out
    group: str = ""
    done: DoneSoFar | None = None  # null when nothing was done


class UnusedMeshes(BaseModel):
    """Meshes that no plan uses."""

    count: int
    size_bytes: int


class DamagedPlan(Unreadable):
    """A plan whose document cannot be read; `good_at` is when its last good revision was made."""

    version: int
    good_at: str | None


class DamagedPlanError(UnreadableError):
    """A stored plan that cannot be read as it stands."""

    code = "damaged_plan"


def _read(document: str) -> Plan:
    """A stored document; `DamagedPlanError` when it is none."""
    try:
        return Plan.model_validate_json(document)
    except Exception as error:  # what brings older ones up fails on a broken one in many ways
        log.info("a stored plan cannot be read: %s", error)
        raise DamagedPlanError(UNREADABLE, field="plan") from error


def view(row: PlanRow) -> PlanView:
    """A stored plan for the screen."""
    return PlanView(
        id=row.id,
        version=row.version,
        plan=_read(row.document),
        updated_at=row.updated_at,
        can_undo=row.parent is not None,
        can_redo=row.child is not None,
        what=row.what,
    )


@dataclass(frozen=True)
class Summed:
    """What the list tells of a document."""

    piece: Piece
    coats: int
    name: str
    school: str
    film: tuple[str, ...]


@lru_cache(maxsize=KEPT_SUMS)
def _summed(document: str) -> Summed | None:
    """What the list tells of a stored document; None when it cannot be read."""
    try:
        plan = _read(document)
        film = tuple(step.mix.hex for step in plan.done if step.mix)
        return Summed(plan.piece, len(plan.coats), plan.name, plan.schools.words, film)
    except Exception as error:
        log.info("a stored plan cannot be listed: %s", error)
        return None


def summary(row: PlanRow) -> PlanSummary:
    """A stored plan for the list."""
    summed = _summed(row.document)
    if summed is None:
        raise DamagedPlanError(UNREADABLE, field="plan")
    return PlanSummary(
        id=row.id,
        version=row.version,
        name=summed.name,
        piece=summed.piece.name,
        copies=summed.piece.copies,
        coats=summed.coats,
        school=summed.school,
        updated_at=row.updated_at,
        film=list(summed.film),
        piece_key=key_of(summed.piece),
        group=row.grouped,
    )


def every(db: Database) -> list[PlanSummary]:
    """Plans that are not in the trash, last changed first."""
    return _readable(plans.live(db.connection()))


def in_trash(db: Database) -> list[PlanSummary]:
    """Plans in the trash."""
    return _readable(plans.trashed(db.connection()))


def _readable(rows: list[PlanRow]) -> list[PlanSummary]:
    return [summary(row) for row in rows if _summed(row.document)]


def damaged(db: Database) -> list[DamagedPlan]:
    """Plans that cannot be read as they stand, and whether an earlier revision can."""
    tx = db.connection()
    found = []
    for row in (*plans.live(tx), *plans.trashed(tx)):
        if _summed(row.document) is None:
            good = _last_good(tx, row)
            found.append(
                DamagedPlan(
                    kind="plan",
                    id=row.id,
                    name=_name_in(good) if good else DAMAGED,
                    at=row.updated_at,
                    version=row.version,
                    good_at=good.created_at if good else None,
                )
            )
    return found


def _name_in(revision: Revision) -> str:
    summed = _summed(revision.document)
    return summed.name if summed else DAMAGED


def _last_good(tx: sqlite3.Connection, row: PlanRow) -> Revision | None:
    for one in plans.revisions(tx, row.id):
        with suppress(DamagedPlanError):
            _read(one.document)
            return one
    return None


def mend(db: Database, identity: str, *, version: int) -> PlanView:
    """Back to the last revision that can be read; the damaged ones stay stored."""
    with db.atomic() as tx:
        row = plans.get(tx, identity)
        good = _last_good(tx, row)
        if good is None:
            raise DamagedPlanError("No revision of this plan can be read.", field="plan")
        moved = plans.move(tx, identity=identity, version=version, to=good.number)
    return view(moved)


def copy(db: Database, plan: Plan) -> PlanView:
    """A plan of its own from one as it stands on a screen."""
    name = f"{plan.name[: MOST_NAME - len(COPY)]}{COPY}"
    return add(db, plan.model_copy(update={"name": name}), what="Copied")


def name_of(db: Database, identity: str) -> str:
    """A plan's name, in the trash or not; one that cannot be read, or is gone, says so."""
    try:
        summed = _summed(plans.get(db.connection(), identity).document)
    except MissingError:
        return GONE
    return summed.name if summed else DAMAGED


def open_plan(db: Database, identity: str) -> PlanView:
    """One plan as it stands."""
    return view(plans.get(db.connection(), identity))


def id_named(db: Database, name: str | None) -> str:
    """The identity of a plan by its name; of the one last changed when none is given."""
    found = every(db)
    chosen = [p for p in found if name is None or p.name == name]
    if not chosen:
        known = ", ".join(p.name for p in found) or "none"
        raise NotInPlanError(
            f"There is no plan {name!r}; those there are: {known}."
            if name
            else "There is no plan in this folder.",
            field="plan",
        )
    return chosen[0].id


def plan_named(db: Database, name: str | None) -> Plan:
    """A plan by its name; the one last changed when none is given."""
    return open_plan(db, id_named(db, name)).plan


def versions(db: Database, identity: str) -> list[VersionNamed]:
    """The newest versions of a plan, the newest first."""
    return [
        VersionNamed(number=r.number, what=r.what, at=r.created_at)
        for r in plans.newest(db.connection(), identity, most=MOST_VERSIONS)
    ]


def at_version(db: Database, identity: str, number: int) -> Plan:
    """A plan as it was in one of its versions."""
    return _read(plans.revision(db.connection(), identity, number).document)


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


def put_in_group(db: Database, identity: str, *, group: str) -> PlanSummary:
    """Name the group a plan stands in, such as a display; empty takes it out."""
    with db.atomic() as tx:
        row = plans.put_in_group(tx, identity, grouped=group.strip())
    return summary(row)


def empty_trash(db: Database) -> int:
    """Delete for good what is in the trash, and meshes that no plan uses; how many plans went."""
    with db.atomic() as tx:
        gone = plans.empty_trash(tx)
        meshes.delete_unused(tx, before=now(less=FRESH))
    return gone


def unused_meshes(db: Database) -> UnusedMeshes:
    """Meshes that emptying the trash would delete too."""
    found = meshes.unused(db.connection(), before=now(less=FRESH))
    return UnusedMeshes(count=found.meshes, size_bytes=found.size_bytes)


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
