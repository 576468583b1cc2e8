"""Chips: how a paint or a mix looks over dark, mid and light."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from haze.core.film.difference import oklch_of
from haze.core.film.finish import inside_film, nearest_finish, outside_film
from haze.core.film.gamut import into_gamut
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import covering_um, film_over, swatch_rgb
from haze.core.film.spectra import rgb_of, spectrum_of_hex, to_hex
from haze.core.film.wet import wet_rgb
from haze.core.plan.document import MixPart, PaintUsed
from haze.core.plan.painting import optics_of
from haze.service.spray_io import Strict

GROUNDS = {"dark": "#17181a", "mid": "#77787a", "light": "#f3f2ec"}
CHIP_UM = 6.0  # dry film a chip is shown with
PASS_UM = 3.0  # what a pass usually leaves, for "about so many passes"
MOST_PASSES_TOLD = 40
Millilitres = Annotated[float, Field(ge=0, le=100_000)]


class PaintOnShelf(PaintUsed):
    """A paint and what is left of it; `ml_left` null when nobody counts."""

    ml_left: Millilitres | None = None


def as_used(paint: PaintOnShelf) -> PaintUsed:
    """A paint as a plan takes it: without what is left of it."""
    return PaintUsed.model_validate(paint.model_dump(exclude={"ml_left"}))


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
    """How a paint's chip looks."""
    made = _chip(as_used(paint).model_dump_json())
    return made.model_copy(update={"paint": paint})


@lru_cache(maxsize=2048)
def _chip(used: str) -> Chip:
    paint = PaintOnShelf.model_validate_json(used)
    optics = optics_of(paint)
    seen, passes = {}, {}
    for name, ground in GROUNDS.items():
        inside = inside_film(spectrum_of_hex(ground), "matt")
        shown = rgb_of(outside_film(film_over(optics, inside, CHIP_UM), optics.surface))
        if optics.emission is not None:
            shown = shown + optics.emission * float(inside.mean())
        seen[name] = to_hex(into_gamut(np.clip(shown, 0, 1))[0])
        um = covering_um(optics, ground=inside)
        passes[name] = int(np.ceil(um / PASS_UM)) if um <= MOST_PASSES_TOLD * PASS_UM else None
    own = swatch_rgb(optics)
    lightness, chroma, hue = (float(v) for v in oklch_of(np.clip(own, 0, 1)))
    return Chip(
        paint=paint,
        own=to_hex(into_gamut(own)[0]),
        over_dark=seen["dark"],
        over_mid=seen["mid"],
        over_light=seen["light"],
        passes_dark=passes["dark"],
        passes_mid=passes["mid"],
        passes_light=passes["light"],
        lightness=lightness,
        chroma=chroma,
        hue_deg=hue,
    )


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

    parts: Annotated[list[MixPart], Field(min_length=1, max_length=4)]
    pass_um: float = Field(default=PASS_UM, gt=0, le=100)


def mix_look(body: MixBody) -> MixLook:
    """How a mix of paints looks over dark, mid and light."""
    optics = mixed(
        [Share(optics_of(p.paint), p.drops * p.paint.drop_ul, p.paint.strength) for p in body.parts]
    )
    looks = []
    for name, ground in GROUNDS.items():
        inside = inside_film(spectrum_of_hex(ground), "matt")
        um = covering_um(optics, ground=inside)
        passes = int(np.ceil(um / body.pass_um))
        dry = rgb_of(outside_film(film_over(optics, inside, CHIP_UM), optics.surface))
        looks.append(
            GroundLook(
                ground=name,
                dry=_shown(dry),
                wet=_shown(wet_rgb(optics, ground=inside, film_um=CHIP_UM)),
                passes=passes if passes <= MOST_PASSES_TOLD else None,
            )
        )
    return MixLook(
        own=_shown(swatch_rgb(optics)), finish=nearest_finish(optics.surface), grounds=looks
    )


def _shown(rgb: NDArray[np.float64]) -> str:
    return to_hex(into_gamut(np.clip(rgb, 0, 1))[0])


HUE_BANDS = 12
GREY_CHROMA = 0.03


def wall_order(chip: Chip) -> tuple[int, float, str]:
    """Greys first, then hue by hue; from light to dark in each."""
    band = 0 if chip.chroma < GREY_CHROMA else 1 + int((chip.hue_deg + 15) % 360 / 360 * HUE_BANDS)
    return (band, -chip.lightness, chip.paint.name)
