"""Whole sequences by the schools, and what each costs on the piece."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.drafting.sequence import Answers, Started, What, start_sequence
from haze.core.errors import CancelledError
from haze.core.film.difference import oklab_of
from haze.core.film.gamut import into_gamut, rgb_of_oklch
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.base import Hex
from haze.core.plan.document import Plan
from haze.core.plan.schools import Schools
from haze.service.jobs import Report
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.landing import Landing, best_mix, landing
from haze.service.plan.places import places_of
from haze.service.plan.whole import worked_out
from haze.service.shelf.shelf import Shelf
from haze.service.wire import PlanBody

TURNS = 2  # how often a sequence is laid and looked at
NEAR = 2.0  # ΔE00 of the middle that is near enough


class StartBody(PlanBody):
    """A plan to fill: its piece, lights and schools stay, its coats are replaced."""

    what: What
    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    schools: Schools | None = None


class PlanCost(BaseModel):
    """What a plan takes and leaves, for comparing."""

    steps: int
    cups: int
    minutes: float
    ml: float
    findings: int


class StartedOut(BaseModel):
    """A whole sequence, what it costs, and what the shelf could not give."""

    plan: Plan
    cost: PlanCost
    asked: Hex
    lands: Landing
    notes: list[str]


def started(body: StartBody, on: OnPiece, shelf: Shelf, report: Report) -> StartedOut:
    """A complete sequence by the chosen schools, and what it costs."""

    def tell(done: float, doing: str) -> None:
        if not report(done, doing):
            raise CancelledError("Stopped; the plan is as it was.")

    plan = body.plan
    tell(0.1, "Choosing paints and settings")
    if body.schools is not None:
        plan = plan.model_copy(update={"schools": body.schools})
    answers = Answers(body.what, tuple(body.colours))
    asked = linear_of_hex(body.colours[0], field="colours")
    places = places_of(plan, on)
    nearest = best_mix(asked, shelf.stock)
    best: tuple[Started, Landing] | None = None
    toward = asked
    for turn in range(TURNS):
        begun = 0.1 + 0.8 * turn / TURNS
        laid = start_sequence(
            plan,
            answers,
            shelf.stock,
            places,
            toward=toward,
            progress=lambda done, b=begun: report(b + 0.25 * done, "Choosing paints and films"),  # type: ignore[misc]
        )
        tell(begun + 0.3, "Seeing where it lands on the piece")
        lands = landing(laid.plan, on, asked, nearest)
        if best is None or lands.score < best[1].score:
            best = (laid, lands)
        if lands.delta_e < NEAR:
            break
        # what the piece does to it is taken off the colour aimed at
        away = oklab_of(asked) - oklab_of(linear_of_hex(best[1].middle))
        toward = np.clip(into_gamut(_rgb(oklab_of(toward) + away)[:, None])[:, 0], 0, 1)
    assert best is not None
    laid, lands = best
    return StartedOut(
        plan=laid.plan,
        cost=plan_cost(laid.plan, on),
        asked=body.colours[0],
        lands=lands,
        notes=[*laid.notes, *lands.notes],
    )


def plan_cost(plan: Plan, on: OnPiece) -> PlanCost:
    """Steps, cups, minutes of hands, paint and findings of a plan."""
    work = worked_out(plan, on)
    return PlanCost(
        steps=len(plan.done),
        cups=sum(not c.off for c in plan.sprayed),
        minutes=work.totals.hands_s / 60,
        ml=sum(c.cup.mix_ml for c in work.coats),
        findings=len(look_over(plan, on).findings),
    )


def _rgb(oklab: Array) -> Array:
    """(3,) float: linear sRGB of an OKLab colour, perhaps out of gamut."""
    chroma, hue = float(np.hypot(*oklab[1:])), float(np.degrees(np.arctan2(oklab[2], oklab[1])))
    return rgb_of_oklch(np.array([oklab[0], chroma, hue % 360.0]))
