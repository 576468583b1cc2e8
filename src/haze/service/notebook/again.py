"""Do it again: a plan of an earlier day, adjusted to what has changed, and every difference."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field, model_validator

from haze.core.arrays import Array
from haze.core.errors import UnknownNameError
from haze.core.plan.base import Identity, Name, Point
from haze.core.plan.coat import SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.paint import AirbrushUsed
from haze.core.plan.piece import Copies, Piece, Room
from haze.core.plan.roles import TaskName
from haze.core.repeat.differences import Difference, differences
from haze.core.repeat.repeated import Changes, Moved, OwnWay, repeated
from haze.core.spray.calibrate import PaintThrough
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.trials import own_way
from haze.service.forms.wire import Strict
from haze.service.notebook.summary import Opened, plan_as_sprayed
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.run_sheet import sheet_of
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report
from haze.store import sessions, trials
from haze.store.connection import Database
from haze.store.trials import Whose


class DoAgainBody(Strict):
    """What is done again, and what is other this time; null leaves it as it was.

    Either a session of the notebook, as it was sprayed, or a plan as it stands. `piece_of` is a
    plan whose piece is taken.
    """

    session: Identity | None = None
    plan: Identity | None = None
    name: Name
    piece_of: Identity | None = None
    copies: Copies | None = None
    airbrush: Identity | None = None
    room: Room | None = None

    @model_validator(mode="after")
    def _names_one(self) -> DoAgainBody:
        if (self.session is None) == (self.plan is None):
            raise ValueError("either a session or a plan is done again")
        return self


class AgainFigures(BaseModel):
    """A plan in numbers: minutes [min] of hands and waits, rounds of all coats, paint [ml]."""

    hands_min: float
    waits_min: float
    rounds: int
    paint_ml: float


class DoAgainOut(BaseModel):
    """The plan as it is done this time, what differs, and what could not be done again."""

    plan: Plan
    differences: list[Difference]
    problems: list[str]
    before: AgainFigures
    after: AgainFigures


class KeepBody(Strict):
    """A plan to be kept as a new one, and why it was made."""

    plan: Plan
    what: Annotated[str, Field(min_length=1, max_length=200)] = "Done again"


def again(
    db: Database,
    beliefs: Beliefs,
    shelf: Shelf,
    body: DoAgainBody,
    opened: Opened,
    report: Report,
) -> DoAgainOut:
    """A plan done again.

    Parameters
    ----------
    db, beliefs, shelf : what there is, what is known, what is owned
    body : what is asked
    opened : a plan's piece, worked out where it was not
    report : called with the share done
    """
    report(0.0, "Reading what was done")
    before, since = _base(db, body, opened)
    new_piece = _piece(db, body, before)
    report(0.2, "Preparing the piece")
    on_before = opened(before)
    moved = None
    if new_piece is not None and new_piece.mesh != before.piece.mesh:
        on_after = opened(before.model_copy(update={"piece": new_piece, "coats": []}))
        moved = between(on_before, on_after)
    report(0.5, "Setting every coat again")
    done = repeated(
        before,
        Changes(body.name, new_piece, body.copies, _airbrush(shelf, body), body.room),
        shelf.stock,
        moved=moved,
        taught=_taught(db, since),
        own_way=_ways(db),
    )
    report(0.8, "Comparing")
    on = opened(done.plan)
    found = differences(before, done.plan, done.why)
    return DoAgainOut(
        plan=done.plan,
        differences=found,
        problems=done.problems,
        before=_figures(before, on_before),
        after=_figures(done.plan, on),
    )


def _base(db: Database, body: DoAgainBody, opened: Opened) -> tuple[Plan, str]:
    """What is done again, and until when what was learned was known then."""
    if body.session is not None:
        row = sessions.one(db.connection(), body.session)
        return plan_as_sprayed(db, row, opened), row.ended_at
    assert body.plan is not None
    view = plans.open_plan(db, body.plan)
    return view.plan, view.updated_at


def _piece(db: Database, body: DoAgainBody, before: Plan) -> Piece | None:
    if body.piece_of is None:
        return None
    piece = plans.open_plan(db, body.piece_of).plan.piece
    return None if piece == before.piece else piece


def _airbrush(shelf: Shelf, body: DoAgainBody) -> AirbrushUsed | None:
    if body.airbrush is None:
        return None
    for held in shelf.airbrushes:
        if held.id == body.airbrush:
            return held
    raise UnknownNameError("This airbrush is not on the shelf.", field="airbrush")


def between(old: OnPiece, new: OnPiece) -> Moved:
    """Where a point on one piece lies on another: at the same share of its breadth and height.

    Parameters
    ----------
    old, new : the pieces; points lie in the axes and units of each mesh file
    """
    (low, size), (other_low, other_size) = (_box(one) for one in (old, new))

    def moved(at: Point) -> Point:
        here = old.piece.mesh.from_file(np.array([at], dtype=np.float64))[0]
        there = other_low + (here - low) / size * other_size
        x, y, z = new.piece.mesh.to_file(there[None, :])[0]
        return (float(x), float(y), float(z))

    return moved


def _box(on: OnPiece) -> tuple[Array, Array]:
    points = on.piece.mesh.vertices.astype(np.float64)
    low, high = points.min(axis=0), points.max(axis=0)
    return low, np.maximum(high - low, 1e-9)


def _taught(db: Database, since: str) -> set[PaintThrough]:
    """Paints and needles of which a trial was logged, or taken back, after a time."""
    return {
        PaintThrough(r.kind, r.paint, r.airbrush, r.needle_mm)  # type: ignore[arg-type]
        for r in trials.every(db.connection())
        if r.at > since or (r.taken_back_at or "") > since
    }


def _ways(db: Database) -> OwnWay:
    def own(pair: PaintThrough, task: TaskName) -> SprayAt | None:
        whose = Whose(pair.paint, pair.airbrush, pair.needle_mm, task)
        return own_way(db.connection(), whose)

    return own


def _figures(plan: Plan, on: OnPiece) -> AgainFigures:
    sheet = sheet_of(plan, on)
    return AgainFigures(
        hands_min=sheet.hands_min,
        waits_min=sheet.waits_min,
        rounds=sum(c.passes for c in plan.sprayed if not c.off),
        paint_ml=sum(step.paint_ml for step in sheet.steps),
    )
