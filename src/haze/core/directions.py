"""Directions on the sphere: angles of the trade, a Fibonacci set and its Voronoi weights.

One meaning everywhere (docs/models.md part 0): azimuth 0 is the show side (−y), counted clockwise
seen from above; elevation +90 is overhead.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy.spatial import SphericalVoronoi

from haze.core.arrays import Array, Longs

__all__ = ("Cone", "fibonacci_directions", "free_directions")

COUNT = 512


def direction_of(azimuth_deg: ArrayLike, elevation_deg: ArrayLike) -> Array:
    """(..., 3) float [-]: unit vector from the piece to a station or light.

    d = (−sin α cos ε, −cos α cos ε, sin ε)

    Parameters
    ----------
    azimuth_deg : (...) float [°], 0 from the show side, 90 from the painter's left
    elevation_deg : (...) float [°], 0 level, 90 straight above
    """
    a, e = np.radians(np.asarray(azimuth_deg)), np.radians(np.asarray(elevation_deg))
    return np.stack(
        np.broadcast_arrays(-np.sin(a) * np.cos(e), -np.cos(a) * np.cos(e), np.sin(e)), axis=-1
    )


def facing(azimuth_deg: float, elevation_deg: float) -> tuple[Array, Array, Array]:
    """(3,) unit vectors toward one who looks at the piece, and to their right and up.

    Parameters
    ----------
    azimuth_deg, elevation_deg : float [°], from where it is looked at; not straight overhead
    """
    toward = direction_of(azimuth_deg, elevation_deg)
    right = np.cross([0.0, 0.0, 1.0], toward)
    right = right / np.linalg.norm(right)
    return toward, right, np.cross(toward, right)


def angles_of(direction: ArrayLike) -> tuple[Array, Array]:
    """Azimuth [°, 0..360) and elevation [°] of unit vectors on the last axis.

    Parameters
    ----------
    direction : (..., 3) float, of any length
    """
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


@dataclass(frozen=True, slots=True)
class Cone:
    """A part of the sky: all directions within a half angle [°] of its middle."""

    azimuth_deg: float
    elevation_deg: float
    half_angle_deg: float


def free_directions(cones: Sequence[Cone], directions: Array | None = None) -> Longs:
    """(m,) int: numbers of the directions outside every cone.

    Parameters
    ----------
    cones : parts of the sky that are blocked
    directions : (k, 3) float [-], unit; None for the standard set
    """
    d = fibonacci_directions() if directions is None else directions
    free = np.ones(len(d), dtype=bool)
    for cone in cones:
        middle = direction_of(cone.azimuth_deg, cone.elevation_deg)
        free &= d @ middle < np.cos(np.radians(cone.half_angle_deg))
    return np.flatnonzero(free)


def is_free(azimuth_deg: float, elevation_deg: float, cones: Sequence[Cone]) -> bool:
    """Whether a direction lies outside every cone.

    Parameters
    ----------
    azimuth_deg, elevation_deg : float [°]
    cones : parts of the sky that are blocked
    """
    return bool(len(free_directions(cones, direction_of([azimuth_deg], [elevation_deg]))))


def signed_azimuth(azimuth_deg: float) -> float:
    """Azimuth as −180 (included) to 180 [°]; positive lies to the painter's left.

    Parameters
    ----------
    azimuth_deg : float [°]
    """
    return (azimuth_deg + 180.0) % 360.0 - 180.0
