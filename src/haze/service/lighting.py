"""Light plans as the screens show them: presets, shares, where two lights meet, pictures."""

from __future__ import annotations

import io
from typing import Annotated

import numpy as np
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.film.stack import encode_bytes
from haze.core.light.picture import picture
from haze.core.plan.document import KeyLight, Light, Plan
from haze.core.plan.lighting import (
    PRESETS,
    Meeting,
    Shares,
    meeting,
    preset,
    shares,
    stage_light,
)
from haze.service.painter import Painter
from haze.service.spray_io import Strict

PICTURE_WIDTH, PICTURE_HEIGHT = 260, 300
KEEP_CURRENT = "as_planned"


class SharesView(BaseModel):
    lit: float
    half: float
    dark: float


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

    show: SharesView
    around: SharesView
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
    """A light plan with its shares."""

    lights: Annotated[list[Light], Field(max_length=12)]
    study: LightStudy


def preset_list() -> PresetList:
    """All presets in their order."""
    return PresetList(
        presets=[PresetView(id=k, name=p.name, words=p.words) for k, p in PRESETS.items()]
    )


def _shares(found: Shares) -> SharesView:
    return SharesView(lit=found.lit, half=found.half, dark=found.dark)


def _meeting(first: str, second: str, found: Meeting) -> MeetingView:
    return MeetingView(
        first_name=first,
        second_name=second,
        both=found.both,
        first=found.first,
        second=found.second,
        neither=found.neither,
    )


def light_study(lights: list[Light], plan: Plan, painter: Painter) -> LightStudy:
    """Shares of a light plan on the piece of a plan."""
    piece, studio = painter.piece, painter.studio
    lit = plan.model_copy(update={"lights": lights})
    value = studio.light_value(lit)
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
                studio.value_of(first, lit) * np.float32(first.strength),
                studio.value_of(second, lit) * np.float32(second.strength),
                area=area,
                counted=show,
            ),
        )
    return LightStudy(
        show=_shares(shares(value, area=area, counted=show)),
        around=_shares(shares(value, area=area, counted=piece.counted)),
        meeting=met,
    )


def lights_of(given: PresetBody, painter: Painter) -> LightsOut:
    """A preset's lights for this piece; `stage` is worked out on it."""
    lights: list[Light]
    if given.preset == KEEP_CURRENT:
        lights = list(given.plan.lights)
    elif given.preset == "stage":
        lights = [stage_for(painter)]
    else:
        lights = [light.model_copy() for light in preset(given.preset).lights]
    return LightsOut(lights=lights, study=light_study(lights, given.plan, painter))


def stage_for(painter: Painter) -> KeyLight:
    """The key light that models the show side of a piece most."""
    piece = painter.piece
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    return stage_light(piece.light_table, area=piece.mesh.vertex_area, show=show)


def light_picture(given: PresetBody, painter: Painter) -> bytes:
    """PNG of the light wanted on the piece."""
    lights = lights_of(given, painter).lights
    plan = given.plan.model_copy(update={"lights": lights})
    colours = encode_bytes(painter.studio.light_colour(plan))
    image = picture(painter.piece.mesh, colours, width=PICTURE_WIDTH, height=PICTURE_HEIGHT)
    out = io.BytesIO()
    Image.fromarray(image).save(out, format="PNG")
    return out.getvalue()
