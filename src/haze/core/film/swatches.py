"""A paint from two swatches, one over a dark and one over a light ground (Kubelka 1948).

With R₁ over g₁ and R₂ over g₂ at thickness X, a = 1 + K/S and S follow in closed form. Where the
film nearly hides the grounds, S is not told by them and is shrunk toward its contrast-weighted
logarithmic mean over the bands.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from haze.core.errors import HazeError, OutOfRangeError
from haze.core.film.finish import inside_film, surface_of
from haze.core.film.kubelka_munk import TINY
from haze.core.film.paint import PaintOptics
from haze.core.film.spectra import spectrum_of_hex

Array = NDArray[np.float64]
TELLS = 0.02  # contrast left in a band below which it says nothing about S (judged)
TRUSTED = 0.25  # contrast left above which a band is believed alone (judged)
FEW_BANDS = 4  # fewer telling bands than these are too few (judged)


@dataclass(frozen=True, slots=True)
class Swatched:
    """A paint from swatches; `certain` is false when they tell too little of its scattering."""

    optics: PaintOptics
    certain: bool
    telling_bands: int


def optics_from_swatches(
    over_dark: str,
    over_light: str,
    *,
    dark: str,
    light: str,
    film_um: float,
    finish: str = "matt",
    ground_finish: str = "matt",
) -> Swatched:
    """K and S of a paint from its colours over two grounds.

    Parameters
    ----------
    over_dark, over_light : "#rrggbb", the dry swatches
    dark, light : "#rrggbb", the bare grounds
    film_um : float [µm, dry], thickness of both swatches
    """
    if not 0.5 <= film_um <= 500:
        raise OutOfRangeError(
            f"film_um is {film_um:g} µm; accepted are 0.5 to 500 µm.", field="film_um"
        )
    g1, g2 = (inside_film(spectrum_of_hex(c), ground_finish) for c in (dark, light))
    r1, r2 = (inside_film(spectrum_of_hex(c), finish) for c in (over_dark, over_light))
    if float(np.mean(r2 - r1)) < -1e-3:
        raise HazeError(
            "The swatch over the light ground is darker than the one over the dark ground; the two "
            "may be swapped.",
            field="over_light",
        )
    absorb, scatter, contrast = _closed_form(r1, r2, g1, g2, film_um)
    telling = int(np.sum(contrast > TELLS))
    if telling == 0:
        raise HazeError(
            "Both swatches look alike: the film hides the grounds, so they tell nothing of how it "
            "scatters. Give an opacity grade instead, or thinner swatches.",
            field="over_light",
        )
    s = _shrunk(scatter, contrast)
    k = s * absorb / np.maximum(scatter, TINY)
    return Swatched(PaintOptics(k, s, float(surface_of(finish))), telling >= FEW_BANDS, telling)


def _closed_form(
    r1: Array, r2: Array, g1: Array, g2: Array, film_um: float
) -> tuple[Array, Array, Array]:
    """K, S per µm and the contrast left, per band."""
    contrast = (r2 - r1) / np.maximum(g2 - g1, 1e-6)
    r2 = np.maximum(r2, r1 + 1e-6 * (g2 - g1))
    d = 2 * (r2 * g1 - r1 * g2)
    d = np.where(np.abs(d) < TINY, -TINY, d)
    a = ((1 + r1 * g1) * (r2 - g2) - (1 + r2 * g2) * (r1 - g1)) / d
    a = np.maximum(a, 1 + 1e-9)
    c = ((r1 + g1) * (1 + r2 * g2) - (r2 + g2) * (1 + r1 * g1)) / d
    b = np.sqrt(a**2 - 1)
    c = np.maximum(c, b * (1 + 1e-9))
    s = np.log((c + b) / (c - b)) / (2 * b * film_um)
    return s * (a - 1), s, contrast


def _shrunk(scatter: Array, contrast: Array) -> Array:
    """S with the bands that tell little drawn to the logarithmic mean of those that tell much."""
    weight = np.clip(contrast - TELLS, 0.0, None)
    if weight.sum() <= 0:
        weight = np.clip(contrast, 1e-6, None)
    log = np.log(np.maximum(scatter, 1e-9))
    mean = float(weight @ log / weight.sum())
    own = np.clip((contrast - TELLS) / (TRUSTED - TELLS), 0.0, 1.0)
    return np.asarray(np.exp(own * log + (1 - own) * mean))
