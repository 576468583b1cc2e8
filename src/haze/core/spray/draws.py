"""Points of a normal distribution spread evenly, the same on every run."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.special import ndtri

from haze.core.arrays import Array


@lru_cache(maxsize=8)
def normals(dimensions: int, *, count: int, seed: int) -> Array:
    """(count, dimensions) standard normals: a scrambled Sobol sequence through their quantile.

    Parameters
    ----------
    dimensions : int
    count : int, a power of two
    seed : int, of the scrambling
    """
    from scipy.stats import qmc  # takes a second to load

    points = qmc.Sobol(dimensions, seed=seed).random(count)
    return np.asarray(ndtri(np.clip(points, 1e-6, 1 - 1e-6)))
