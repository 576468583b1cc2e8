"""How much paint lies on each place of a flat card, from its colour.

A colour is placed between bare ground (0) and the closed paint (1) on the line between the two,
channels counting by how far they go. Film follows through the film model: of grain, what a photo
shows is the mean of places with none, one, two splats (`Granular`), not the colour of the mean
film.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.stats import poisson

from haze.core.arrays import Array, Floats
from haze.core.film.paint import PaintOptics
from haze.core.inspect.card import BLACK, ZONES
from haze.core.inspect.reading.flattening import box_px, papers
from haze.core.inspect.sprayed import PAPER, film_colours
from haze.core.inspect.trial_card import film_steps
from haze.core.spray.specks import DECADES

LEAST_CONTRAST = 0.06  # of a closed paint against its ground: less cannot be read
SPLATS = 60
USUAL_HIDING_UM, USUAL_SPLAT_UM = 6.0, 0.8
INSET_MM = 4.0  # of a zone, where it is surely meant to be covered


@dataclass(frozen=True, slots=True)
class Ink:
    """What is known of the paint on a card.

    Attributes
    ----------
    optics : of what was in the cup; None when it is not known: then its darkest place says its
        colour, and films are those of a paint that hides as most do
    hiding_um : float [µm, dry], film that hides
    splat_um : float [µm, dry], thickness of a usual splat
    dark : whether the field was printed black
    """

    optics: PaintOptics | None = None
    hiding_um: float = USUAL_HIDING_UM
    splat_um: float = USUAL_SPLAT_UM
    dark: bool = False


@dataclass(frozen=True, slots=True)
class Depth:
    """Places between bare ground and closed paint.

    Attributes
    ----------
    shares : (h, w) float32 [-], 0 bare, 1 closed
    contrast : float [0..1], of the closed paint against its ground
    solid : (3,) float [-], linear light of the solid over that of bare paper
    noise : float [-], spread of `shares` on bare ground
    granular : film by mean share
    """

    shares: Floats
    contrast: float
    solid: Array
    noise: float
    granular: Granular


@dataclass(frozen=True, slots=True)
class Granular:
    """Mean film [µm] and the mean share that it shows, rising."""

    films_um: Array
    shares: Array

    def film_um(self, share: Array) -> Array:
        """Mean film [µm, dry] by the mean share of a place.

        Parameters
        ----------
        share : (...) float [-]
        """
        return np.asarray(np.interp(share, self.shares, self.films_um))


def depth_of(flat: Floats, ink: Ink) -> Depth:
    """Places between bare ground and closed paint.

    Parameters
    ----------
    flat : (h, w, 3) float32 [-], light over that of bare paper
    ink : what is known of the paint
    """
    ground = np.full(3, BLACK if ink.dark else 1.0)
    solid = _closed(flat, ground)
    way = ground - solid
    contrast = float(np.abs(way).max())
    weights = way / max(float(way @ way), 1e-6)
    shares = (ground.astype(np.float32) - flat) @ weights.astype(np.float32)
    noise = _noise(shares) if contrast > LEAST_CONTRAST else 1.0
    return Depth(shares, contrast, solid, noise, _granular(ink, ground, weights))


def _noise(shares: Floats) -> float:
    """Spread [-] of the camera's noise: of neighbours on the papers of the card's edge."""
    steps = []
    for box in papers():
        here = shares[box]
        steps.append(float(np.median(np.abs(here[:, 1:] - here[:, :-1]))))
    return float(1.4826 / np.sqrt(2) * np.median(steps))


def _closed(flat: Floats, ground: Array) -> Array:
    """(3,) colour of the paint where most of it lies."""
    x0, y0, x1, y1 = ZONES["solid"]
    zone = flat[
        box_px(x0 + INSET_MM, y0 + INSET_MM, x1 - x0 - 2 * INSET_MM, y1 - y0 - 2 * INSET_MM)
    ].reshape(-1, 3)[::7]
    far = np.abs(zone - ground.astype(np.float32)).sum(axis=1)
    return np.asarray(np.median(zone[far >= np.percentile(far, 60)], axis=0), dtype=np.float64)


def _granular(ink: Ink, ground: Array, weights: Array) -> Granular:
    films = film_steps()[::8]
    if ink.optics is None:
        one = -np.expm1(-DECADES * films / ink.hiding_um)
    else:
        colours = film_colours(ink.optics, films, ink=BLACK if ink.dark else 1.0)
        paper = film_colours(ink.optics, np.zeros(1), paper=PAPER)[0]
        one = (ground - colours / paper) @ weights
    splat = max(ink.splat_um, 0.05)
    means = films[films <= SPLATS * splat / 2]
    counts = np.arange(SPLATS)
    stacked = np.interp(counts * splat, films, one)
    mean = poisson.pmf(counts[None, :], means[:, None] / splat) @ stacked
    rising = np.maximum.accumulate(mean) + np.arange(len(mean)) * 1e-9
    return Granular(means, rising)
