"""Plates, rods and rivets as closed bodies of their own, for machines with crisp edges.

Lengths in mm; z up, the show side faces −y.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import trimesh

from meshes.solid import Point

Bodies = list[trimesh.Trimesh]
BEVEL = 0.9


def box(at: Point, size: Point, *, tilt_deg: float = 0.0, bevel: float = BEVEL) -> trimesh.Trimesh:
    """Box with its upper edges taken off, tilted about the y axis."""
    x, y, z = (0.5 * s for s in size)
    b = min(bevel, 0.4 * min(size))
    low = [(sx * x, sy * y, -z) for sx in (-1, 1) for sy in (-1, 1)]
    rim = [(sx * x, sy * y, z - b) for sx in (-1, 1) for sy in (-1, 1)]
    top = [(sx * (x - b), sy * (y - b), z) for sx in (-1, 1) for sy in (-1, 1)]
    solid = trimesh.convex.convex_hull(np.array(low + rim + top))
    if tilt_deg:
        solid.apply_transform(
            trimesh.transformations.rotation_matrix(np.radians(tilt_deg), [0, 1, 0])
        )
    solid.apply_translation(at)
    return solid


def profile(outline: Sequence[tuple[float, float]], *, y: float, half: float) -> trimesh.Trimesh:
    """A convex side outline in x and z, drawn out to both sides of y."""
    flat = np.array(outline, dtype=np.float64)
    sides = [np.insert(flat, 1, y + way * half, axis=1) for way in (-1.0, 1.0)]
    return trimesh.convex.convex_hull(np.concatenate(sides))


def rod(a: Point, b: Point, radius: float, *, sections: int = 24) -> trimesh.Trimesh:
    return trimesh.creation.cylinder(radius=radius, segment=[a, b], sections=sections)


def rivets(start: Point, end: Point, count: int, *, radius: float = 0.55) -> Bodies:
    out = []
    for t in np.linspace(0, 1, count):
        at = np.array(start) * (1 - t) + np.array(end) * t
        bead = trimesh.creation.icosphere(subdivisions=1, radius=radius)
        bead.apply_translation(at)
        out.append(bead)
    return out
