"""How a coat looks while it is wet: like gloss, and milky where its binder has not cleared yet."""

from __future__ import annotations

from dataclasses import replace

from haze.core.arrays import Array
from haze.core.film.finish import outside_film
from haze.core.film.paint import PaintOptics, film_over
from haze.core.film.spectra import rgb_of

MILKY_PER_UM = 0.004  # scattering of wet acrylic binder [1/µm] (judged)


def wet_rgb(optics: PaintOptics, *, ground: Array, film_um: float, milky: bool = True) -> Array:
    """(3,) float: linear sRGB of a wet coat.

    Parameters
    ----------
    ground : (12,) float [-], inside the binder
    film_um : float [µm], the film it dries to
    milky : whether its binder is an emulsion that clears as it dries
    optics : of the paint
    """
    added = MILKY_PER_UM if milky else 0.0
    wet = replace(optics, scatter_per_um=optics.scatter_per_um + added)
    return rgb_of(outside_film(film_over(wet, ground, film_um), "gloss"))
