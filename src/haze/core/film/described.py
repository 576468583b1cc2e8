"""A paint as its owner describes it, and the one way from there to its optics."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from haze.core.film.finish import Finish, surface_of
from haze.core.film.paint import Opacity, PaintOptics, fluorescent, metallic, paint_optics
from haze.core.film.spectra import BANDS
from haze.core.film.swatches import TwoSwatches, optics_from_swatches

Body = Literal["pigment", "flake", "clear"]


@dataclass(frozen=True, slots=True)
class Described:
    """What a paint's optics follow from, and nothing else.

    Attributes
    ----------
    masstone : "#rrggbb", as `paint.paint_optics` takes it
    opacity, finish : names of the tables
    body : pigment; flake, which covers; or clear, where all lies in the surface
    fluorescent : float [0..1], how much light of its own it gives
    swatches : two swatches, which tell more than masstone and opacity; or None
    """

    masstone: str
    opacity: Opacity = "opaque"
    finish: Finish = "matt"
    body: Body = "pigment"
    fluorescent: float = 0.0
    swatches: TwoSwatches | None = None


@lru_cache(maxsize=8192)
def optics_of(paint: Described) -> PaintOptics:
    """The optics of a paint.

    Parameters
    ----------
    paint : as its owner describes it

    Raises
    ------
    SwatchError, when its swatches tell nothing; UnknownNameError, ColourTextError
    """
    made = _film(paint)
    if paint.fluorescent > 0:
        return fluorescent(made, masstone=paint.masstone, strength=paint.fluorescent)
    return made


def _film(paint: Described) -> PaintOptics:
    if paint.body == "clear":
        return PaintOptics(np.zeros(BANDS), np.zeros(BANDS), float(surface_of(paint.finish)))
    if paint.body == "flake":
        return metallic(paint.masstone, finish=paint.finish)
    if paint.swatches:
        return optics_from_swatches(paint.swatches, finish=paint.finish).optics
    return paint_optics(paint.masstone, opacity=paint.opacity, finish=paint.finish)
