"""Widths of lines: a Gaussian through the film across each, its pieces laid on each other first."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import curve_fit

from haze.core.arrays import Array, Floats
from haze.core.inspect.card import LINES_AWAY_MM, LINES_X, LINES_Y
from haze.core.inspect.reading.depth import Depth, Granular
from haze.core.inspect.reading.flattening import PX_MM, box_px

HALF_MM = (4.6, 5.4, 6.5)  # to each side of a line that is looked at
PIECES = 14
END_MM = 3.0  # of a line left out at each end
HELD = 0.7  # of pieces are kept: fingers and stops leave
SEEN = 0.1  # of the hiding film, where the eye sees the edge
LEAST_SHARE = 0.012  # a line fainter than this was not sprayed


@dataclass(frozen=True, slots=True)
class Line:
    """One line.

    Attributes
    ----------
    away_mm : float [mm], nozzle to card
    sigma_mm : float [mm], of the footprint; 0 when there is no line
    peak_um : float [µm, dry], film in its middle
    width_mm : float [mm], where it is seen
    unsure : float [-], spread of the width, relative
    broken : float [0..1], share of its length that is missing
    uneven : float [-], spread along it, relative
    y_mm : float [mm], its middle
    """

    away_mm: float
    sigma_mm: float
    peak_um: float
    width_mm: float
    unsure: float
    broken: float
    uneven: float
    y_mm: float


def lines_of(depth: Depth, *, hiding_um: float) -> tuple[Line, ...]:
    """The three lines of a card.

    Parameters
    ----------
    depth : of the card
    hiding_um : float [µm, dry], film that hides
    """
    return tuple(
        _line(depth, granular, y, away, half, hiding_um)
        for granular, y, away, half in zip(
            depth.lines, LINES_Y, LINES_AWAY_MM, HALF_MM, strict=True
        )
    )


def _gauss(y: Array, peak: float, middle: float, sigma: float, ground: float) -> Array:
    return np.asarray(ground + peak * np.exp(-0.5 * ((y - middle) / sigma) ** 2))


def _line(
    depth: Depth, granular: Granular, y0: float, away: float, half: float, hiding_um: float
) -> Line:
    x0, x1 = LINES_X[0] + END_MM, LINES_X[1] - END_MM
    strip = depth.shares[box_px(x0, y0 - half, x1 - x0, 2 * half)]
    y = (np.arange(strip.shape[0]) + 0.5) / PX_MM + round((y0 - half) * PX_MM) / PX_MM
    each = np.array([p.mean(axis=1) for p in np.array_split(strip, PIECES, axis=1)])
    ground = np.percentile(each, 15, axis=1)[:, None]
    over = np.clip(each - ground, 0, None)
    mass = over.sum(axis=1) / PX_MM
    usual = float(np.quantile(mass, 0.6))
    none = Line(away, 0.0, 0.0, 0.0, 1.0, 1.0, 1.0, y0)
    if usual < LEAST_SHARE or float(over.max(axis=1).mean()) < max(LEAST_SHARE, depth.noise / 4):
        return none
    broken = float(np.mean(mass < 0.45 * usual))
    uneven = float(np.std(mass) / max(float(mass.mean()), 1e-6))
    kept = np.argsort(np.abs(mass - np.median(mass)))[: max(3, round(HELD * PIECES))]
    kept = kept[mass[kept] > 0]
    middles = (over[kept] * y).sum(axis=1) / over[kept].sum(axis=1)
    at = float(np.median(middles))
    # a hand that slants broadens the mean: pieces are laid on each other
    shift = np.clip(middles - at, -0.8, 0.8)
    laid = np.mean([np.interp(y + s, y, p) for s, p in zip(shift, each[kept], strict=True)], axis=0)
    film = granular.film_um(laid)
    guess = [float(film.max() - film.min()), at, 0.07 * away, float(film.min())]
    try:
        fit, cov = curve_fit(
            _gauss,
            y,
            film,
            p0=guess,
            bounds=([0, y0 - 3, 0.15, -1], [500, y0 + 3, 8.0, 60]),
            max_nfev=400,
        )
    except (RuntimeError, ValueError):
        return none
    peak, middle, sigma = (float(v) for v in fit[:3])
    width = _seen_mm(peak, sigma, hiding_um)
    own = [_own_sigma(np.asarray(p, dtype=np.float64), np.asarray(y)) for p in each[kept]]
    spread = float(np.std(own) / max(sigma, 0.1))
    unsure = float(np.hypot(0.03, max(np.sqrt(cov[2, 2]) / sigma, spread / np.sqrt(len(kept)))))
    return Line(away, sigma, peak, width, min(unsure, 1.0), broken, uneven, middle)


def _own_sigma(profile: Array, y: Floats | Array) -> float:
    over = np.clip(profile - np.percentile(profile, 20), 0, None)
    total = max(float(over.sum()), 1e-9)
    middle = float((over * y).sum()) / total
    return float(np.sqrt((over * (y - middle) ** 2).sum() / total))


def _seen_mm(peak_um: float, sigma_mm: float, hiding_um: float) -> float:
    """Width where the film exceeds a share of the hiding film (as `footprint.line_width_mm`)."""
    ratio = max(peak_um / (SEEN * hiding_um), 1.0)
    return float(2 * sigma_mm * np.sqrt(2 * np.log(ratio)))
