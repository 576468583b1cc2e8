"""How far overspray of an aimed coat shows, and whether finished work beside it needs a mask.

Film beside the place aimed at is the tail of the footprint and the halo of mist round it
(docs/models.md A10); it shows where it turns the colour there by more than ΔE00 1.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.light.overspray import tail
from haze.core.onpiece.facts import SHOWS
from haze.core.onpiece.painting import HALO_FOOTPRINTS, mist_um
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.model import Outcome

THINNEST_UM, THICKEST_UM, FILMS = 0.003, 30.0, 96
FARTHEST_SIGMAS = 12.0


def showing_um(optics: PaintOptics, *, over: str) -> float:
    """Least dry film [µm] that is seen on a ground, at ΔE00 1; infinite when none is.

    Parameters
    ----------
    optics : of the paint or mix
    over : "#rrggbb", the ground
    """
    films = np.geomspace(THINNEST_UM, THICKEST_UM, FILMS)
    ground = bare_skin(over, FILMS, single=False)
    before, after = (
        lab_of(np.clip(seen(skin).T, 0, 1)) for skin in (ground, coated(ground, optics, films))
    )
    off = ciede2000(after, before) >= SHOWS
    return float(films[int(np.argmax(off))]) if off.any() else float("inf")


def film_beside_um(away_mm: Array, *, outcome: Outcome, passes: float, distance_mm: float) -> Array:
    """(...) float [µm, dry]: film at a distance from the edge of what is aimed at.

    Parameters
    ----------
    away_mm : (...) float [mm], beyond the edge
    outcome : of the coat
    passes : float [-], of the aim
    distance_mm : float [mm], of the airbrush
    """
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    direct = passes * float(outcome.dry_film_um) * tail(away_mm, sigma=sigma)
    mist = mist_um(outcome, passes=passes) * tail(away_mm, sigma=HALO_FOOTPRINTS * sigma)
    return np.asarray(direct + mist)


def reach_mm(outcome: Outcome, *, passes: float, distance_mm: float, showing: float) -> float:
    """How far beyond the edge of what is aimed at overspray shows [mm].

    Parameters
    ----------
    outcome : of the coat
    passes : float [-], of the aim
    distance_mm : float [mm], of the airbrush
    showing : float [µm, dry], least film that is seen there
    """
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    away = np.linspace(0.0, FARTHEST_SIGMAS * sigma, 400)
    film = film_beside_um(away, outcome=outcome, passes=passes, distance_mm=distance_mm)
    return float(away[film >= showing].max(initial=0.0))
