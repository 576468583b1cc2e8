"""Tinting strength of a paint, learned from one mix with white."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.arrays import Array
from haze.core.errors import IncompatibleError, SwatchError
from haze.core.film.difference import delta_e
from haze.core.film.finish import inside_film
from haze.core.film.looks import shown
from haze.core.film.mixing import Share, mixed, tinting_strength
from haze.core.film.paint import masstone_rgb
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.paint import PaintUsed
from haze.service.forms.wire import Hex, Strict
from haze.service.shelf.paints import PaintOnShelf

LEAST, MOST = 0.05, 20.0
MISS = 6.0  # ΔE00 between the mix seen and the mix as predicted that is worth a word

Drops = Annotated[int, Field(ge=1, le=40)]


class WhiteMix(Strict):
    """A paint, a white, drops of each, and the colour of the thick dried mix."""

    paint: PaintOnShelf
    white: PaintUsed
    paint_drops: Drops = 1
    white_drops: Drops = 4
    colour: Hex


class StrengthOut(BaseModel):
    """The strength found; the mix as it was predicted before, and as it is predicted with it."""

    strength: float
    before: str
    after: str
    delta_e: float
    words: str


def strength_from(mix: WhiteMix) -> StrengthOut:
    """Tinting strength that makes the predicted mix come as near as it can to the one seen."""
    used, white = mix.paint.used, mix.white
    if used.id == white.id:
        raise SwatchError("Mix it with another paint: a white or a very light one.", field="white")
    optics, light = used.optics, white.optics
    if optics.flake > 0 or light.flake > 0:
        raise IncompatibleError(
            "Metal flake does not tint; strength is for pigments.", field="paint"
        )
    volume = mix.paint_drops * used.drop_ul
    share = volume / (volume + mix.white_drops * white.drop_ul)
    surface = share * optics.surface + (1 - share) * light.surface
    seen = inside_film(spectrum_of_hex(mix.colour), surface)
    found = white.strength * tinting_strength(optics, light, paint_share=share, seen_inside=seen)
    if not LEAST <= found <= MOST:
        raise SwatchError(
            f"This mix would need a strength of {found:.3g}; accepted are {LEAST} to {MOST:.0f}. "
            "Look at the drops and at the colour again.",
            field="colour",
        )

    def predicted(strength: float) -> Array:
        both = mixed(
            [
                Share(optics, volume, strength),
                Share(light, mix.white_drops * white.drop_ul, white.strength),
            ]
        )
        return np.asarray(np.clip(masstone_rgb(both), 0, 1))

    after = predicted(found)
    off = delta_e(after, linear_of_hex(mix.colour))
    return StrengthOut(
        strength=found,
        before=shown(predicted(used.strength)),
        after=shown(after),
        delta_e=off,
        words=_words(found, off),
    )


def _words(found: float, off: float) -> str:
    words = f"One drop colours like {found:.2g} usual drops."
    if off > MISS:
        words += (
            f" The mix you saw is still {off:.0f} off: its hue is not between these two paints. "
            "Check the colour, or give two swatches."
        )
    return words
