"""Array types shared by the spray modules."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array

EPS = 1e-30


def logistic(ratio: Array, *, spread: float) -> Array:
    """Risk 0..1 of a fault number over its limit: 1 / (1 + exp(-ln(ratio)/spread)).

    Parameters
    ----------
    ratio : float [-], fault number over its limit; 1 gives .5
    spread : float [-], softness in ln units
    """
    exponent = np.clip(-np.log(np.maximum(ratio, 1e-12)) / spread, -60.0, 60.0)
    return np.asarray(1.0 / (1.0 + np.exp(exponent)), dtype=np.float64)


def any_of(*risks: Array) -> Array:
    """Chance that at least one independent cause strikes: 1 - Π(1 - r).

    Parameters
    ----------
    risks : (...) float [0..1], of each cause
    """
    clear = np.ones((), dtype=np.float64)
    for risk in risks:
        clear = clear * (1.0 - risk)
    return np.asarray(1.0 - clear, dtype=np.float64)
