"""The run sheet of a plan on its piece, for the screens and for programs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import BaseModel

from haze.core.day.amounts import MOST_COUNTED, Poured
from haze.core.day.hands import round_counts
from haze.core.day.runsheet import CoatNeeds, Step, run_sheet
from haze.core.day.totals import (
    DayTotals,
    day_totals,
    range_words,
    totals_words,
    waits_words,
)
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.service.cups.cups import needs_of
from haze.service.piece.onpiece import OnPiece


class TotalsView(BaseModel):
    """Hands, waits at the bench and all in all [s]; nights lie between the sittings."""

    hands_s: float
    waits_s: float
    elapsed_s: float
    sittings: int
    nights: int
    hands: str
    waits: str


def run_steps(plan: Plan, on: OnPiece, needs: Mapping[str, CoatNeeds]) -> list[Step]:
    """All steps of a plan in order, with times from the start; `needs` are those of its coats."""
    return run_sheet(
        plan,
        sprayed=needs,
        parts={part.id: part.name for part in on.piece.parts_in(plan)},
        areas_cm2=hand_areas_cm2(plan, on),
    )


def hand_areas_cm2(plan: Plan, on: OnPiece) -> dict[str, float]:
    """Surface each step by hand is done on, of one copy, by its id."""
    return {s.id: _area_cm2(plan, s, on) for s in plan.coats if s.kind == "hand"}


def _area_cm2(plan: Plan, step: HandStep, on: OnPiece) -> float:
    """Surface a step by hand is done on, of one copy."""
    whole = on.piece.mesh.area_cm2(plan.piece.height_mm)
    names = [part.id for part in on.piece.parts_in(plan)]
    if step.part not in names:
        return whole
    own = on.piece.part == names.index(step.part)
    area = on.piece.mesh.vertex_area
    return whole * float(area[own].sum() / area.sum())


def totals_of(steps: Sequence[Step], needs: Mapping[str, CoatNeeds]) -> DayTotals:
    """The sums of a run sheet; `needs` are those its steps were laid with."""
    return day_totals(steps, {coat: need.alike for coat, need in needs.items()})


def totals_view(totals: DayTotals) -> TotalsView:
    """The sums of a run sheet as the screens show them."""
    return TotalsView(
        hands_s=totals.hands_s,
        waits_s=totals.waits_s,
        elapsed_s=totals.elapsed_s,
        sittings=totals.sittings,
        nights=totals.nights,
        hands=range_words(totals.hands_low_s, totals.hands_high_s),
        waits=waits_words(totals),
    )


class PouredOut(BaseModel):
    """One thing in the cup: drops as far as one counts them, else ml."""

    what: str
    drops: int | None
    ml: float | None


class SheetStep(BaseModel):
    """A step of the plan as the hands meet it; minutes are rounded to half ones."""

    name: str
    kind: Literal["spray", "hand", "rest"]
    coat: str
    sides: int
    rounds: int
    copies: int
    paint_ml: float
    drops: int | None
    ml: float | None
    cup: list[PouredOut]
    hands_min: float
    wait_min: float
    words: str


class SheetOut(BaseModel):
    """A run sheet in sum and step by step; `elapsed_min` has the nights in it."""

    plan: str
    steps: list[SheetStep]
    hands_min: float
    hands_min_low: float
    hands_min_high: float
    waits_min: float
    waits_min_low: float
    waits_min_high: float
    elapsed_min: float
    words: str


def sheet_of(plan: Plan, on: OnPiece) -> SheetOut:
    """The run sheet of a plan for a program."""
    needs = needs_of(plan, on)
    steps = run_steps(plan, on, needs)
    totals = totals_of(steps, needs)
    return SheetOut(
        plan=plan.name,
        steps=[_sheet_step(plan, one, steps, needs.get(one.id)) for one in plan.done],
        hands_min=_minutes(totals.hands_s),
        hands_min_low=_minutes(totals.hands_low_s),
        hands_min_high=_minutes(totals.hands_high_s),
        waits_min=_minutes(totals.waits_s),
        waits_min_low=_minutes(totals.waits_low_s),
        waits_min_high=_minutes(totals.waits_high_s),
        elapsed_min=_minutes(totals.elapsed_s),
        words=totals_words(totals),
    )


def _sheet_step(
    plan: Plan, one: Coat | HandStep, steps: Sequence[Step], need: CoatNeeds | None
) -> SheetStep:
    mine = [s for s in steps if s.coat == one.id]
    counts = round_counts(one) if one.kind == "spray" else []
    poured = need.amounts.cup if need else []
    drops, ml = _filled(poured)
    hands = sum(s.seconds - s.idle_s for s in mine if not s.beside)
    wait = sum(s.seconds if s.beside else s.idle_s for s in mine)
    rest = one.kind == "hand" and one.role == "rest"
    return SheetStep(
        name=one.name,
        kind="rest" if rest else one.kind,
        coat=one.id,
        sides=len(counts),
        rounds=max(counts, default=0),
        copies=plan.piece.copies,
        paint_ml=round(sum(p.ml for p in poured if p.role == "paint"), 3),
        drops=drops,
        ml=ml,
        cup=[_poured(p) for p in poured],
        hands_min=_minutes(hands),
        wait_min=_minutes(wait),
        words=" ".join(s.text for s in mine),
    )


def _filled(cup: Sequence[Poured]) -> tuple[int | None, float | None]:
    """What a cup holds, in drops as far as one counts them, else in ml."""
    drops = sum(p.drops for p in cup)
    if not cup:
        return None, None
    return (drops, None) if drops <= MOST_COUNTED else (None, round(sum(p.ml for p in cup), 2))


def _poured(poured: Poured) -> PouredOut:
    return PouredOut(
        what=poured.what,
        drops=poured.drops if poured.counted else None,
        ml=None if poured.counted else round(poured.ml, 2),
    )


def _minutes(seconds: float) -> float:
    return round(seconds / 30) / 2
