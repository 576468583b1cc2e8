"""Whole sequences by the schools, side by side on the piece."""

from __future__ import annotations

import io
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.errors import CancelledError
from haze.core.light.picture import picture
from haze.core.plan.document import Hex, Plan, Schools
from haze.core.plan.starting import Answers, What, start_sequence
from haze.service.findings import look_over, stock_of
from haze.service.jobs import Report
from haze.service.painter import Look, Painter
from haze.service.shelf import Shelf
from haze.service.spray_io import Strict
from haze.service.workings import workings

Bytes = NDArray[np.uint8]
PICTURE_WIDTH, PICTURE_HEIGHT = 300, 340


class StartBody(Strict):
    """A plan to fill: its piece, lights and schools stay, its coats are replaced."""

    plan: Plan
    what: What
    colours: Annotated[list[Hex], Field(min_length=1, max_length=3)]
    schools: Schools | None = None


class PictureBody(Strict):
    plan: Plan
    look: Look = "as_painted"
    azimuth_deg: float = Field(default=20, ge=-360, le=360)
    elevation_deg: float = Field(default=12, ge=-90, le=90)


class PlanCost(BaseModel):
    """What a plan takes and leaves, for comparing."""

    steps: int
    cups: int
    passes: int
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


def started(body: StartBody, painter: Painter, shelf: Shelf, report: Report) -> StartedOut:
    """A complete sequence by the chosen schools, and what it costs."""

    def tell(done: float, doing: str) -> None:
        if not report(done, doing):
            raise CancelledError("Stopped; the plan is as it was.")

    plan = body.plan
    tell(0.1, "Choosing paints and settings")
    if body.schools is not None:
        plan = plan.model_copy(update={"schools": body.schools})
    answers = Answers(body.what, tuple(body.colours))
    laid = start_sequence(plan, answers, stock_of(shelf))
    tell(0.5, "Seeing what it does on the piece")
    return StartedOut(plan=laid.plan, cost=plan_cost(laid.plan, painter), notes=list(laid.notes))


def plan_cost(plan: Plan, painter: Painter) -> PlanCost:
    """Steps, cups, passes, minutes, paint and findings of a plan."""
    work = workings(plan, painter)
    return PlanCost(
        steps=len(plan.done),
        cups=sum(not c.off for c in plan.sprayed),
        passes=sum(c.passes for c in plan.sprayed if not c.off),
        minutes=work.total_s / 60,
        ml=sum(c.cup.mix_ml for c in work.coats),
        findings=len(look_over(plan, painter).findings),
        too_dark=work.off_plan.too_dark,
        too_light=work.off_plan.too_light,
    )


def png_of(
    painter: Painter, colours: Bytes, *, azimuth: float = 20, elevation: float = 12
) -> bytes:
    """PNG of the piece in some colours, (n, 3) uint8 a vertex."""
    image = picture(
        painter.piece.mesh,
        colours,
        width=PICTURE_WIDTH,
        height=PICTURE_HEIGHT,
        azimuth_deg=azimuth,
        elevation_deg=elevation,
    )
    out = io.BytesIO()
    Image.fromarray(image).save(out, format="PNG")
    return out.getvalue()


def plan_picture(body: PictureBody, painter: Painter) -> bytes:
    """PNG of a plan on its piece."""
    colours = painter.colours(body.plan, after=len(body.plan.coats), look=body.look)
    return png_of(painter, colours, azimuth=body.azimuth_deg, elevation=body.elevation_deg)
