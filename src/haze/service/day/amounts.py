"""What one plan or all of today take from the shelf, what is left, and what has to be bought."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from math import floor
from typing import Annotated, TypeVar

from pydantic import BaseModel, Field

from haze.core.day.amounts import Bottle, Needed, Role, needed, premix
from haze.core.plan.base import Identity
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at
from haze.service.cups.cups import need_of
from haze.service.forms.wire import PlanBody, Strict
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.shelf.shelf import step
from haze.store import shelf
from haze.store.connection import Database
from haze.store.shelf import PaintRow, ThinnerRow

MOST_OTHERS = 50
SPARE_ML = 0.05  # less is not worth a word


class AmountsBody(PlanBody):
    """A plan, and others of the same day by their ids."""

    others: Annotated[list[Identity], Field(max_length=MOST_OTHERS)] = Field(default=[])


class AmountView(BaseModel):
    """One bottle: what is needed, what is in it, what is left then; null where nobody counts.

    `short_ml` is what is missing, 0 for nothing.
    """

    id: str
    what: str
    role: Role
    colour: str | None
    ml: float
    cups: int
    left_ml: float | None
    after_ml: float | None
    short_ml: float


class AmountsOut(BaseModel):
    """All bottles, and a sentence for each that runs out."""

    rows: list[AmountView]
    runs_out: list[str]


class UsedUp(Strict):
    """What a session took from a bottle."""

    id: Identity
    ml: float = Field(ge=0, le=10_000)


class UseBody(Strict):
    """What a session took, bottle by bottle, and what it was."""

    what: Annotated[str, Field(min_length=1, max_length=120)]
    used: Annotated[list[UsedUp], Field(min_length=1, max_length=500)]


class UsedOut(BaseModel):
    """How many bottles were counted down; the others are not counted."""

    counted: int


class PremixBody(PlanBody):
    """A bottle of a coat's mix."""

    step: Identity
    ml: float = Field(ge=1, le=1000)
    thinned: bool = False


class PremixRow(BaseModel):
    what: str
    ml: float


class PremixOut(BaseModel):
    """What goes into the bottle, in order, and what its label says."""

    name: str
    rows: list[PremixRow]
    words: list[str]


def amounts(db: Database, on: Callable[[Plan], OnPiece], body: AmountsBody) -> AmountsOut:
    """What a plan, with others of the day, takes from each bottle.

    Parameters
    ----------
    db : holds the shelf and the other plans
    on : gives a plan's piece; `MissingError` when it is not worked out
    body : which plans
    """
    day = [body.plan, *(plans.open_plan(db, one).plan for one in body.others)]
    found = needed([need_of(p, c, on(p)).amounts for p in day for c in p.sprayed if not c.off])
    tx = db.connection()
    left = {row.id: row.ml_left for row in shelf.paints(tx)}
    left |= {row.id: row.ml_left for row in shelf.thinners(tx)}
    rows = [_row(one, left.get(one.id)) for one in found]
    copies = body.plan.piece.copies if len(day) == 1 else 1
    return AmountsOut(
        rows=rows,
        runs_out=[_runs_out(row, copies, body.plan.piece.name) for row in rows if row.short_ml],
    )


def _row(one: Needed, left_ml: float | None) -> AmountView:
    short = 0.0 if left_ml is None else max(one.ml - left_ml, 0.0)
    return AmountView(
        id=one.id,
        what=one.what,
        role=one.role,
        colour=one.colour,
        ml=one.ml,
        cups=one.cups,
        left_ml=left_ml,
        after_ml=None if left_ml is None else max(left_ml - one.ml, 0.0),
        short_ml=short if short > SPARE_ML else 0.0,
    )


def _runs_out(row: AmountView, copies: int, piece: str) -> str:
    more = f"{row.short_ml:.1f} ml more are needed."
    if copies == 1 or row.left_ml is None:
        return f"{row.what} runs out: {more}"
    lasts = floor(copies * row.left_ml / row.ml)
    return f"{row.what} lasts for {lasts} of {copies} × {piece}. {more}"


def use_up(db: Database, body: UseBody) -> UsedOut:
    """Count what a session took off the bottles that are counted; one change to undo."""
    took = {one.id: one.ml for one in body.used}
    counted = 0
    with step(db, f"Used up: {body.what}") as tx:
        for paint in shelf.paints(tx):
            if paint.id in took and paint.ml_left is not None:
                counted += 1
                shelf.put_paint(tx, _less(paint, took[paint.id]))
        for thinner in shelf.thinners(tx):
            if thinner.id in took and thinner.ml_left is not None:
                counted += 1
                shelf.put_thinner(tx, _less(thinner, took[thinner.id]))
    return UsedOut(counted=counted)


R = TypeVar("R", PaintRow, ThinnerRow)


def _less(row: R, ml: float) -> R:
    """A bottle after so much was taken from it; one nobody counts stays as it is."""
    if row.ml_left is None:
        return row
    return replace(row, ml_left=round(max(row.ml_left - ml, 0.0), 3))


def premix_of(body: PremixBody) -> PremixOut:
    """A bottle of a coat's mix, thinned or not, and its label."""
    _, coat = coat_at(body.plan, body.step)
    parts = coat.spray.thinner_parts
    rows = premix(
        [(Bottle(p.name, p.drop_ul), drops) for p, drops in coat.mix.parts],
        thinner=Bottle(coat.thinner.name, coat.thinner.drop_ul) if body.thinned else None,
        thinner_parts=parts,
        ml=body.ml,
    )
    then = (
        f"thinned {parts:g} : 1 with {coat.thinner.name}, ready to spray"
        if body.thinned
        else f"to spray: thin {parts:g} : 1 with {coat.thinner.name}"
    )
    drops = " + ".join(f"{count} {p.name}" for p, count in coat.mix.parts)
    mixed = coat.mix.name if len(coat.mix.parts) == 1 else f"{drops} (drops)"
    words = [mixed, then, f"{body.ml:g} ml · {body.plan.name}"]
    return PremixOut(
        name=coat.mix.name, rows=[PremixRow(what=w, ml=round(ml, 2)) for w, ml in rows], words=words
    )
