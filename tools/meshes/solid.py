"""Solids from signed distances on a grid, turned into a mesh by marching cubes.

Lengths in mm; z up, the show side faces −y. A distance is negative inside.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from scipy.ndimage import gaussian_filter
from skimage.measure import marching_cubes

from haze.core.arrays import Floats, Ints

Grid = Floats
Mesh = tuple[Floats, Ints]  # vertices [mm] and faces
Point = tuple[float, float, float]
Shape = Callable[[Grid, Grid, Grid], Grid]
FAR = np.float32(1e3)
SMOOTH_CELLS = 0.8


def blend(a: Grid, b: Grid, k: float) -> Grid:
    """Union rounded over a length k (polynomial smooth minimum)."""
    if k <= 0:
        return np.minimum(a, b)
    h = np.clip(0.5 + 0.5 * (b - a) / k, 0, 1)
    return np.asarray(b + (a - b) * h - k * h * (1 - h), dtype=np.float32)


def ellipsoid(at: Point, radii: Point) -> Shape:
    """Ellipsoid by its centre and half axes."""
    small = min(radii)

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        q = ((x - at[0]) / radii[0]) ** 2 + ((y - at[1]) / radii[1]) ** 2
        return (np.sqrt(q + ((z - at[2]) / radii[2]) ** 2) - 1) * small

    return d


def limb(a: Point, b: Point, ra: float, rb: float) -> Shape:
    """Rounded cone from a to b."""
    pa, ba = np.array(a), np.array(b) - np.array(a)
    length = float(ba @ ba)

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        px, py, pz = x - pa[0], y - pa[1], z - pa[2]
        t = np.clip((px * ba[0] + py * ba[1] + pz * ba[2]) / length, 0, 1)
        gone = np.sqrt((px - t * ba[0]) ** 2 + (py - t * ba[1]) ** 2 + (pz - t * ba[2]) ** 2)
        return gone - (ra + (rb - ra) * t)

    return d


def ring(at: Point, radius: float, thick: float, axis: str = "z") -> Shape:
    """Torus around an axis."""

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        p = {"x": x - at[0], "y": y - at[1], "z": z - at[2]}
        h = p.pop(axis)
        u, v = p.values()
        return np.sqrt((np.sqrt(u * u + v * v) - radius) ** 2 + h * h) - thick

    return d


def prism(at: Point, radius: float, half: float, sides: int, top: float = 1.0) -> Shape:
    """Upright prism or pyramid stump; `top` scales its radius at the upper end."""
    inner = np.cos(np.pi / sides)

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        px, py, pz = x - at[0], y - at[1], z - at[2]
        r = radius * (1 + (top - 1) * np.clip((pz + half) / (2 * half), 0, 1))
        step = 2 * np.pi / sides
        a = np.mod(np.arctan2(py, px) + step / 2, step) - step / 2
        side = np.sqrt(px * px + py * py) * np.cos(a) - r * inner
        return np.maximum(side, np.abs(pz) - half)

    return d


def box(at: Point, half: Point, edge: float = 0.0) -> Shape:
    """Box by its centre and half sizes, edges rounded."""

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        qx = np.abs(x - at[0]) - half[0] + edge
        qy = np.abs(y - at[1]) - half[1] + edge
        qz = np.abs(z - at[2]) - half[2] + edge
        out = np.sqrt(np.maximum(qx, 0) ** 2 + np.maximum(qy, 0) ** 2 + np.maximum(qz, 0) ** 2)
        return out + np.minimum(np.maximum(qx, np.maximum(qy, qz)), 0) - edge

    return d


def garment(
    heights: Sequence[float],
    rx: Sequence[float],
    ry: Sequence[float],
    folds: int,
    depth: Sequence[float],
    at: Point,
) -> Shape:
    """Garment: an ellipse that changes with height, its edge in folds that deepen downward."""

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        a, b = np.interp(z, heights, rx), np.interp(z, heights, ry)
        px, py = x - at[0], y - at[1]
        turn = np.arctan2(py / b, px / a)
        wave = np.cos(folds * turn + at[2]) + 0.45 * np.cos((folds * 2 - 3) * turn + 1.3)
        swell = 1 + np.interp(z, heights, depth) * wave
        side = (np.sqrt((px / a) ** 2 + (py / b) ** 2) - swell) * np.minimum(a, b) * 0.85
        return np.maximum(side, np.maximum(heights[0] - z, z - heights[-1]))

    return d


class Solid:
    """A growing solid; every shape is only computed inside its own bounds."""

    def __init__(self, low: Point, high: Point, step: float) -> None:
        self._low, self._step = np.array(low), step
        axes = [np.arange(a, b, step, dtype=np.float32) for a, b in zip(low, high, strict=True)]
        self._axes = axes
        self._d = np.full([len(a) for a in axes], FAR, dtype=np.float32)

    def _part(self, low: Point, high: Point) -> tuple[tuple[slice, slice, slice], Grid, Grid, Grid]:
        cut = [
            slice(max(0, int((a - o) / self._step)), max(0, int((b - o) / self._step) + 2))
            for a, b, o in zip(low, high, self._low, strict=True)
        ]
        x, y, z = np.meshgrid(
            *(axis[c] for axis, c in zip(self._axes, cut, strict=True)), indexing="ij"
        )
        return (cut[0], cut[1], cut[2]), x, y, z

    def add(self, shape: Shape, low: Point, high: Point, k: float = 0.3) -> None:
        """Unite with a shape, rounding the seam over k."""
        cut, x, y, z = self._part(low, high)
        self._d[cut] = blend(self._d[cut], shape(x, y, z).astype(np.float32), k)

    def cut(self, shape: Shape, low: Point, high: Point, k: float = 0.0) -> None:
        """Take a shape away."""
        where, x, y, z = self._part(low, high)
        self._d[where] = -blend(-self._d[where], shape(x, y, z).astype(np.float32), k)

    def mesh(self) -> Mesh:
        """Vertices [mm] and faces of the surface."""
        # cut planes leave steps of one cell: a touch of blur takes them off
        soft = gaussian_filter(np.clip(self._d, -2.0, 2.0), SMOOTH_CELLS)
        v, f, _, _ = marching_cubes(soft, 0.0, spacing=(self._step,) * 3)
        return (v + self._low).astype(np.float32), f.astype(np.int32)
