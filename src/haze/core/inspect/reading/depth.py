"""How much paint lies on each place of a flat card, from its colour.

A colour is placed between bare ground (0) and the closed paint (1) on the line between the two,
channels counting by how far they go. Film follows through the film model: of grain, what a photo
shows is the mean of places with none, one, two splats (`Granular`), not the colour of the mean
film.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats
from haze.core.film.paint import PaintOptics, paint_optics
from haze.core.film.srgb import linear_of_hex, to_hex
from haze.core.inspect.card import BLACK, LINES_Y, ZONES
from haze.core.inspect.card_colours import PAPER, Closing, film_colours
from haze.core.inspect.landing import Splats
from haze.core.inspect.reading.flattening import box_px, papers

LEAST_CONTRAST = 0.06  # of a closed paint against its ground: less cannot be read
MOST_READ_UM, FILMS = 60.0, 500
USUAL_HIDING_UM = 6.0
USUAL_SPLATS = Splats(np.array([0.2]), np.array([1.0]))
INSET_MM = 4.0  # of a zone, where it is surely meant to be covered


@dataclass(frozen=True, slots=True)
class Ink:
    """What is known of the paint on a card.

    Attributes
    ----------
    optics : of what was in the cup; None when it is not known: then the solid says its colour,
        and it is taken to hide as most do
    hiding_um : float [µm, dry], film that hides
    splats : what the film is made of
    lines : the same of each line, whose splats are flatter from nearer; None for the same
    dark : whether the field was printed black
    """

    optics: PaintOptics | None = None
    hiding_um: float = USUAL_HIDING_UM
    splats: Splats = USUAL_SPLATS
    lines: tuple[Splats, ...] | None = None
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
    granular, lines : film by mean share, of the setting itself and of each line
    """

    shares: Floats
    contrast: float
    solid: Array
    noise: float
    granular: Granular
    lines: tuple[Granular, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Way:
    """From bare ground to closed paint: (3,) ground, (3,) weights of channels, printed black?"""

    ground: Array
    weights: Array
    dark: bool


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
    lines = ink.lines or (ink.splats,) * len(LINES_Y)
    optics = ink.optics or _by_its_solid(solid)
    way_of = Way(ground, weights, ink.dark)
    return Depth(
        shares=shares,
        contrast=contrast,
        solid=solid,
        noise=noise,
        granular=_granular(optics, way_of, ink.splats),
        lines=tuple(_granular(optics, way_of, splats) for splats in lines),
    )


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


def _by_its_solid(solid: Array) -> PaintOptics:
    """A paint of a colour that hides as most do."""
    paper = linear_of_hex(PAPER)
    return paint_optics(to_hex(np.clip(solid * paper, 0, 1)), opacity="opaque")


def _granular(optics: PaintOptics, way: Way, splats: Splats) -> Granular:
    films = np.linspace(0, np.sqrt(MOST_READ_UM), FILMS) ** 2
    ink = BLACK if way.dark else 1.0
    # a phone's picture holds no colour outside sRGB: what lies there is cut off
    colours = np.clip(film_colours(optics, films, ink=ink), 0, None)
    paper = film_colours(optics, np.zeros(1), paper=PAPER)[0]
    one = np.maximum.accumulate((way.ground - colours / paper) @ way.weights)
    return Granular(films, Closing.fitted(films, np.asarray(one - one[0])).sprinkled(splats))
