"""The run sheet of a plan on its piece."""

from __future__ import annotations

from dataclasses import asdict

from pydantic import BaseModel

from haze.core.day.runsheet import Kind, Step, run_sheet
from haze.core.plan.document import Plan
from haze.service.cups.cups import need_of
from haze.service.piece.onpiece import OnPiece


class StepView(BaseModel):
    """One step of the day; `beside` passes while the hands are free."""

    coat: str
    kind: Kind
    text: str
    start_s: float
    seconds: float
    beside: bool
    station: str | None
    passes: int | None


def run_steps(plan: Plan, on: OnPiece) -> list[Step]:
    """All steps of a plan in order, with times from the start."""
    return run_sheet(
        plan,
        sprayed={coat.id: need_of(plan, coat, on) for coat in plan.sprayed},
        parts={part.id: part.name for part in on.piece.parts_in(plan)},
    )


def step_views(steps: list[Step]) -> list[StepView]:
    """The steps as the screens show them."""
    return [StepView(**asdict(step)) for step in steps]
