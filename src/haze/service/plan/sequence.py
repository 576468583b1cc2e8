"""Whole sequences by the schools, and what each costs on the piece."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from haze.core.drafting.sequence import Answers, What, start_sequence
from haze.core.errors import CancelledError
from haze.core.plan.base import Hex
from haze.core.plan.document import Plan
from haze.core.plan.schools import Schools
from haze.service.jobs import Report
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.whole import worked_out
from haze.service.shelf.shelf import Shelf
from haze.service.wire import PlanBody


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
    too_dark: float
    too_light: float


class StartedOut(BaseModel):
    """A whole sequence, what it costs, and what the shelf could not give."""

    plan: Plan
    cost: PlanCost
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
    laid = start_sequence(plan, answers, shelf.stock)
    tell(0.5, "Seeing what it does on the piece")
    return StartedOut(plan=laid.plan, cost=plan_cost(laid.plan, on), notes=list(laid.notes))


def plan_cost(plan: Plan, on: OnPiece) -> PlanCost:
    """Steps, cups, minutes of hands, paint and findings of a plan."""
    work = worked_out(plan, on)
    return PlanCost(
        steps=len(plan.done),
        cups=sum(not c.off for c in plan.sprayed),
        minutes=work.totals.hands_s / 60,
        ml=sum(c.cup.mix_ml for c in work.coats),
        findings=len(look_over(plan, on).findings),
        too_dark=work.off_plan.too_dark if work.off_plan else 0.0,
        too_light=work.off_plan.too_light if work.off_plan else 0.0,
    )
