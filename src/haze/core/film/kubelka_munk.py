"""Light in a paint film: Kubelka–Munk with two constants and thickness in µm.

Sources: Kubelka & Munk 1931, Kubelka 1948 (film over a ground), Saunderson 1942 (interface).
The exponential form equals the hyperbolic one and stays finite when nothing scatters.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]
INTERNAL_REFLECTION = 0.5  # Saunderson's k2, judged within its usual .4 to .6
TINY = 1e-12


def film(
    absorb: ArrayLike, scatter: ArrayLike, ground: ArrayLike, thickness_um: ArrayLike
) -> Array:
    """Reflectance [-] inside the binder of a film over a ground.

    Parameters
    ----------
    absorb, scatter : float [1/µm], K and S
    ground : float [-], reflectance of what lies below, inside the binder
    thickness_um : float [µm, dry]
    """
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    rg, x = np.asarray(ground, dtype=np.float64), np.asarray(thickness_um, dtype=np.float64)
    gamma = np.sqrt(k * (k + 2 * s))
    rho = s / np.maximum(k + s + gamma, TINY)
    # without absorption gamma vanishes and the film follows its own limit
    lossless = (1 - rg) * s * x
    v = (rg - rho) / np.maximum(1 - rho * rg, TINY)
    e = np.exp(-2 * gamma * x)
    absorbing = (rho + e * v) / np.maximum(1 + rho * e * v, TINY)
    scattering = (rg + lossless) / (1 + lossless)
    return np.asarray(np.where(gamma * np.maximum(x, 1.0) > 1e-7, absorbing, scattering))


def thick(absorb: ArrayLike, scatter: ArrayLike) -> Array:
    """Reflectance [-] of an endless film: R∞ = S/(K + S + γ)."""
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    return np.asarray(s / np.maximum(k + s + np.sqrt(k * (k + 2 * s)), TINY))


def absorption_ratio(thick_reflectance: ArrayLike) -> Array:
    """K/S [-] of a film of this R∞: (1 − R)²/(2R)."""
    r = np.clip(np.asarray(thick_reflectance, dtype=np.float64), 1e-6, 1 - 1e-9)
    return np.asarray((1 - r) ** 2 / (2 * r))


def ground_below(
    absorb: ArrayLike, scatter: ArrayLike, seen: ArrayLike, thickness_um: ArrayLike
) -> Array:
    """Ground reflectance [-] that a film turns into `seen`: the inverse of `film` (v/E)."""
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    r = np.asarray(seen, dtype=np.float64)
    gamma = np.sqrt(k * (k + 2 * s))
    rho = s / np.maximum(k + s + gamma, TINY)
    v = (r - rho) / (1 - rho * r) / np.exp(-2 * gamma * np.asarray(thickness_um))
    return np.asarray((v + rho) / (1 + rho * v))


def leave(inside: ArrayLike) -> Array:
    """Reflectance of the bare surface [-] from inside the binder: y = (1−k₂)R/(1−k₂R)."""
    r = np.asarray(inside, dtype=np.float64)
    return np.asarray((1 - INTERNAL_REFLECTION) * r / (1 - INTERNAL_REFLECTION * r))


def enter(outside: ArrayLike) -> Array:
    """Inverse of `leave`: R = y/(1 − k₂ + k₂y)."""
    y = np.asarray(outside, dtype=np.float64)
    return np.asarray(y / (1 - INTERNAL_REFLECTION + INTERNAL_REFLECTION * y))
