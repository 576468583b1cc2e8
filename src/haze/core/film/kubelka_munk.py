"""Light in a paint film: Kubelka–Munk with two constants and thickness in µm.

Sources: Kubelka & Munk 1931, Z. tech. Phys. 12, 593; Kubelka 1948, doi:10.1364/JOSA.38.000448
(film over a ground); Saunderson 1942, doi:10.1364/JOSA.32.000727 (interface). The exponential form
equals the hyperbolic one and stays finite when nothing scatters. Single precision stays single.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from haze.core.arrays import Array

Reals = NDArray[Any] | float
INTERNAL_REFLECTION = 0.5  # Saunderson's k2, judged within its usual .4 to .6
TINY = 1e-12
LOSSLESS = 1e-7  # γX below which nothing is absorbed


def reals(values: Reals) -> NDArray[Any]:
    """Values as float64, or as float32 when they are.

    Parameters
    ----------
    values : (...) float
    """
    given = np.asarray(values)
    return given if given.dtype == np.float32 else given.astype(np.float64)


def coefficients(absorb: Array, scatter: Array) -> tuple[Array, Array]:
    """γ [1/µm] and ρ = R∞ [-] of a film: γ = √(K(K + 2S)), ρ = S/(K + S + γ).

    Parameters
    ----------
    absorb, scatter : (...) float [1/µm], K and S
    """
    gamma = np.sqrt(absorb * (absorb + 2 * scatter))
    return gamma, scatter / np.maximum(absorb + scatter + gamma, TINY)


def layered(
    ground: NDArray[Any], rho: NDArray[Any], left: NDArray[Any], out: NDArray[Any] | None = None
) -> NDArray[Any]:
    """Reflectance [-] over a ground: (ρ + e v)/(1 + ρ e v), v = (R_g − ρ)/(1 − ρR_g).

    Parameters
    ----------
    ground : (...) float [-], R_g, inside the binder
    rho : (...) float [-], R∞ of the film
    left : (...) float [-], e = e^(−2γX), what is left of light that goes through and back; used up
        where its shape is that of the result
    out : where to write; None for a new array
    """
    # in place where the shapes allow: arrays that leave the cache cost more than the sums
    v = np.asarray(rho * ground)
    np.subtract(1, v, out=v)
    np.divide(ground - rho, v, out=v)
    fits = v.shape == np.shape(left)
    v = np.multiply(v, left, out=v if fits else None)
    below = np.multiply(rho, v, out=left if fits and v.ndim else None)
    below = np.add(below, 1, out=below if v.ndim else None)
    v += rho
    return np.asarray(np.divide(v, below, out=out))


def film(absorb: Reals, scatter: Reals, ground: Reals, thickness_um: Reals) -> Array:
    """Reflectance [-] inside the binder of a film over a ground.

    Parameters
    ----------
    absorb, scatter : float [1/µm], K and S
    ground : float [-], reflectance of what lies below, inside the binder
    thickness_um : float [µm, dry]
    """
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    rg, x = np.asarray(ground, dtype=np.float64), np.asarray(thickness_um, dtype=np.float64)
    gamma, rho = coefficients(k, s)
    with np.errstate(divide="ignore", invalid="ignore"):
        absorbing = layered(rg, rho, np.exp(-2 * gamma * x))
    # without absorption gamma vanishes and the film follows its own limit
    lossless = (1 - rg) * s * x
    scattering = (rg + lossless) / (1 + lossless)
    return np.asarray(np.where(gamma * np.maximum(x, 1.0) > LOSSLESS, absorbing, scattering))


def thick(absorb: Reals, scatter: Reals) -> Array:
    """Reflectance [-] of an endless film: R∞ = S/(K + S + γ).

    Parameters
    ----------
    absorb, scatter : (...) float [1/µm], K and S
    """
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    return coefficients(k, s)[1]


def absorption_ratio(thick_reflectance: Reals) -> Array:
    """K/S [-] of a film of this R∞: (1 − R)²/(2R).

    Parameters
    ----------
    thick_reflectance : (...) float [0..1], R∞
    """
    r = np.clip(np.asarray(thick_reflectance, dtype=np.float64), 1e-6, 1 - 1e-9)
    return np.asarray((1 - r) ** 2 / (2 * r))


def ground_below(absorb: Reals, scatter: Reals, seen: Reals, thickness_um: Reals) -> Array:
    """Ground reflectance [-] that a film turns into `seen`: the inverse of `film` (v/E).

    Parameters
    ----------
    absorb, scatter : (...) float [1/µm], K and S
    seen : (...) float [0..1], inside the binder, above the film
    thickness_um : (...) float [µm, dry]
    """
    k, s = np.asarray(absorb, dtype=np.float64), np.asarray(scatter, dtype=np.float64)
    r = np.asarray(seen, dtype=np.float64)
    gamma, rho = coefficients(k, s)
    v = (r - rho) / (1 - rho * r) / np.exp(-2 * gamma * np.asarray(thickness_um))
    return np.asarray((v + rho) / (1 + rho * v))


def leave(inside: Reals) -> NDArray[Any]:
    """Reflectance of the bare surface [-] from inside the binder: y = (1−k₂)R/(1−k₂R).

    Parameters
    ----------
    inside : (...) float [0..1]
    """
    r = reals(inside)
    return np.asarray((1 - INTERNAL_REFLECTION) * r / (1 - INTERNAL_REFLECTION * r))


def enter(outside: Reals) -> Array:
    """Inverse of `leave`: R = y/(1 − k₂ + k₂y).

    Parameters
    ----------
    outside : (...) float [0..1], below the surface
    """
    y = np.asarray(outside, dtype=np.float64)
    return np.asarray(y / (1 - INTERNAL_REFLECTION + INTERNAL_REFLECTION * y))
