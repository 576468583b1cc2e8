"""Where brush steps and weathering leave paint: edges, chips, streaks, washes, the rim of a base.

All are fields of 0 to 1 on the vertices, made from the surface alone: how much of each place is
covered. What single chips and streaks look like is finer than a mesh (`plan/texture.py`). Shares
are judged.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Floats, Longs
from haze.core.light.fields import rise, upper_edges
from haze.core.mesh.surface import Surface

LINE_FROM, LINE_FULL = 0.45, 0.75
CHIPPED_FLAT, CHIPPED_EDGE = 0.006, 0.42  # share of a flat place and of a sharp edge
WORN_PATCH = 7.0  # [units] over which one edge is worn more and another less
STREAKED = 0.2  # share of an upright face
STREAK_PATCH = 9.0  # [units]
SKIPPED = 0.15  # share of an edge that a dry brush leaves out
RIM_HEIGHT = 0.07  # of the piece's height
HARD_SEED = 0x9E3779B1


def _hashed(cells: Longs) -> Floats:
    """(n,) float32 0..1: a fixed random number for each cell."""
    mixed = np.zeros(cells.shape[:-1], dtype=np.uint64)
    for i, prime in enumerate((73856093, 19349663, 83492791)[: cells.shape[-1]]):
        mixed ^= cells[..., i].astype(np.uint64) * np.uint64(prime)
    mixed = (mixed * np.uint64(HARD_SEED)) & np.uint64(0xFFFFFFFF)
    mixed ^= mixed >> np.uint64(15)
    mixed = (mixed * np.uint64(2246822519)) & np.uint64(0xFFFFFFFF)
    return np.asarray((mixed ^ (mixed >> np.uint64(13))) / np.float32(2**32), dtype=np.float32)


def grain(points: Floats, *, size: float) -> Floats:
    """(n,) float32 0..1: smooth noise of a grain size, the same every time.

    Parameters
    ----------
    points : (n, d) float32, d up to 3
    size : float, in the units of the points
    """
    at = points / np.float32(size)
    low = np.floor(at).astype(np.int64)
    part = at - low
    part = part * part * (3 - 2 * part)
    total = np.zeros(len(points), dtype=np.float32)
    d = points.shape[1]
    for corner in range(2**d):
        offset = np.array([(corner >> i) & 1 for i in range(d)])
        weight = np.prod(np.where(offset, part, 1 - part), axis=1)
        total += weight.astype(np.float32) * _hashed(low + offset)
    return total


def dry_brushed(surface: Surface) -> Floats:
    """(n,) float32: edges that face up, less what a dry brush skips.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    return np.asarray(upper_edges(surface) * np.float32(1 - SKIPPED), dtype=np.float32)


def edge_lines(surface: Surface) -> Floats:
    """(n,) float32: only the sharpest of the edges that face up.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    return rise(upper_edges(surface), LINE_FROM, LINE_FULL)


def chips(surface: Surface) -> Floats:
    """(n,) float32: share that is chipped, most along edges, and some edges more than others.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    worn = 2.0 * rise(grain(surface.mesh.vertices, size=WORN_PATCH), 0.25, 0.75)
    edge = CHIPPED_EDGE * upper_edges(surface) ** 1.3
    return np.asarray(np.minimum((CHIPPED_FLAT + edge) * worn, 0.9), dtype=np.float32)


def streaks(surface: Surface) -> Floats:
    """(n,) float32: share of the faces that stand upright under stripes, some more than others.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    upright = 1.0 - rise(np.abs(surface.mesh.normals[:, 2]), 0.35, 0.7)
    often = 2.0 * rise(grain(surface.mesh.vertices, size=STREAK_PATCH), 0.2, 0.8)
    return np.asarray(STREAKED * upright * often, dtype=np.float32)


def rim(surface: Surface) -> Floats:
    """(n,) float32: the upright band round the foot of the piece.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    z = surface.mesh.vertices[:, 2]
    low, high = float(z.min()), float(z.max())
    band = z <= low + RIM_HEIGHT * (high - low)
    outward = surface.mesh.vertices[:, :2] / np.maximum(
        np.linalg.norm(surface.mesh.vertices[:, :2], axis=1, keepdims=True), 1e-6
    )
    faces_out = (surface.mesh.normals[:, :2] * outward).sum(axis=1) > 0.25
    level = np.abs(surface.mesh.normals[:, 2]) < 0.6
    return np.asarray(band & faces_out & level, dtype=np.float32)


def settled(film_um: Floats, *, cavity: Floats, area: Floats, gathers: float) -> Floats:
    """(n,) float32 [µm]: a wash that ran into the recesses, its volume kept.

    Thickness × (1 + g · cavity), scaled so that the same volume lies on the surface.

    Parameters
    ----------
    film_um : (n,) float32, as it was laid on
    cavity : (n,) float32, 1 − mean visibility
    gathers : float, g
    area : (n,) float [mesh unit²], of each vertex
    """
    deeper = film_um * (1 + np.float32(gathers) * cavity)
    volume = float((area * film_um).sum())
    now = float((area * deeper).sum())
    return np.asarray(deeper * np.float32(volume / now if now > 0 else 1.0), dtype=np.float32)
