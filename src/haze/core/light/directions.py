"""Directions on the sphere: angles of the trade, a Fibonacci set and its Voronoi weights.

One meaning everywhere (docs/models.md part 0): azimuth 0 is the show side (−y), counted clockwise
seen from above; elevation +90 is overhead.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.spatial import SphericalVoronoi

Array = NDArray[np.float64]
COUNT = 512


def direction_of(azimuth_deg: ArrayLike, elevation_deg: ArrayLike) -> Array:
    """(..., 3) float [-]: unit vector from the piece to a station or light.

    d = (−sin α cos ε, −cos α cos ε, sin ε)
    """
    a, e = np.radians(np.asarray(azimuth_deg)), np.radians(np.asarray(elevation_deg))
    return np.stack(
        np.broadcast_arrays(-np.sin(a) * np.cos(e), -np.cos(a) * np.cos(e), np.sin(e)), axis=-1
    )


def angles_of(direction: ArrayLike) -> tuple[Array, Array]:
    """Azimuth [°, 0..360) and elevation [°] of unit vectors on the last axis."""
    d = np.asarray(direction, dtype=np.float64)
    azimuth = np.degrees(np.arctan2(-d[..., 0], -d[..., 1])) % 360.0
    return azimuth, np.degrees(np.arcsin(np.clip(d[..., 2], -1, 1)))


@lru_cache(maxsize=4)
def fibonacci_directions(count: int = COUNT) -> Array:
    """(count, 3) float [-]: evenly scattered unit vectors over the whole sphere."""
    i = np.arange(count) + 0.5
    z = 1 - 2 * i / count
    turn = np.pi * (1 + np.sqrt(5.0)) * i
    r = np.sqrt(1 - z * z)
    out = np.stack([r * np.cos(turn), r * np.sin(turn), z], axis=1)
    out.setflags(write=False)
    return out


@lru_cache(maxsize=4)
def voronoi_weights(count: int = COUNT) -> Array:
    """(count,) float [-]: share of the sphere nearest to each direction; they sum to 1."""
    areas = SphericalVoronoi(fibonacci_directions(count)).calculate_areas()
    out = np.asarray(areas / areas.sum())
    out.setflags(write=False)
    return out
