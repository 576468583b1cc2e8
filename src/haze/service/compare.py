"""Side by side on the piece: ways to prime, and schools."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.errors import CancelledError, HazeError
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.film.stack import lightness_of_rgb, value_bytes
from haze.core.light.picture import picture
from haze.core.light.stations import Station, deposit
from haze.core.plan import priming
from haze.core.plan.document import Coat, Hex, Plan, Schools
from haze.core.plan.fixes import is_opaque
from haze.core.plan.painting import coat_optics, optics_of
from haze.core.plan.roles import HANDS
from haze.core.plan.starting import Answers, What, start_sequence
from haze.service.findings import look_over, stock_of
from haze.service.jobs import Report
from haze.service.painter import Look, Painter
from haze.service.shelf import Shelf
from haze.service.spray_io import Strict
from haze.service.workings import workings

Floats = NDArray[np.float32]
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
    plan: Plan
    cost: PlanCost


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
    full = start_sequence(plan, answers, stock_of(shelf))
    tell(0.5, "Seeing what it does on the piece")
    return StartedOut(plan=full, cost=plan_cost(full, painter))


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


def _png(painter: Painter, colours: Bytes, *, azimuth: float = 20, elevation: float = 12) -> bytes:
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
    return _png(painter, colours, azimuth=body.azimuth_deg, elevation=body.elevation_deg)


# priming ------------------------------------------------------------------------------------------

WayName = Literal["airbrush", "can", "dry_brush"]


class PrimingBody(Strict):
    plan: Plan


class PrimingPictureBody(PrimingBody):
    way: WayName


class PrimingWay(BaseModel):
    """One way to prime this piece today."""

    way: WayName
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
    ways: list[PrimingWay]


@dataclass(frozen=True, slots=True)
class _Primed:
    """What a way leaves on every vertex, and how long it takes."""

    lightness: Floats
    colours: Bytes
    grain: Floats
    minutes: float


def _tones(plan: Plan) -> tuple[Coat, Coat]:
    """The plan's dark ground, and the lightest of its opaque coats."""
    dark = next((c for c in plan.sprayed if c.task == "prime" and not c.off), None)
    light = [c for c in plan.sprayed if c.task == "light" and not c.off and is_opaque(c.paint)]
    if dark is None or not light:
        raise HazeError(
            "Comparing needs a ground and a light coat in the plan; add them first.", field="coats"
        )
    return dark, light[-1]


def _airbrushed(plan: Plan, painter: Painter) -> _Primed:
    last = max(i for i, c in enumerate(plan.coats) if c.kind == "spray" and c.task == "light")
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
    dark, light = _tones(plan)
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
    _, light = _tones(plan)
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


def compare_priming(body: PrimingBody, painter: Painter, report: Report) -> PrimingOut:
    """Airbrush, can and dry brush for this piece, in today's room."""
    plan = body.plan
    _tones(plan)
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
    return PrimingOut(ways=ways)


def priming_picture(body: PrimingPictureBody, painter: Painter) -> bytes:
    """PNG of the value map a way leaves."""
    _tones(body.plan)
    return _png(painter, WAYS[body.way](body.plan, painter).colours)
