"""Three ways to prime, compared on the piece in today's room."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from haze.core.errors import CancelledError
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.film.stack import lightness_of_rgb, value_bytes
from haze.core.light.stations import Station, deposit
from haze.core.plan import priming
from haze.core.plan.document import Coat, Plan
from haze.core.plan.fixes import is_opaque
from haze.core.plan.painting import coat_optics, optics_of
from haze.core.plan.roles import HANDS
from haze.core.plan.starting import start_ground
from haze.service.compare import png_of
from haze.service.findings import stock_of
from haze.service.jobs import Report
from haze.service.painter import Painter
from haze.service.shelf import Shelf
from haze.service.spray_io import Strict
from haze.service.workings import workings

Floats = NDArray[np.float32]
Bytes = NDArray[np.uint8]


class PrimingBody(Strict):
    plan: Plan


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


@dataclass(frozen=True, slots=True)
class _Primed:
    """What a way leaves on every vertex, and how long it takes."""

    lightness: Floats
    colours: Bytes
    grain: Floats
    minutes: float


def _tones(plan: Plan) -> tuple[Coat, Coat] | None:
    """The plan's dark ground, and the lightest of its opaque light coats."""
    dark = next((c for c in plan.sprayed if c.task == "prime" and not c.off), None)
    light = [c for c in plan.sprayed if c.task == "light" and not c.off and is_opaque(c.paint)]
    return (dark, light[-1]) if dark and light else None


def _primed_plan(plan: Plan, shelf: Shelf) -> tuple[Plan, str | None]:
    """The plan, or when it has no ground and light its schools' own, and words for that."""
    if _tones(plan):
        return plan, None
    schools = plan.schools
    if schools.ground == "hue_ground":
        schools = schools.model_copy(update={"ground": "two_tone"})
    stood_in = start_ground(plan.model_copy(update={"schools": schools}), stock_of(shelf))
    *first, last = (c.name for c in stood_in.sprayed)
    names = f"{', '.join(first)} and {last}"
    return stood_in, f"This plan has no light coat over a ground; compared are {names}."


def _both(plan: Plan) -> tuple[Coat, Coat]:
    found = _tones(plan)
    assert found is not None, "a primed plan has both"
    return found


def _airbrushed(plan: Plan, painter: Painter) -> _Primed:
    lights = (c.kind == "spray" and c.task == "light" and not c.off for c in plan.coats)
    last = max(i for i, is_light in enumerate(lights) if is_light)
    short = plan.model_copy(update={"coats": plan.coats[: last + 1]})
    layers = painter.layers(plan, last + 1)
    rgb = seen(layers[-1][1])
    coat = plan.coats[last]
    assert coat.kind == "spray"
    outcome = painter.outcome(plan, coat)
    below = layers[last - 1][1] if last else painter.ground(plan)
    share = float(outcome.dry_film_um) / max(float(outcome.wet_film_um), 1e-6)
    grain = priming.spot_grain(
        below.inside,
        coat_optics(coat),
        layers[last][0],
        droplet_um=float(outcome.droplet_um),
        dry_share=share,
    )
    minutes = workings(short, painter).total_s / 60
    return _Primed(
        lightness=lightness_of_rgb(rgb), colours=value_bytes(rgb), grain=grain, minutes=minutes
    )


def _canned(plan: Plan, painter: Painter) -> _Primed:
    """Dark from all round, then white from above, as a can lays it."""
    dark, light = _both(plan)
    table, n = painter.piece.table, len(painter.piece.mesh.vertices)
    round_about = [
        Station(float(a), e, priming.CAN_SWEEP_DEG, 1.0)
        for a, e in ((0, 20), (90, 20), (180, 20), (270, 20), (0, -40), (180, -40))
    ]
    dark_um = sum((deposit(table, s) for s in round_about), np.zeros(n, dtype=np.float32))
    dark_um = np.asarray(dark_um * np.float32(priming.CAN_UM), dtype=np.float32)
    skin = coated(bare_skin(plan.piece.surface, n), optics_of(dark.paint), dark_um)
    key = plan.key_light
    above = Station(key.azimuth_deg, max(key.elevation_deg, 60.0), priming.CAN_SWEEP_DEG, 1.0)
    white_um = deposit(table, above) * np.float32(2 * priming.CAN_UM)
    splat = priming.CAN_DROPLET_UM * priming.CAN_DRY_SHARE / (1.5 * priming.CAN_SPLAT**2)
    grain = priming.spot_grain(
        skin.inside,
        optics_of(light.paint),
        white_um,
        droplet_um=priming.CAN_DROPLET_UM,
        dry_share=priming.CAN_DRY_SHARE,
    )
    rgb = seen(coated(skin, optics_of(light.paint), white_um, droplet_um=splat))
    sweeps = 8 * 4.0 * plan.piece.copies / 60
    minutes = sweeps + 2 * priming.CAN_RECOAT_MIN + priming.CAN_CURE_MIN
    return _Primed(
        lightness=lightness_of_rgb(rgb), colours=value_bytes(rgb), grain=grain, minutes=minutes
    )


def _dry_brushed(plan: Plan, painter: Painter) -> _Primed:
    """The plan's ground, then white dragged over its edges."""
    _, light = _both(plan)
    first = next(i for i, c in enumerate(plan.coats) if c.kind == "spray" and c.task == "prime")
    skin = painter.layers(plan, first + 1)[-1][1]
    field = painter.studio.hand_field("dry_brush")
    full = np.float32(HANDS["dry_brush"].film_um)
    rgb = seen(coated(skin, optics_of(light.paint), field * full))
    half = 4 * field * (1 - field)
    short = plan.model_copy(update={"coats": plan.coats[: first + 1]})
    minutes = workings(short, painter).total_s / 60 + 24 * 60
    minutes += priming.BRUSH_MIN * plan.piece.copies
    return _Primed(
        lightness=lightness_of_rgb(rgb),
        colours=value_bytes(rgb),
        grain=np.asarray(half * np.float32(priming.BRUSH_GRAIN), dtype=np.float32),
        minutes=minutes,
    )


WAYS = {"airbrush": _airbrushed, "can": _canned, "dry_brush": _dry_brushed}
TITLES = {"airbrush": "Airbrush", "can": "Spray can", "dry_brush": "Dry brush"}
WHERE = {
    "airbrush": "indoors, with extraction and a particle filter",
    "can": "outdoors or in a proper booth only",
    "dry_brush": "anywhere; the ground under it must cure 24 h",
}
CAN_CAUTION = (
    "Cans spray solvent: vapour cartridge, no flame or spark, outdoors or in a proper booth only."
)


def compare_priming(
    body: PrimingBody, painter: Painter, shelf: Shelf, report: Report
) -> PrimingOut:
    """Airbrush, can and dry brush for this piece, in today's room."""
    plan, assumed = _primed_plan(body.plan, shelf)
    ways = []
    for n, (way, make) in enumerate(WAYS.items()):
        if not report(n / len(WAYS), f"Trying it: {TITLES[way].lower()}"):
            raise CancelledError("Stopped.")
        primed = make(plan, painter)
        counted = painter.piece.counted
        found = priming.values_of(
            primed.lightness[counted],
            grain=primed.grain[counted],
            area=painter.piece.mesh.vertex_area[counted],
        )
        limits = priming.can_limits(plan.room) if way == "can" else []
        ways.append(
            PrimingWay(
                way=way,
                title=TITLES[way],
                possible=not limits,
                whitest=found.light,
                darkest=found.dark,
                contrast=found.contrast,
                grain=found.grain,
                smooth=priming.smooth_words(found.grain),
                minutes=primed.minutes,
                where=WHERE[way],
                limits=limits,
                caution=CAN_CAUTION if way == "can" else None,
            )
        )
    return PrimingOut(ways=ways, assumed=assumed)


def priming_picture(body: PrimingPictureBody, painter: Painter, shelf: Shelf) -> bytes:
    """PNG of the value map a way leaves."""
    plan, _ = _primed_plan(body.plan, shelf)
    return png_of(painter, WAYS[body.way](plan, painter).colours)
