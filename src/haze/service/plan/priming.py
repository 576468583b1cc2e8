"""Three ways to prime, compared on the piece in today's room."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import BaseModel

from haze.core.drafting.sequence import start_ground
from haze.core.errors import CancelledError
from haze.core.film.looks import value_bytes
from haze.core.film.skin import seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.onpiece import priming
from haze.core.onpiece.priming import Primed
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.edits import index_of
from haze.service.cups.cups import needs_of
from haze.service.forms.wire import PlanBody
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of
from haze.service.plan.pictures import HEIGHT, WIDTH
from haze.service.plan.run_sheet import run_steps, totals_of
from haze.service.shelf.shelf import Shelf
from haze.service.work.jobs import Report


class PrimingBody(PlanBody):
    """A plan whose piece is primed."""


class PrimingPictureBody(PrimingBody):
    way: priming.Way


class PrimingWay(BaseModel):
    """One way to prime this piece today."""

    way: priming.Way
    title: str
    possible: bool
    whitest: float
    darkest: float
    contrast: float
    grain: float
    smooth: str
    minutes: float
    where: str
    limits: list[str]
    caution: str | None


class PrimingOut(BaseModel):
    """The three ways; `assumed` says which coats were taken when the plan has none to compare."""

    ways: list[PrimingWay]
    assumed: str | None


def _primed_plan(plan: Plan, shelf: Shelf) -> tuple[Plan, str | None]:
    """The plan, or when it has no ground and light its schools' own, and words for that."""
    if priming.tones(plan):
        return plan, None
    schools = plan.schools
    if schools.ground == "hue_ground":
        schools = schools.model_copy(update={"ground": "two_tone"})
    stood_in = start_ground(plan.model_copy(update={"schools": schools}), shelf.stock)
    *first, last = (c.name for c in stood_in.sprayed)
    names = f"{', '.join(first)} and {last}"
    return stood_in, f"This plan has no light coat over a ground; compared are {names}."


def _both(plan: Plan) -> tuple[Coat, Coat]:
    found = priming.tones(plan)
    assert found is not None, "a primed plan has both"
    return found


def _minutes(plan: Plan, steps: int, on: OnPiece) -> float:
    """Minutes the first steps of a plan take."""
    short = plan.model_copy(update={"coats": plan.coats[:steps]})
    needs = needs_of(short, on)
    totals = totals_of(run_steps(short, on, needs), needs)
    return (totals.hands_s + totals.waits_s) / 60


def _airbrushed(plan: Plan, on: OnPiece) -> tuple[Primed, float]:
    last = plan.light_coats()[-1]
    coat = plan.coats[last]
    assert coat.kind == "spray"
    outcome = on.outcome(plan, coat)
    grain = priming.spot_grain(
        on.below(plan, last).inside,
        coat.optics,
        on.step_film(plan, last),
        droplet_um=float(outcome.droplet_um),
        dry_share=float(outcome.dry_film_um) / max(float(outcome.wet_film_um), 1e-6),
    )
    rgb = seen(on.below(plan, last + 1))
    return Primed(rgb, grain), _minutes(plan, last + 1, on)


def _canned(plan: Plan, on: OnPiece) -> tuple[Primed, float]:
    dark, light = _both(plan)
    primed = priming.canned(
        dark.paint,
        light.paint,
        table=on.piece.table,
        surface=plan.piece.surface,
        key=plan.key_light,
    )
    return primed, priming.can_minutes(plan.piece.copies)


def _dry_brushed(plan: Plan, on: OnPiece) -> tuple[Primed, float]:
    dark, light = _both(plan)
    first = index_of(plan, dark.id) + 1
    primed = priming.dry_brushed(
        on.below(plan, first), light.paint, field=on.fields.hand("dry_brush")
    )
    ground_min = _minutes(plan, first, on)
    return primed, priming.dry_brush_minutes(ground_min, copies=plan.piece.copies)


WAYS: dict[priming.Way, Callable[[Plan, OnPiece], tuple[Primed, float]]] = {
    "airbrush": _airbrushed,
    "can": _canned,
    "dry_brush": _dry_brushed,
}


def compare_priming(body: PrimingBody, on: OnPiece, shelf: Shelf, report: Report) -> PrimingOut:
    """Airbrush, can and dry brush for this piece, in today's room."""
    plan, assumed = _primed_plan(body.plan, shelf)
    ways = []
    for n, (way, make) in enumerate(WAYS.items()):
        words = priming.WORDS[way]
        if not report(n / len(WAYS), f"Trying it: {words.title.lower()}"):
            raise CancelledError("Stopped.")
        primed, minutes = make(plan, on)
        counted = on.piece.counted
        found = priming.values_of(
            lightness_of_rgb(primed.rgb)[counted],
            grain=primed.grain[counted],
            area=on.piece.mesh.vertex_area[counted],
        )
        limits = priming.can_limits(plan.room) if way == "can" else []
        ways.append(
            PrimingWay(
                way=way,
                title=words.title,
                possible=not limits,
                whitest=found.light,
                darkest=found.dark,
                contrast=found.contrast,
                grain=found.grain,
                smooth=priming.smooth_words(found.grain),
                minutes=minutes,
                where=words.where,
                limits=limits,
                caution=words.caution,
            )
        )
    return PrimingOut(ways=ways, assumed=assumed)


def priming_picture(body: PrimingPictureBody, on: OnPiece, shelf: Shelf) -> bytes:
    """PNG of the value map a way leaves."""
    plan, _ = _primed_plan(body.plan, shelf)
    primed, _ = WAYS[body.way](plan, on)
    return png_of(on.piece.mesh, value_bytes(primed.rgb), width=WIDTH, height=HEIGHT)
