"""What spray aimed at one place does beside it: the tail of the jet, and mist that drifts.

An aimed airbrush stands square to the surface it is aimed at. Its footprint does not end where the
surface does: what passes beside it lands on whatever lies there and faces the jet. Mist spreads
wider and comes down whichever way a surface faces. Both are Gaussian about the place aimed at
(docs/models.md A5, A10), here in space and not along the surface, so that they cross a gap.
"""

from __future__ import annotations

import numpy as np
from scipy.ndimage import gaussian_filter, map_coordinates
from scipy.special import ndtr

from haze.core.arrays import Array, Floats

FINEST = 128  # voxels along the longest side
VOXELS_A_SIGMA = 2.0
REACH_SIGMAS = 3.0


def beside(points: Floats, normals: Floats, field: Floats, *, area: Floats, sigma: float) -> Floats:
    """(n,) float32 [0..1]: what lands from a jet held square to an aimed surface.

    1 in the middle of a wide flat place; beside it the Gaussian tail, by how far a surface faces
    the jet, and nothing behind it.

    Parameters
    ----------
    points : (n, 3) float32 [unit]
    normals : (n, 3) float32
    field : (n,) float32 [0..1], where the airbrush is aimed
    area : (n,) float32 [unit²], of each vertex
    sigma : float [unit], of the footprint
    """
    weighed = (field * area)[:, None] * normals
    blurred = _spread(points, weighed.astype(np.float64), sigma=sigma)
    facing = np.einsum("ij,ij->i", blurred, normals)
    return np.asarray(np.clip(facing, 0.0, 1.0), dtype=np.float32)


def halo(points: Floats, field: Floats, *, area: Floats, sigma: float) -> Floats:
    """(n,) float32 [0..1]: share of the mist of an aimed coat that comes down at each point.

    Parameters
    ----------
    points : (n, 3) float32 [unit]
    field : (n,) float32 [0..1], where the airbrush is aimed
    area : (n,) float32 [unit²], of each vertex
    sigma : float [unit], of the mist
    """
    weighed = (field * area)[:, None].astype(np.float64)
    spread = _spread(points, weighed, sigma=sigma)[:, 0]
    return np.asarray(np.clip(spread, 0.0, 1.0), dtype=np.float32)


def _spread(points: Floats, weighed: Array, *, sigma: float) -> Array:
    """(n, k) float: what lies on surfaces, blurred in space; a plane that is full all over gives 1.

    A Gaussian in space leaves 1/(√(2π)σ) of what lies on a plane in each unit of depth there.
    """
    low = points.min(axis=0).astype(np.float64)
    extent = float((points.max(axis=0) - low).max())
    voxel = max(sigma / VOXELS_A_SIGMA, extent / FINEST, 1e-6)
    rim = int(np.ceil(REACH_SIGMAS * sigma / voxel)) + 1
    at = (points - low) / voxel + rim
    shape = tuple(int(n) for n in np.ceil(at.max(axis=0)).astype(int) + rim + 1)
    cell = np.ravel_multi_index(tuple(np.round(at).astype(int).T), shape)
    scale = np.sqrt(2 * np.pi) * sigma / voxel**3
    found = np.empty(weighed.shape)
    for column in range(weighed.shape[1]):
        grid = np.bincount(cell, weights=weighed[:, column], minlength=int(np.prod(shape)))
        soft = gaussian_filter(
            grid.reshape(shape), sigma / voxel, mode="constant", truncate=REACH_SIGMAS
        )
        found[:, column] = map_coordinates(soft, at.T, order=1) * scale
    return found


def tail(away: Array | float, *, sigma: float) -> Array:
    """Film at a distance from the edge of an evenly sprayed half plane, 1 deep inside it.

    Parameters
    ----------
    away : (...) float [mm], beyond the edge
    sigma : float [mm], of the footprint or of the mist
    """
    return np.asarray(ndtr(-np.asarray(away) / sigma))
