"""What a setting does, and a setting for a task, as JSON for the command line and the web."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, RootModel, model_validator

from haze.core.day.alike import alike_of, rounds_between
from haze.core.day.amounts import Bottle, Role, pour
from haze.core.errors import HazeError
from haze.core.onpiece.painting import Spraying
from haze.core.plan.base import Strict
from haze.core.plan.knobs import (
    Distance,
    FlowAidParts,
    Needle,
    Pressure,
    Rest,
    Speed,
    ThinnerParts,
    Trigger,
    by_hand,
)
from haze.core.plan.piece import Room
from haze.core.spray.advice import CLEAN_BELOW, Advice, advise, verdict
from haze.core.spray.calibrate import Belief, believed
from haze.core.spray.constants import PaintKind, Surface, ThinnerKind, usual_contrast
from haze.core.spray.model import RISKS, Outcome, spray
from haze.core.spray.recipe import (
    LEAST_SIZE_MM,
    MOST_SIZE_MM,
    Margin,
    NoRecipe,
    find_recipe,
)
from haze.core.spray.setting import RANGES, Setting, make_setting
from haze.core.spray.unsure import Band, bands, clean_words
from haze.service.forms.wire import PaintIn


class Additive(Strict):
    """Parts to one of paint; of retarder a tenth is much."""

    kind: Literal["flow_aid", "retarder"]
    parts: FlowAidParts


MOST_ASSESSED = 10_000
BANDED = ("flow_ml_min", "droplet_um", "footprint_mm", "wet_film_um", "dry_film_um")
NEVER_DRY_S = 48 * 3600.0  # wet for two days is never, at a bench


class GroundIn(Strict):
    """What is sprayed on; without a lightness the paint's usual contrast counts.

    `contrast`, of a speck of this very paint against it, counts before both.
    """

    lightness: float | None = Field(default=None, ge=0, le=100)
    contrast: float | None = Field(default=None, ge=0, le=1)
    surface: Surface = "matt"


# what a recipe tells besides its setting
RECIPE_ONLY = ("cup", "margins", "why", "passes_low", "passes_high")


class AssessIn(Strict):
    """A setting; a recipe may be given as it is."""

    paint: PaintIn
    thinner: ThinnerKind
    thinner_parts: ThinnerParts
    needle_mm: Needle
    trigger: Trigger
    pressure_psi: Pressure
    distance_mm: Distance
    speed_mm_s: Speed
    room: Room = Room()
    additives: list[Additive] = Field(default=[], max_length=8)
    passes: float = Field(default=1, ge=RANGES["passes"][0], le=RANGES["passes"][1])
    rest_s: Rest = 0
    blown: bool = False
    ground: GroundIn = GroundIn()

    @model_validator(mode="before")
    @classmethod
    def of_recipe(cls, given: Any) -> Any:
        """A recipe without what it tells besides its setting."""
        if not isinstance(given, dict) or "margins" not in given:
            return given
        return {k: v for k, v in given.items() if k not in RECIPE_ONLY}


def setting_words(s: AssessIn) -> str:
    """A setting in one line."""
    thinned = f"{s.thinner_parts:.2g} : 1" if s.thinner_parts else "unthinned"
    return (
        f"{s.pressure_psi:.3g} psi · {thinned} · trigger {s.trigger:.0%} · "
        f"{s.distance_mm:.0f} mm · {s.speed_mm_s:.0f} mm/s"
    ).replace("%", " %")


class Risks(BaseModel):
    spiders: float
    specks: float
    dust: float
    no_flow: float


class AdviceOut(BaseModel):
    model_config = ConfigDict(populate_by_name=True)

    knob: str
    value: float = Field(serialization_alias="from", validation_alias="from")
    to: float
    by_hand: float  # `to` on the dial's own steps, on the side that is clean
    why: str
    alongside: list[AdviceOut] = []


class TouchDry(BaseModel):
    """Seconds, and their bands; null for never."""

    still: float | None
    still_low: float | None
    still_high: float | None
    blown: float | None
    blown_low: float | None
    blown_high: float | None


class AssessOut(BaseModel):
    """What a setting does; `_low` to `_high` holds it in eight of ten airbrushes like this one."""

    viscosity_mpa_s: float
    air_l_min: float
    flow_ml_min: float
    flow_ml_min_low: float
    flow_ml_min_high: float
    droplet_um: float
    droplet_um_low: float
    droplet_um_high: float
    footprint_mm: float
    footprint_mm_low: float
    footprint_mm_high: float
    wet_film_um: float
    wet_film_um_low: float
    wet_film_um_high: float
    dry_film_um: float
    dry_film_um_low: float
    dry_film_um_high: float
    clean_share: float
    sure: str
    risks: Risks
    verdict: Literal["clean", "mind", "stop"]
    limiting: Literal["spiders", "specks", "dust", "no_flow"] | None
    advice: list[AdviceOut]
    touch_dry_s: TouchDry
    tip_dry_min: float


Size = Annotated[float, Field(ge=LEAST_SIZE_MM, le=MOST_SIZE_MM)]


class RecipeIn(Strict):
    paint: PaintIn
    needle_mm: Needle
    task: Literal["prime", "cover", "light", "rung", "veil", "line", "speck", "metal", "varnish"]
    school: Literal["whisper", "middle", "brisk"] = "middle"
    room: Room = Room()
    thinner: ThinnerKind | None = None
    line_mm: Size | None = None
    speck_mm: Size | None = None
    ground: GroundIn = GroundIn()


class CupLine(BaseModel):
    what: str
    role: Role
    drops: int
    ml: float


class RecipeOut(BaseModel):
    paint: PaintIn
    thinner: ThinnerKind
    thinner_parts: float
    needle_mm: float
    trigger: float
    pressure_psi: float
    distance_mm: float
    speed_mm_s: float
    room: Room
    passes: int
    passes_low: int
    passes_high: int
    rest_s: float
    blown: bool
    cup: list[CupLine]
    margins: dict[str, Margin]
    why: str


class RecipeNone(BaseModel):
    none: str
    change: str


RECIPE_CUP_ML = 1.0
USUAL_DROP_UL = 50.0


def asked_of(spraying: Spraying, *, drop_ul: float) -> AssessIn:
    """A coat's setting as one may ask after it without its plan.

    Parameters
    ----------
    spraying : how it is sprayed
    drop_ul : float [µl], of its paint
    """
    s = spraying.spray
    given = (("flow_aid", s.flow_aid_parts), ("retarder", s.retarder_parts))
    added = [Additive(kind=kind, parts=parts) for kind, parts in given if parts]
    return AssessIn(
        paint=PaintIn(kind=spraying.paint, drop_ul=drop_ul),
        thinner=spraying.thinner,
        thinner_parts=s.thinner_parts,
        needle_mm=spraying.needle_mm,
        trigger=s.trigger,
        pressure_psi=s.pressure_psi,
        distance_mm=s.distance_mm,
        speed_mm_s=s.speed_mm_s,
        room=spraying.room,
        additives=added,
        passes=spraying.most_passes,
        rest_s=s.rest_s,
        blown=s.blown,
        ground=GroundIn(contrast=spraying.contrast, surface=spraying.surface),
    )


def contrast_of(kind: PaintKind, ground: GroundIn) -> float | None:
    """Contrast of a speck of a kind of paint on a ground; None for its usual one."""
    if ground.contrast is not None or ground.lightness is None:
        return ground.contrast
    return usual_contrast(kind, lightness=ground.lightness)


def setting_of(given: AssessIn) -> Setting:
    """The checked setting of a request."""
    return make_setting(
        given.paint.kind,
        thinner=given.thinner,
        thinner_parts=given.thinner_parts,
        needle_mm=given.needle_mm,
        trigger=given.trigger,
        pressure_psi=given.pressure_psi,
        distance_mm=given.distance_mm,
        speed_mm_s=given.speed_mm_s,
        temperature_c=given.room.temperature_c,
        humidity_pct=given.room.humidity_pct,
        flow_aid_parts=sum(a.parts for a in given.additives if a.kind == "flow_aid"),
        retarder_parts=sum(a.parts for a in given.additives if a.kind == "retarder"),
        passes=given.passes,
        rest_s=given.rest_s,
        blown=float(given.blown),
        contrast=contrast_of(given.paint.kind, given.ground),
        surface=given.ground.surface,
    )


def advice_out(advice: Advice) -> AdviceOut:
    """Advice with what belongs to it."""
    return AdviceOut(
        knob=advice.knob,
        value=advice.value,
        to=advice.to,
        by_hand=by_hand(advice.knob, advice.value, advice.to),
        why=advice.why,
        alongside=[advice_out(a) for a in advice.alongside],
    )


def assessment(setting: Setting, belief: Belief | None = None) -> AssessOut:
    """What a setting does and what to change, by what trials say when there are any."""
    latents, draws = believed(belief)
    out = spray(setting, latents)
    sign, limiting = verdict(out)
    alike = spray(setting, draws)
    clean_share = float(np.mean(alike.worst < CLEAN_BELOW))
    return AssessOut(
        viscosity_mpa_s=float(out.viscosity_mpa_s),
        air_l_min=float(out.air_l_min),
        **_bands(out, alike),
        clean_share=clean_share,
        sure=clean_words(clean_share),
        risks=Risks(**{name: float(getattr(out, name)) for name in RISKS}),
        verdict=sign,
        limiting=limiting,
        advice=[advice_out(a) for a in advise(setting, latents, out)],
        touch_dry_s=_dry(out, alike),
        tip_dry_min=float(out.tip_dry_min),
    )


def _banded(out: Outcome, alike: Outcome, names: Sequence[str]) -> Iterator[tuple[str, Band]]:
    """Numbers of an outcome with their bands."""
    spreads = [getattr(alike, name) for name in names]
    return zip(names, bands([getattr(out, name) for name in names], spreads), strict=True)


def _bands(out: Outcome, alike: Outcome) -> dict[str, float]:
    """Each banded number with its band."""
    found: dict[str, float] = {}
    for name, one in _banded(out, alike, BANDED):
        found |= {name: one.value, f"{name}_low": one.low, f"{name}_high": one.high}
    return found


def _dry(out: Outcome, alike: Outcome) -> TouchDry:
    """When a finger may touch it, left alone and blown dry."""
    found: dict[str, float | None] = {}
    for name, one in _banded(out, alike, ("touch_dry_still_s", "touch_dry_blown_s")):
        short = name.removeprefix("touch_dry_").removesuffix("_s")
        ends = {short: one.value, f"{short}_low": one.low, f"{short}_high": one.high}
        found |= {key: s if s < NEVER_DRY_S else None for key, s in ends.items()}
    return TouchDry(**found)


def assess(given: AssessIn) -> AssessOut:
    """`haze assess`."""
    return assessment(setting_of(given))


class AssessManyIn(RootModel[Annotated[list[AssessIn], Field(max_length=MOST_ASSESSED)]]):
    """Many settings at once."""


class AssessManyOut(RootModel[list[AssessOut]]):
    """What each does, in the same order."""


def assess_many(given: AssessManyIn) -> AssessManyOut:
    """`haze assess` of a list; the first refused setting is named by its place, from 0."""
    found = []
    for place, one in enumerate(given.root):
        try:
            found.append(assess(one))
        except HazeError as error:
            error.message = f"{place}.{error.message}"
            raise
    return AssessManyOut(found)


def recipe(given: RecipeIn, belief: Belief | None = None) -> RecipeOut | RecipeNone:
    """`haze recipe`.

    Parameters
    ----------
    given : what is asked
    belief : of this paint in this airbrush; None for what the tables say
    """
    latents, draws = believed(belief)
    found = find_recipe(
        given.paint.kind,
        needle_mm=given.needle_mm,
        task=given.task,
        school=given.school,
        thinner=given.thinner,
        temperature_c=given.room.temperature_c,
        humidity_pct=given.room.humidity_pct,
        line_mm=given.line_mm,
        speck_mm=given.speck_mm,
        contrast=contrast_of(given.paint.kind, given.ground),
        surface=given.ground.surface,
        latents=latents,
    )
    if isinstance(found, NoRecipe):
        return RecipeNone(none=found.reason, change=found.change)
    s = found.setting
    thinner: ThinnerKind = s.thinner.kind
    alike = alike_of(s, kind=given.paint.kind, outcome=found.outcome, latents=draws)
    few, many = rounds_between(found.passes, alike)
    return RecipeOut(
        paint=given.paint,
        thinner=thinner,
        thinner_parts=s.knob("thinner_parts"),
        needle_mm=given.needle_mm,
        trigger=s.knob("trigger"),
        pressure_psi=s.knob("pressure_psi"),
        distance_mm=s.knob("distance_mm"),
        speed_mm_s=s.knob("speed_mm_s"),
        room=given.room,
        passes=found.passes,
        passes_low=few,
        passes_high=many,
        rest_s=s.knob("rest_s"),
        blown=s.knob("blown") > 0.5,
        cup=small_cup(s, Bottle(given.paint.kind, given.paint.drop_ul)),
        margins=found.margins,
        why=found.why,
    )


def small_cup(s: Setting, paint: Bottle) -> list[CupLine]:
    """About a millilitre of a bare setting, in pouring order.

    Parameters
    ----------
    s : single
    paint : its name and the size of its drops
    """
    poured = pour(
        [(paint, 1)],
        thinner=Bottle(s.thinner.kind, USUAL_DROP_UL),
        thinner_parts=s.knob("thinner_parts"),
        flow_aid_parts=s.knob("flow_aid_parts"),
        retarder_parts=s.knob("retarder_parts"),
        mix_ml=RECIPE_CUP_ML,
    )
    return [CupLine(what=p.what, role=p.role, drops=p.drops, ml=round(p.ml, 3)) for p in poured]
