"""Light plans as the screens show them: presets, shares, where two lights meet, pictures."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel, Field

from haze.core.film.looks import encode_bytes
from haze.core.onpiece.lighting import (
    PRESETS,
    Meeting,
    Shares,
    meeting,
    preset,
    shares,
    stage_light,
    with_opposite,
)
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight, Light
from haze.core.plan.schools import SCHOOLS, Schools
from haze.service.forms.wire import Strict
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of

PICTURE_WIDTH, PICTURE_HEIGHT = 260, 300
KEEP_CURRENT = "as_planned"
OPPOSITE = "opposite"


class MeetingView(BaseModel):
    """Where the first two key lights meet on the show side, and what gets neither."""

    first_name: str
    second_name: str
    both: float
    first: float
    second: float
    neither: float


class LightStudy(BaseModel):
    """How much of the piece a light plan lights."""

    show: Shares
    around: Shares
    meeting: MeetingView | None


class PresetView(BaseModel):
    id: str
    name: str
    words: str


class PresetList(BaseModel):
    presets: list[PresetView]


class PresetBody(Strict):
    """A preset to fit to the plan's piece."""

    plan: Plan
    preset: str = Field(max_length=40)


class LightsOut(BaseModel):
    """A light plan and its school; `study` leaves glows out that only stay from before."""

    lights: list[Light]
    schools: Schools
    study: LightStudy


def preset_list() -> PresetList:
    """All presets in their order."""
    return PresetList(
        presets=[PresetView(id=k, name=p.name, words=p.words) for k, p in PRESETS.items()]
    )


def _meeting(first: str, second: str, found: Meeting) -> MeetingView:
    return MeetingView(
        first_name=first,
        second_name=second,
        both=found.both,
        first=found.first,
        second=found.second,
        neither=found.neither,
    )


def light_study(lights: list[Light], plan: Plan, on: OnPiece) -> LightStudy:
    """Shares of a light plan on the piece of a plan."""
    piece = on.piece
    lit = plan.model_copy(update={"lights": lights})
    value = on.lit.value(lit)
    area = piece.mesh.vertex_area
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    keys = [light for light in lights if light.kind == "key"]
    met = None
    if len(keys) > 1:
        first, second = keys[0], keys[1]
        met = _meeting(
            first.name,
            second.name,
            meeting(
                on.lit.one(first, lit.piece.height_mm) * np.float32(first.strength),
                on.lit.one(second, lit.piece.height_mm) * np.float32(second.strength),
                area=area,
                counted=show,
            ),
        )
    return LightStudy(
        show=shares(value, area=area, counted=show),
        around=shares(value, area=area, counted=piece.counted),
        meeting=met,
    )


def _lit_by(given: PresetBody, on: OnPiece) -> list[Light]:
    """A preset's own lights; `stage` is worked out on the piece, `opposite` adds a key."""
    plan = given.plan
    if given.preset == KEEP_CURRENT:
        return list(plan.lights)
    if given.preset == OPPOSITE:
        return with_opposite(plan.lights, plan.key_light)
    return [stage_for(on)] if given.preset == "stage" else list(preset(given.preset).lights)


def lights_of(given: PresetBody, on: OnPiece) -> LightsOut:
    """A preset's lights for this piece; glows of the plan stay, unlit in its study."""
    plan, lights = given.plan, _lit_by(given, on)
    kept = [glow for glow in plan.glows if glow not in lights]
    named = given.preset in SCHOOLS["light"]
    schools = plan.schools.model_copy(update={"light": given.preset} if named else {})
    return LightsOut(lights=[*lights, *kept], schools=schools, study=light_study(lights, plan, on))


def stage_for(on: OnPiece) -> KeyLight:
    """The key light that models the show side of a piece most."""
    piece = on.piece
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    return stage_light(piece.light_table, area=piece.mesh.vertex_area, show=show)


def light_picture(given: PresetBody, on: OnPiece) -> bytes:
    """PNG of the light wanted on the piece."""
    plan = given.plan.model_copy(update={"lights": _lit_by(given, on)})
    colours = encode_bytes(on.lit.colour(plan))
    return png_of(on.piece.mesh, colours, width=PICTURE_WIDTH, height=PICTURE_HEIGHT)
