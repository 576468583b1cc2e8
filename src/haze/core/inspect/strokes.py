"""Strokes and dots of the hand over a card, and the mean film that lands under each."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray
from scipy.special import erf

from haze.core.arrays import Array
from haze.core.inspect.landing import SprayLanding

Grid = NDArray[Any]

REACH = 4.2  # sigmas from a mark's middle beyond which nothing of it is drawn
STOPS_FROM = 0.5  # risk of no flow from which on a stroke is broken
STOP_MM = 5.0  # of stroke between stops of a clogged airbrush


@dataclass(frozen=True, slots=True)
class Stroke:
    """A stroke of the hand over a card: from and to (x, y) [mm].

    `slowly` is the time it takes over that of the setting's own hand.
    """

    landing: SprayLanding
    start: tuple[float, float]
    end: tuple[float, float]
    slowly: float = 1.0


@dataclass(frozen=True, slots=True)
class Dot:
    """A burst on one place (x, y) [mm], with the hand still, for some seconds."""

    landing: SprayLanding
    at: tuple[float, float]
    seconds: float


Mark = Stroke | Dot


def ends(mark: Mark) -> tuple[Array, Array]:
    """(2,) float [mm] each: where a mark begins and ends.

    Parameters
    ----------
    mark : a stroke or a dot
    """
    if isinstance(mark, Dot):
        return np.array(mark.at), np.array(mark.at)
    return np.array(mark.start), np.array(mark.end)


def box_of(mark: Mark, px_mm: float, h: int, w: int) -> tuple[slice, slice]:
    """Rows and columns of a picture that a mark reaches.

    Parameters
    ----------
    mark : a stroke or a dot
    px_mm : float, pixels a millimetre
    h, w : int [px], of the picture
    """
    a, b = ends(mark)
    reach = REACH * mark.landing.sigma_mm
    low = np.floor((np.minimum(a, b) - reach) * px_mm).astype(int)
    high = np.ceil((np.maximum(a, b) + reach) * px_mm).astype(int) + 1
    x0, x1 = np.clip([low[0], high[0]], 0, w)
    y0, y1 = np.clip([low[1], high[1]], 0, h)
    return slice(int(y0), int(y1)), slice(int(x0), int(x1))


def landed(mark: Mark, x: Grid, y: Grid, rng: Generator) -> Grid:
    """(rows, columns) float [µm, wet]: the mean film of a mark.

    Parameters
    ----------
    mark : a stroke or a dot
    x : (columns,) float [mm]
    y : (rows,) float [mm]
    rng : of where a clogged airbrush stops
    """
    a, b = ends(mark)
    stops = mark.landing.stops > STOPS_FROM
    if (a[0] == b[0] or a[1] == b[1]) and not stops:  # upright or level: rows times columns
        mx, my = middle(mark)
        most = float(mean_wet_um(mark, mx, my)[0])
        if most > 0:
            rows, columns = mean_wet_um(mark, mx, y), mean_wet_um(mark, x, my)
            return np.asarray(np.outer(rows, columns / most), dtype=np.float32)
    px, py = np.meshgrid(x, y)
    found = mean_wet_um(mark, px, py)
    return np.asarray(found * _flowing(mark, px, py, rng) if stops else found, dtype=np.float32)


def _along(mark: Mark, x: Grid, y: Grid) -> tuple[Grid, Grid, float]:
    """Millimetres along a stroke and beside it, and how long it is."""
    a, b = ends(mark)
    length = float(np.hypot(*(b - a)))
    u = (b - a) / length if length > 0 else np.array([1.0, 0.0])
    return (
        (x - a[0]) * u[0] + (y - a[1]) * u[1],
        -(x - a[0]) * u[1] + (y - a[1]) * u[0],
        length,
    )


def mean_wet_um(mark: Mark, x: Grid, y: Grid) -> Grid:
    """Wet film [µm] that lands on the mean: a Gaussian, swept along a stroke or held still.

    Parameters
    ----------
    mark : a stroke or a dot
    x, y : (...) float [mm], places; they broadcast
    """
    sigma = mark.landing.sigma_mm
    along, beside, length = _along(mark, x, y)
    across = np.exp(-0.5 * (beside / sigma) ** 2)
    if isinstance(mark, Dot):
        held = mark.landing.volume_mm3_s * mark.seconds / (2 * np.pi * sigma**2) * 1e3
        return np.asarray(held * across * np.exp(-0.5 * (along / sigma) ** 2))
    root = np.sqrt(2) * sigma
    ends = 0.5 * (erf(along / root) - erf((along - length) / root))
    return np.asarray(mark.slowly * mark.landing.wet_um * across * ends)


def _flowing(mark: Mark, x: Grid, y: Grid, rng: Generator) -> Grid | float:
    """Share of the flow that comes, along a stroke: it stops and spits where it clogs."""
    stops = float(np.clip((mark.landing.stops - STOPS_FROM) / (1 - STOPS_FROM), 0, 1))
    if stops == 0:
        return 1.0
    if isinstance(mark, Dot):
        return float(rng.uniform(0, 1) > stops) * 0.8 + 0.05
    along, _, length = _along(mark, x, y)
    knots = max(3, round(length / STOP_MM) + 2)
    comes = np.interp(along, np.linspace(0, length, knots), rng.uniform(0, 1, knots) - stops)
    return np.asarray(np.clip(comes / 0.15, 0.02 * (1 - stops), 1))


def middle(mark: Mark) -> tuple[Array, Array]:
    """(1,) float [mm] each: x and y of the middle of a mark.

    Parameters
    ----------
    mark : a stroke or a dot
    """
    a, b = ends(mark)
    return np.array([(a[0] + b[0]) / 2]), np.array([(a[1] + b[1]) / 2])
