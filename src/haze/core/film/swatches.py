"""A paint from two swatches, one over a dark and one over a light ground (Kubelka 1948).

With R₁ over g₁ and R₂ over g₂ at thickness X, a = 1 + K/S and S follow in closed form. Where the
film nearly hides the grounds they do not determine S; it is shrunk toward its contrast-weighted
logarithmic mean over the bands.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import SwatchError, require_range
from haze.core.film.finish import inside_film, surface_of
from haze.core.film.kubelka_munk import TINY
from haze.core.film.paint import PaintOptics
from haze.core.film.spectra import spectrum_of_hex

TELLS = 0.02  # contrast left in a band below which it says nothing about S (judged)
TRUSTED = 0.25  # contrast left above which a band is believed alone (judged)
LEAST_FILM_UM, MOST_FILM_UM = 0.5, 500.0
FEW_BANDS = 4  # fewer telling bands than these are too few (judged)


@dataclass(frozen=True, slots=True)
class Swatched:
    """A paint from swatches; `certain` is false when they tell too little of its scattering."""

    optics: PaintOptics
    certain: bool
    telling_bands: int


@dataclass(frozen=True, slots=True)
class TwoSwatches:
    """Two dry swatches of one film and the matt grounds under them, all "#rrggbb"; film [µm]."""

    over_dark: str
    over_light: str
    dark: str
    light: str
    film_um: float


def optics_from_swatches(swatches: TwoSwatches, *, finish: str = "matt") -> Swatched:
    """K and S of a paint from its colours over two grounds.

    Parameters
    ----------
    swatches : the dry swatches, their grounds, and the dry film of both [µm]
    finish : how the paint dries, by name

    Raises
    ------
    SwatchError, when the two are swapped or look alike
    """
    require_range("film_um", swatches.film_um, LEAST_FILM_UM, MOST_FILM_UM, "µm")
    g1, g2 = (inside_film(spectrum_of_hex(c), "matt") for c in (swatches.dark, swatches.light))
    r1, r2 = (
        inside_film(spectrum_of_hex(c), finish) for c in (swatches.over_dark, swatches.over_light)
    )
    if float(np.mean(r2 - r1)) < -1e-3:
        raise SwatchError(
            "The swatch over the light ground is darker than the one over the dark ground; the two "
            "may be swapped.",
            field="over_light",
        )
    absorb, scatter, contrast = _closed_form(r1, r2, g1, g2, swatches.film_um)
    telling = int(np.sum(contrast > TELLS))
    if telling == 0:
        raise SwatchError(
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
