"""Chips: how a paint or a mix looks over dark, mid and light."""

from __future__ import annotations

from functools import lru_cache
from math import ceil
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.film.difference import lch_of
from haze.core.film.finish import inside_film, nearest_finish
from haze.core.film.looks import shown
from haze.core.film.paint import PaintOptics, covering_um, swatch_rgb
from haze.core.film.skin import one_film
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.wet import wet_rgb
from haze.core.plan.coat import MOST_PAINTS, MixPart
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed
from haze.core.spray.unsure import USUAL_PASS_UM
from haze.service.forms.wire import Strict
from haze.service.shelf.paints import PaintOnShelf

GROUNDS = {"dark": "#17181a", "mid": "#77787a", "light": "#f3f2ec"}
CHIP_UM = 6.0  # dry film a chip is shown with
MOST_PASSES_SHOWN = 40
HUE_BANDS = 12
GREY_CHROMA = 0.03


class Chip(BaseModel):
    """A paint as its chip shows it: one film over dark, mid and light, and its own colour.

    `passes` is how many usual passes bring its own colour over dark, mid and light; null for more
    than 40.
    """

    paint: PaintOnShelf
    own: str
    over_dark: str
    over_mid: str
    over_light: str
    passes_dark: int | None
    passes_mid: int | None
    passes_light: int | None
    lightness: float
    chroma: float
    hue_deg: float


def chip_of(paint: PaintOnShelf) -> Chip:
    """How a paint's chip looks; refused when its swatches tell nothing."""
    made = _chip(paint.used)
    return made.model_copy(update={"paint": paint})


@lru_cache(maxsize=8192)
def _chip(used: PaintUsed) -> Chip:
    optics = used.optics
    films = {name: shown(one_film(optics, _inside(name), CHIP_UM)) for name in GROUNDS}
    passes = {name: _passes(optics, _inside(name), USUAL_PASS_UM.value) for name in GROUNDS}
    own = swatch_rgb(optics)
    lightness, chroma, hue = lch_of(np.clip(own, 0, 1))
    return Chip(
        paint=PaintOnShelf.model_validate(used.model_dump()),
        own=shown(own),
        over_dark=films["dark"],
        over_mid=films["mid"],
        over_light=films["light"],
        passes_dark=passes["dark"],
        passes_mid=passes["mid"],
        passes_light=passes["light"],
        lightness=lightness,
        chroma=chroma,
        hue_deg=hue,
    )


def _inside(ground: str) -> Array:
    return inside_film(spectrum_of_hex(GROUNDS[ground]), "matt")


def _passes(optics: PaintOptics, ground: Array, pass_um: float) -> int | None:
    passes = ceil(covering_um(optics, ground=ground) / pass_um)
    return passes if passes <= MOST_PASSES_SHOWN else None


class GroundLook(BaseModel):
    """Dry and wet over one ground, and passes to the mix's own colour; null for more than 40."""

    ground: str
    dry: str
    wet: str
    passes: int | None


class MixLook(BaseModel):
    """How a mix looks as one film over dark, mid and light, and the finish it dries to."""

    own: str
    finish: str
    grounds: list[GroundLook]


class MixBody(Strict):
    """Paints and their drops; `pass_um` is the dry film one pass leaves."""

    parts: Annotated[list[MixPart], Field(min_length=1, max_length=MOST_PAINTS)]
    pass_um: float = Field(default=USUAL_PASS_UM.value, ge=0.01, le=100)


def mix_look(body: MixBody) -> MixLook:
    """How a mix of paints looks over dark, mid and light."""
    optics = Mix.of(*((p.paint, p.drops) for p in body.parts)).optics
    return MixLook(
        own=shown(swatch_rgb(optics)),
        finish=nearest_finish(optics.surface),
        grounds=[
            GroundLook(
                ground=name,
                dry=shown(one_film(optics, _inside(name), CHIP_UM)),
                wet=shown(wet_rgb(optics, ground=_inside(name), film_um=CHIP_UM)),
                passes=_passes(optics, _inside(name), body.pass_um),
            )
            for name in GROUNDS
        ],
    )


def wall_order(chip: Chip) -> tuple[int, float, str]:
    """Greys first, then hue by hue; from light to dark in each."""
    band = 0 if chip.chroma < GREY_CHROMA else 1 + int((chip.hue_deg + 15) % 360 / 360 * HUE_BANDS)
    return (band, -chip.lightness, chip.paint.name)
