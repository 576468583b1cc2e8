"""Specks and grain: single splats that can be seen, lumps of a thin film, clumps of half-dry ones.

A round spot much smaller than a Gaussian of spread s, smoothed by it, peaks at its whole depth over
2 π s². The difference of two Gaussians (Marr & Hildreth 1980) takes the ground away; the largest
D²·contrast over a few spreads is that of the spot.

Where splats overlap they cannot be counted, but of splats thrown by chance the third moment of the
sum is that of a single one times how many there are (Rice 1944), and noise of a camera has none.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.inspect.reading.flattening import PX_MM, box_px

SPREADS_MM = (0.05, 0.09, 0.16, 0.28)
WIDER = 1.6
SEEN_MM2 = 0.085**2  # D²·contrast of the least that is seen
CLOSED = 0.8  # share of paint from which on single splats cannot be separated
GROUND_MM = 0.9
STEPS = (1, 2, 4, 8)
LEAST_CM2 = 0.3
MOST_SPOTS = 60
THIN = (0.004, 0.5)  # shares of paint from which, and to which, moments tell of splats
LEAST_PX = 2000


@dataclass(frozen=True, slots=True)
class Specks:
    """Specks of a part of a card.

    Attributes
    ----------
    steps : (4,) float [1/cm²], spots at least so visible: D²·contrast over 1, 2, 4, 8 times the
        least that is seen; the finest mist is rough enough to give some of the first
    area_cm2 : float [cm²], that was looked at
    spots : (n, 3) float [mm], place and diameter of the most visible
    """

    steps: Array
    area_cm2: float
    spots: Array


def blurred(shares: Floats, sigma_mm: float) -> Floats:
    """A part of a card smoothed by a Gaussian.

    Parameters
    ----------
    shares : (h, w) float32
    sigma_mm : float [mm]
    """
    return np.asarray(cv2.GaussianBlur(shares, (0, 0), sigma_mm * PX_MM))


def _film(
    shares: Floats,
    box: tuple[float, float, float, float],
    beside: Mask | None,
    *,
    least: float = -np.inf,
    most: float,
) -> tuple[Floats, Floats, Mask]:
    """Shares within a box, their ground, and where that lies within limits and is not left out."""
    rows, columns = box_px(*box)
    here = shares[rows, columns]
    ground = blurred(here, GROUND_MM)
    within = (ground >= least) & (ground < most)
    if beside is not None:
        within &= ~beside[rows, columns]
    return here, ground, within


def specks_in(
    shares: Floats,
    box: tuple[float, float, float, float],
    *,
    contrast: float,
    beside: Mask | None = None,
) -> Specks:
    """Specks within a box.

    Parameters
    ----------
    shares : (h, w) float32, of the whole card: 0 bare, 1 closed
    box : (x, y, w, h) [mm]
    contrast : float [0..1], of the closed paint against its ground
    beside : (h, w) bool, what is left out, such as what lies under fingers
    """
    here, _, open_ = _film(shares, box, beside, most=CLOSED)
    strongest = np.zeros_like(here)
    for s in SPREADS_MM:
        off = _between(here, s)
        whole = off * np.float32(2 * np.pi * s * s / (1 - WIDER**-2) * 4 / np.pi * contrast)
        np.maximum(strongest, whole, out=strongest)
    apart = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (7, 7))
    peaks = (strongest >= cv2.dilate(strongest, apart)) & (strongest >= SEEN_MM2) & open_
    y, x = np.nonzero(peaks)
    sizes = strongest[y, x]
    order = np.argsort(-sizes)[:MOST_SPOTS]
    at = np.stack([x[order], y[order]], axis=1) / PX_MM + np.array(box[:2])
    across = np.sqrt(sizes[order] / max(contrast, 0.05))
    area = float(open_.sum()) / PX_MM**2 / 100
    counts = np.array([float(np.sum(sizes >= SEEN_MM2 * k)) for k in STEPS])
    return Specks(
        steps=counts / max(area, LEAST_CM2),
        area_cm2=area,
        spots=np.column_stack([at, across]),
    )


def _between(here: Floats, spread_mm: float) -> Floats:
    """What is about as large as a spread, the ground taken away."""
    return np.asarray(blurred(here, spread_mm) - blurred(here, WIDER * spread_mm))


def lumps_in(
    shares: Floats, box: tuple[float, float, float, float], *, beside: Mask | None = None
) -> Array:
    """(4,) float [-]: how lumpy a thin film is, however its splats overlap.

    The third moment of the shares at each spread over their mean; none where no film is thin.

    Parameters
    ----------
    shares : (h, w) float32, of the whole card: 0 bare, 1 closed
    box : (x, y, w, h) [mm]
    beside : (h, w) bool, what is left out
    """
    here, ground, thin = _film(shares, box, beside, least=THIN[0], most=THIN[1])
    if thin.sum() < LEAST_PX:
        return np.zeros(len(SPREADS_MM))
    apart = (_between(here, s)[thin].astype(np.float64) for s in SPREADS_MM)
    return np.array([np.mean((a - a.mean()) ** 3) for a in apart]) / float(ground[thin].mean())


@dataclass(frozen=True, slots=True)
class Grain:
    """How uneven a thin film is, as spreads over that of a random sprinkle of its mean.

    Attributes
    ----------
    fine : float [-], under .12 mm
    coarse : float [-], of clumps of .2 to .8 mm
    """

    fine: float
    coarse: float


def grain_in(
    shares: Floats, box: tuple[float, float, float, float], *, noise: float, beside: Mask | None
) -> Grain:
    """Grain within a box, where the film is neither bare nor closed.

    Parameters
    ----------
    shares : (h, w) float32, of the whole card
    box : (x, y, w, h) [mm]
    noise : float [-], spread on bare ground
    beside : (h, w) bool, what is left out
    """
    here, ground, thin = _film(shares, box, beside, least=0.08, most=0.85)
    if thin.sum() < 400:
        return Grain(0.0, 0.0)
    usual = np.sqrt(np.clip(ground * (1 - ground), 0.02, None))
    fine = (blurred(here, 0.05) - blurred(here, 0.12)) / usual
    coarse = (blurred(here, 0.18) - blurred(here, 0.7)) / usual
    return Grain(
        float(np.sqrt(max(float(np.var(fine[thin])) - (0.35 * noise) ** 2, 0))),
        float(np.std(coarse[thin])),
    )
