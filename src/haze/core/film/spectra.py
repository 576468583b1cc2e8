"""Twelve-band spectra and the way between them and sRGB.

Source: S. A. Burns, *Numerical methods for smoothest reflectance reconstruction*, 2020 (least
slope in the hyperbolic-tangent domain). Band matrix from CIE 1931 2° observer and D65, derived by
tools/derive_bands.py and checked by a test.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike

from haze.core.arrays import Array
from haze.core.errors import OutOfRangeError
from haze.core.film.srgb import LUMINANCE, linear_of_hex, parse_hex

BANDS = 12
BAND_CENTRES_NM: Array = np.arange(412.5, 700.0, 25.0)
BAND_TO_RGB: Array = np.array(
    [
        (0.01336937, -0.01186433, 0.08498668),
        (0.04820508, -0.04805420, 0.40256456),
        (-0.00558103, -0.01776668, 0.45124723),
        (-0.10766384, 0.08716472, 0.15802991),
        (-0.20784983, 0.25401352, 0.01218909),
        (-0.14961322, 0.36836716, -0.03563631),
        (0.12253276, 0.28955928, -0.03779254),
        (0.42693461, 0.11585716, -0.02289823),
        (0.49725863, -0.00564148, -0.00930604),
        (0.26429352, -0.02152378, -0.00266026),
        (0.07973451, -0.00813485, -0.00059878),
        (0.01837943, -0.00197654, -0.00012531),
    ]
)
FLOOR, CEILING = 2e-4, 0.999
NEWTON_STEPS = 60


def rgb_of(reflectance: ArrayLike) -> Array:
    """Linear sRGB [-] of reflectances whose first axis is the twelve bands.

    Parameters
    ----------
    reflectance : (12, ...) float [0..1], by band
    """
    bands = np.asarray(reflectance, dtype=np.float64)
    if bands.shape[0] != BANDS:
        raise OutOfRangeError(f"A spectrum has {BANDS} bands of 25 nm from 400 to 700 nm.")
    return np.asarray(np.tensordot(BAND_TO_RGB, bands, axes=(0, 0)))


def luminance_of(reflectance: ArrayLike) -> Array:
    """CIE Y [-], 1 for a perfect white, of reflectances band-major.

    Parameters
    ----------
    reflectance : (12, ...) float [0..1], by band
    """
    return np.asarray(np.tensordot(LUMINANCE, rgb_of(reflectance), axes=(0, 0)))


def spectrum_of_rgb(linear_rgb: ArrayLike) -> Array:
    """(12,) float [-]: the reflectance of least slope with this linear sRGB colour.

    Minimises Σ(Δz)² for R = (tanh z + 1)/2 subject to AᵀR = rgb by Newton's method on the
    15 × 15 system of multipliers (Burns 2020, method LHTSS).

    Parameters
    ----------
    linear_rgb : (..., 3) float [0..1], linear
    """
    goal = np.clip(np.asarray(linear_rgb, dtype=np.float64), FLOOR, CEILING)
    slope = np.zeros((BANDS, BANDS))
    for i in range(BANDS - 1):
        slope[i : i + 2, i : i + 2] += np.array([[2.0, -2.0], [-2.0, 2.0]])
    z, multipliers = np.zeros(BANDS), np.zeros(3)
    for _ in range(NEWTON_STEPS):
        tanh = np.tanh(z)
        first = 0.5 * (1 - tanh**2)
        second = -tanh * (1 - tanh**2)
        pull = BAND_TO_RGB @ multipliers
        f = np.concatenate([slope @ z + first * pull, BAND_TO_RGB.T @ ((tanh + 1) / 2) - goal])
        if np.max(np.abs(f)) < 1e-10:
            break
        jacobian = np.zeros((BANDS + 3, BANDS + 3))
        jacobian[:BANDS, :BANDS] = slope + np.diag(second * pull)
        jacobian[:BANDS, BANDS:] = first[:, None] * BAND_TO_RGB
        jacobian[BANDS:, :BANDS] = BAND_TO_RGB.T * first
        step = np.linalg.lstsq(jacobian, -f, rcond=None)[0]
        z = z + np.clip(step[:BANDS], -3, 3)
        multipliers = multipliers + step[BANDS:]
    return np.asarray((np.tanh(z) + 1) / 2)


@lru_cache(maxsize=8192)
def _cached_spectrum(text: str) -> tuple[float, ...]:
    return tuple(float(v) for v in spectrum_of_rgb(linear_of_hex(text)))


def spectrum_of_hex(text: str) -> Array:
    """(12,) float [-]: reflectance of "#rrggbb".

    Parameters
    ----------
    text : #rrggbb
    """
    parse_hex(text)
    return np.array(_cached_spectrum(text.lower()))
