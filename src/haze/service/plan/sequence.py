"""Whole sequences by the schools, and what each costs on the piece."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.drafting.recipes import find_ahead
from haze.core.drafting.sequence import Answers, What, start_sequence
from haze.core.drafting.sites import MIDDLE
from haze.core.drafting.stock import Stock
from haze.core.drafting.targets import wanted_colours
from haze.core.errors import CancelledError, HazeError
from haze.core.film.srgb import linear_of_hex, to_hex
from haze.core.plan.base import Hex
from haze.core.plan.document import Along, Plan, Silenced
from haze.core.plan.schools import Schools
from haze.core.rules.colour import CHALKY, COLOUR_TURNS, STEP_TOO_HIGH, WHITE_OVER_BLACK
from haze.core.rules.findings import BY_ID
from haze.core.rules.shows import HIGHLIGHT_SINKS, NOBODY_SEES
from haze.service.forms.sentences import listed
from haze.service.forms.wire import PlanBody
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.landing import Landing, best_mix, landing
from haze.service.plan.places import sites_of
from haze.service.plan.whole import worked_out
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report

MOST_TIDYING = 5  # looks at a plan until nothing more is to be mended
BRIDGED = {STEP_TOO_HIGH.id, WHITE_OVER_BLACK.id}
# what no choice among the paints that are there would mend: it was searched for the best
SHELF_SETS = BRIDGED | {CHALKY.id, COLOUR_TURNS.id, HIGHLIGHT_SINKS.id}
BEST_THERE_IS = "the nearest this shelf comes"


class StartBody(PlanBody):
    """A plan to fill: its piece, lights and schools stay, its coats are replaced.

    The colours are main, shade and accent; of a gradient those of its start and end, or of start,
    middle and end, `along` the light or another way. A wash and wear come only when asked for.
    """

    what: What
    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    gradient: bool = False
    along: Along = "light"
    wash: bool = False
    worn: bool = False
    schools: Schools | None = None


class PlanCost(BaseModel):
    """What a plan takes and leaves, for comparing."""

    steps: int
    cups: int
    rounds: int
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
    answers = Answers(
        body.what,
        tuple(body.colours),
        gradient=body.gradient,
        along=body.along,
        wash=body.wash,
        worn=body.worn,
    )
    stock = shelf.stock
    along = answers.asked.along
    sites = sites_of(plan, on, panels=body.what == "vehicle", along=along)
    laid = start_sequence(
        plan,
        answers,
        stock,
        sites,
        progress=lambda done: report(0.1 + 0.7 * done, "Choosing paints and films"),
    )
    tell(0.8, "Seeing where it lands on the piece")
    done, left_out = tidied(laid.plan, on, stock)
    wanted = wanted_colours(np.stack([linear_of_hex(c) for c in answers.asked.colours]))
    lands = landing(done, on, wanted, best_mix(wanted[MIDDLE], stock))
    return StartedOut(
        plan=done,
        cost=plan_cost(done, on),
        asked=to_hex(wanted[MIDDLE]),
        lands=lands,
        notes=[*laid.notes, *left_out, *lands.notes],
    )


def tidied(plan: Plan, on: OnPiece, stock: Stock) -> tuple[Plan, list[str]]:
    """The plan as its own rules would have it, and notes on what was done for that.

    Coats that would not show are taken out, and a coat goes between two that lie too far apart.
    What the shelf can not do better is said in a note, once, and dismissed on its step.
    """
    hidden: list[str] = []
    for _ in range(MOST_TIDYING):
        found = look_over(plan, on).findings
        unseen = {f.step for f in found if f.rule == NOBODY_SEES.id}
        hidden += [step.name for step in plan.coats if step.id in unseen]
        if unseen:
            coats = [step for step in plan.coats if step.id not in unseen]
            plan = plan.model_copy(update={"coats": coats})
            continue
        high = next((f for f in found if f.rule in BRIDGED), None)
        if high is None:
            break
        try:
            plan = BY_ID[high.rule].fix(plan, high.step, stock)
        except HazeError:
            break
    notes = []
    if hidden:
        verb = "is" if len(hidden) == 1 else "are"
        notes.append(f"{listed(hidden)} would not show under the colour and {verb} left out.")
    best = [f for f in look_over(plan, on).findings if f.rule in SHELF_SETS]
    known = [Silenced(rule=f.rule, step=f.step, note=BEST_THERE_IS) for f in best]
    notes += [f"The nearest this shelf comes: {f.what}" for f in best]
    return plan.model_copy(update={"silenced": [*plan.silenced, *known]}), notes


def made_ready(plan: Plan, on: OnPiece, shelf: Shelf, report: Report) -> None:
    """Work out what every sequence for a plan will need, before one is asked for."""
    sites_of(plan, on, panels=False)
    find_ahead(plan, shelf.stock, progress=lambda done: report(done, "Choosing settings"))


def plan_cost(plan: Plan, on: OnPiece) -> PlanCost:
    """Steps, cups, minutes of hands, paint and findings of a plan."""
    work = worked_out(plan, on)
    return PlanCost(
        steps=len(plan.done),
        cups=sum(not c.off for c in plan.sprayed),
        rounds=sum(c.most_passes for c in plan.sprayed if not c.off),
        minutes=work.totals.hands_s / 60,
        ml=sum(c.cup.mix_ml for c in work.coats),
        findings=len(look_over(plan, on).findings),
    )
