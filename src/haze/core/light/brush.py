"""Where brush steps and weathering leave paint: edges, chips, streaks, washes, the rim of a base.

All are fields of 0 to 1 on the vertices, made from the surface alone; thresholds are judged.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Floats, Longs
from haze.core.light.fields import rise, upper_edges
from haze.core.mesh.surface import Surface

LINE_FROM, LINE_FULL = 0.45, 0.75
CHIP_GRAIN, CHIP_FROM, CHIP_FULL = 0.8, 0.68, 0.75  # [units], share of the noise
CHIP_EDGE = 0.35  # how much an edge draws chips
STREAK_WIDTH, STREAK_FROM = 0.8, 0.58
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
    """(n,) float32: edges that face up, broken up where a dry brush skips.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    skips = 0.7 + 0.3 * grain(surface.mesh.vertices, size=0.7)
    return np.asarray(upper_edges(surface) * skips, dtype=np.float32)


def edge_lines(surface: Surface) -> Floats:
    """(n,) float32: only the sharpest of the edges that face up.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    return rise(upper_edges(surface), LINE_FROM, LINE_FULL)


def chips(surface: Surface) -> Floats:
    """(n,) float32: small hard-edged spots, most along edges.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    noise = grain(surface.mesh.vertices, size=CHIP_GRAIN)
    fine = grain(surface.mesh.vertices + np.float32(37), size=CHIP_GRAIN / 2.2)
    pull = CHIP_EDGE * upper_edges(surface) - 0.5 * CHIP_EDGE * 0.35
    return rise(0.65 * noise + 0.35 * fine + pull, CHIP_FROM, CHIP_FULL)


def streaks(surface: Surface) -> Floats:
    """(n,) float32: narrow stripes down the faces that stand upright.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    flat = surface.mesh.vertices[:, :2]
    stripe = rise(grain(flat, size=STREAK_WIDTH), STREAK_FROM, STREAK_FROM + 0.2)
    upright = 1.0 - rise(np.abs(surface.mesh.normals[:, 2]), 0.35, 0.7)
    fades = 0.55 + 0.45 * grain(surface.mesh.vertices, size=9.0)
    return np.asarray(stripe * upright * fades, dtype=np.float32)


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
