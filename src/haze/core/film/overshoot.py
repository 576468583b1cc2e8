"""Aiming past a colour, because a wash, a tint and a varnish will pull it back.

The films that come later are turned round band by band (v/E, docs/models.md C2): which surface
below them would show the wanted colour after all. Where no surface could, the answer is clipped to
what a paint can be; what is left over is reported.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import inside_film, outside_film
from haze.core.film.kubelka_munk import ground_below
from haze.core.film.paint import PaintOptics, film_over
from haze.core.film.spectra import rgb_of, spectrum_of_rgb

DARKEST, LIGHTEST = 0.004, 0.97  # what a band of a painted surface can be, as seen (judged)


@dataclass(frozen=True, slots=True)
class Film:
    """A film that comes later: its paint and its dry thickness [µm]."""

    optics: PaintOptics
    film_um: float


@dataclass(frozen=True, slots=True)
class Aimed:
    """What to aim at: `rgb` linear as seen now, dry; `left_over` the ΔE00 that cannot be met."""

    rgb: Array
    inside: Array
    left_over: float


def after_films(inside: Array, films: Sequence[Film], *, surface: float | str = "matt") -> Array:
    """(3,) float: linear sRGB as seen after films over a surface.

    Parameters
    ----------
    inside : (12,) float [-], the surface inside the binder
    surface : finish of the surface itself, which shows when no film follows
    """
    on_top: float | str = surface
    for film in films:
        inside = film_over(film.optics, inside, film.film_um)
        on_top = film.optics.surface
    return rgb_of(outside_film(inside, on_top))


def aim_before(target_rgb: Array, films: Sequence[Film], *, surface: float | str = "matt") -> Aimed:
    """The colour to paint now so that the films after it land on the target.

    Parameters
    ----------
    target_rgb : (3,) float, linear sRGB wanted at the end
    films : what comes later, next first; films of metal cannot be seen through
    surface : finish of the paint that is aimed
    """
    on_top = films[-1].optics.surface if films else surface
    inside = inside_film(spectrum_of_rgb(target_rgb), on_top)
    for film in reversed(films):
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            inside = ground_below(
                film.optics.absorb_per_um, film.optics.scatter_per_um, inside, film.film_um
            )
        inside = np.clip(np.nan_to_num(inside, nan=1.0, posinf=1.0, neginf=0.0), 0.0, 1.0)
    low, high = (float(inside_film(v, surface)) for v in (DARKEST, LIGHTEST))
    inside = np.clip(inside, low, high)
    lands = after_films(inside, films, surface=surface)
    left = float(ciede2000(lab_of(lands), lab_of(target_rgb)))
    return Aimed(rgb_of(outside_film(inside, surface)), inside, left)
