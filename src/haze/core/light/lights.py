"""Light on the piece: soft sky, key lights, and glows so near that distance counts (models.md B4).

All values are light on a matt surface: 1 where an unshaded surface lies square to the source (for
a glow: at its reach). They add; what is shown or sprayed is clipped to 1.
"""

from __future__ import annotations

from typing import Literal

import numpy as np

from haze.core.arrays import Array, Floats, Mask, Table
from haze.core.directions import fibonacci_directions, voronoi_weights
from haze.core.light.stations import weighted_rows
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import Scene, origins_of

GlowShape = Literal["sphere", "strip", "pool"]

GLOW_POINTS = 16
NEAREST = 0.05  # a point nearer than this to a source counts as this far, in prepared units


def sky(table: Table) -> Floats:
    """(n,) float32 [-]: light of an evenly bright dome; 1 on an open surface that faces up.

    E = Σ w · c over the upper half, divided by the same sum for a surface facing up.

    Parameters
    ----------
    table : visibility by direction and vertex
    """
    d, w = fibonacci_directions(table.shape[0]), voronoi_weights(table.shape[0])
    rows = np.flatnonzero(d[:, 2] > 0)
    open_up = float(w[rows] @ d[rows, 2])
    return weighted_rows(table, rows, (w[rows] / open_up).astype(np.float32))


def glow_points(
    shape: GlowShape, at: Array, to: Array, radius: float
) -> tuple[Array, Array | None]:
    """Sample points of a source, and the way it faces when it lights to one side only.

    Parameters
    ----------
    at : (3,) float, middle of a sphere or pool, one end of a strip
    to : (3,) float, the other end of a strip
    radius : float, of a sphere or pool, in the units of the points
    shape : where it sits and how large
    """
    i = np.arange(GLOW_POINTS) + 0.5
    turn = np.pi * (1 + np.sqrt(5.0)) * i
    if shape == "strip":
        return at + (i / GLOW_POINTS)[:, None] * (to - at), None
    if shape == "pool":
        r = radius * np.sqrt(i / GLOW_POINTS)
        flat = np.stack([r * np.cos(turn), r * np.sin(turn), np.zeros(GLOW_POINTS)], axis=1)
        return at + flat, np.array([0.0, 0.0, 1.0])
    return at + radius * fibonacci_directions(GLOW_POINTS), None


def glow(
    mesh: PreparedMesh,
    scene: Scene,
    *,
    shape: GlowShape,
    at: Array,
    to: Array,
    radius: float,
    reach: float,
    clear: float = 0.0,
    members: Mask | None = None,
) -> Floats:
    """(n,) float32 [-]: near-field light; 1 on an open surface square to the source at its reach.

    value = mean over the source of cos · (reach / d)², times the cosine at a pool that faces up,
    0 where something stands between.

    Parameters
    ----------
    scene : what blocks this light
    at, to : (3,) float, in prepared units
    radius, reach, clear : float, in prepared units; what stands within `clear` of the source (the
        housing of a lamp) throws no shadow
    members : (n,) bool, vertices that are lit; None for all
    mesh : a prepared one
    shape : where it sits and how large
    """
    points, faces = glow_points(shape, at, to, radius)
    kept = np.arange(len(mesh.vertices)) if members is None else np.flatnonzero(members)
    origins, normals = origins_of(mesh)[kept], mesh.normals[kept]
    total = np.zeros(len(kept), dtype=np.float32)
    for point in points.astype(np.float32):
        way = point - origins
        distance = np.sqrt(np.einsum("ij,ij->i", way, way))
        unit = way / np.maximum(distance, 1e-6)[:, None]
        value = np.einsum("ij,ij->i", normals, unit)
        if faces is not None:
            value = np.where(value > 0, value * np.maximum(-unit @ faces.astype(np.float32), 0), 0)
        lit = np.flatnonzero(value > 1e-4)
        far = np.maximum(distance[lit] - np.float32(clear), 0.0)
        hidden = scene.blocked(origins[lit], unit[lit], within=far) & (far > 0)
        strength = value[lit] * (reach / np.maximum(distance[lit], NEAREST)) ** 2
        total[lit] += np.where(hidden, 0.0, strength).astype(np.float32)
    out = np.zeros(len(mesh.vertices), dtype=np.float32)
    out[kept] = total / GLOW_POINTS
    return out
