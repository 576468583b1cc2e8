"""Tinting strength of a paint, learned from one mix with white."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from haze.core.errors import HazeError
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import inside_film, outside_film
from haze.core.film.gamut import into_gamut
from haze.core.film.mixing import Share, mixed, tinting_strength
from haze.core.film.paint import masstone_inside
from haze.core.film.spectra import decode_srgb, parse_hex, rgb_of, spectrum_of_hex, to_hex
from haze.core.plan.document import Hex, PaintUsed
from haze.core.plan.painting import optics_of
from haze.service.chips import PaintOnShelf, as_used
from haze.service.spray_io import Strict

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
    used, white = as_used(mix.paint), mix.white
    if used.id == white.id:
        raise HazeError("Mix it with another paint: a white or a very light one.", field="white")
    optics, light = optics_of(used), optics_of(white)
    if optics.flake > 0 or light.flake > 0:
        raise HazeError("Metal flake does not tint; strength is for pigments.", field="paint")
    volume = mix.paint_drops * used.drop_ul
    share = volume / (volume + mix.white_drops * white.drop_ul)
    surface = share * optics.surface + (1 - share) * light.surface
    seen = inside_film(spectrum_of_hex(mix.colour), surface)
    found = white.strength * tinting_strength(optics, light, paint_share=share, seen_inside=seen)
    if not LEAST <= found <= MOST:
        raise HazeError(
            f"This mix would need a strength of {found:.3g}; accepted are {LEAST} to {MOST:.0f}. "
            "Look at the drops and at the colour again.",
            field="colour",
        )

    def predicted(strength: float) -> NDArray[np.float64]:
        both = mixed(
            [
                Share(optics, volume, strength),
                Share(light, mix.white_drops * white.drop_ul, white.strength),
            ]
        )
        return np.asarray(np.clip(rgb_of(outside_film(masstone_inside(both), both.surface)), 0, 1))

    after = predicted(found)
    wanted = decode_srgb(parse_hex(mix.colour))
    off = float(ciede2000(lab_of(after), lab_of(wanted)))
    return StrengthOut(
        strength=found,
        before=to_hex(into_gamut(predicted(used.strength))[0]),
        after=to_hex(into_gamut(after)[0]),
        delta_e=off,
        words=_words(found, off),
    )


def _words(found: float, off: float) -> str:
    told = f"One drop colours like {found:.2g} usual drops."
    if off > MISS:
        told += (
            f" The mix you saw is still {off:.0f} off: its hue is not between these two paints. "
            "Check the colour, or give two swatches."
        )
    return told
