"""A solid that grows by limbs, balls, tubes, plates and scales, each bounded by itself.

Lengths in mm; z up, the show side faces −y, so that x grows to the looker's right.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from haze.core.arrays import Floats
from meshes.solid import Grid, Point, Shape, Solid, box, ellipsoid, limb, prism, ring

ROOM = 0.6  # beyond a shape's own bounds, for the rounding of its seam [mm]


def turned(shape: Shape, at: Point, *, x: float = 0, y: float = 0, z: float = 0) -> Shape:
    """A shape made about the origin, turned about x, then y, then z [°], and moved to a place."""
    a, b, c = np.radians([x, y, z])
    rx = np.array([[1, 0, 0], [0, np.cos(a), -np.sin(a)], [0, np.sin(a), np.cos(a)]])
    ry = np.array([[np.cos(b), 0, np.sin(b)], [0, 1, 0], [-np.sin(b), 0, np.cos(b)]])
    rz = np.array([[np.cos(c), -np.sin(c), 0], [np.sin(c), np.cos(c), 0], [0, 0, 1]])
    back = (rz @ ry @ rx).T.astype(np.float32)

    def d(px: Grid, py: Grid, pz: Grid) -> Grid:
        p = px - at[0], py - at[1], pz - at[2]
        return shape(*(r[0] * p[0] + r[1] * p[1] + r[2] * p[2] for r in back))

    return d


class Sculpt(Solid):
    """A solid with the shapes a sculptor reaches for."""

    def _round(self, middle: Point, far: float, shape: Shape, k: float, away: bool) -> None:
        reach = far + k + ROOM
        low = (middle[0] - reach, middle[1] - reach, middle[2] - reach)
        high = (middle[0] + reach, middle[1] + reach, middle[2] + reach)
        if away:
            self.cut(shape, low, high, k)
        else:
            self.add(shape, low, high, k)

    def ball(
        self,
        at: Point,
        radii: Point | float,
        k: float = 0.3,
        *,
        turn: Point = (0, 0, 0),
        away: bool = False,
    ) -> None:
        """An ellipsoid, turned about x, y, z [°]."""
        r = (radii, radii, radii) if isinstance(radii, (int, float)) else radii
        shape = turned(ellipsoid((0, 0, 0), r), at, x=turn[0], y=turn[1], z=turn[2])
        self._round(at, max(r), shape, k, away)

    def block(
        self,
        at: Point,
        half: Point,
        edge: float = 0.2,
        k: float = 0.1,
        *,
        turn: Point = (0, 0, 0),
        away: bool = False,
    ) -> None:
        """A box with rounded edges, turned about x, y, z [°]."""
        shape = turned(box((0, 0, 0), half, edge), at, x=turn[0], y=turn[1], z=turn[2])
        self._round(at, float(np.linalg.norm(half)), shape, k, away)

    def disc(
        self,
        at: Point,
        radius: float,
        half: float,
        k: float = 0.1,
        *,
        sides: int = 40,
        top: float = 1.0,
        turn: Point = (0, 0, 0),
        away: bool = False,
    ) -> None:
        """An upright prism, turned about x, y, z [°]."""
        shape = turned(
            prism((0, 0, 0), radius, half, sides, top), at, x=turn[0], y=turn[1], z=turn[2]
        )
        self._round(at, float(np.hypot(radius * max(1.0, top), half)), shape, k, away)

    def hoop(
        self, at: Point, radius: float, thick: float, k: float = 0.1, *, turn: Point = (0, 0, 0)
    ) -> None:
        """A torus that lies flat, turned about x, y, z [°]."""
        shape = turned(ring((0, 0, 0), radius, thick), at, x=turn[0], y=turn[1], z=turn[2])
        self._round(at, radius + thick, shape, k, False)

    def limb(self, a: Point, b: Point, ra: float, rb: float | None = None, k: float = 0.3) -> None:
        """A rounded cone from a to b."""
        end = ra if rb is None else rb
        reach = max(ra, end) + k + ROOM
        low = tuple(min(p, q) - reach for p, q in zip(a, b, strict=True))
        high = tuple(max(p, q) + reach for p, q in zip(a, b, strict=True))
        self.add(limb(a, b, ra, end), low, high, k)  # type: ignore[arg-type]

    def groove(self, a: Point, b: Point, radius: float) -> None:
        """A round channel cut from a to b."""
        reach = radius + ROOM
        low = tuple(min(p, q) - reach for p, q in zip(a, b, strict=True))
        high = tuple(max(p, q) + reach for p, q in zip(a, b, strict=True))
        self.cut(limb(a, b, radius, radius), low, high)  # type: ignore[arg-type]

    def tube(self, path: Sequence[Point], radii: Sequence[float], k: float = 0.3) -> None:
        """Limbs along a path, its radius given at every point."""
        for a, b, ra, rb in zip(path, path[1:], radii, radii[1:], strict=False):
            self.limb(a, b, ra, rb, k)

    def sheet(self, shape: Shape, low: Point, high: Point, k: float = 0.15) -> None:
        """Any other shape, its bounds given."""
        self.add(shape, low, high, k)


def curve(points: Sequence[Point], count: int) -> list[Point]:
    """A smooth path through points (Catmull–Rom), `count` points long."""
    p = np.array([points[0], *points, points[-1]], dtype=np.float64)
    spans = len(points) - 1
    out = []
    for t in np.linspace(0, spans, count):
        i = min(int(t), spans - 1)
        u = t - i
        a, b, c, d = p[i : i + 4]
        at = 0.5 * (
            2 * b
            + (c - a) * u
            + (2 * a - 5 * b + 4 * c - d) * u**2
            + (3 * b - a - 3 * c + d) * u**3
        )
        out.append((float(at[0]), float(at[1]), float(at[2])))
    return out


def along(values: Sequence[float], count: int) -> list[float]:
    """Values spread evenly over `count` points, linear between."""
    at = np.linspace(0, len(values) - 1, count)
    return [float(v) for v in np.interp(at, np.arange(len(values)), values)]


def scales_on(
    s: Sculpt,
    path: Sequence[Point],
    radii: Sequence[float],
    *,
    size: float,
    around: int,
    arc_deg: tuple[float, float] = (-100, 100),
    lift: float = 0.75,
) -> None:
    """Overlapping scales on a tube, in rows that are set off by half a scale.

    `arc_deg` is measured from straight up round the tube; `size` is half a scale's length.
    """
    pts = np.array(path)
    for row in range(len(pts) - 1):
        forward = pts[row + 1] - pts[row]
        length = float(np.linalg.norm(forward))
        if length < 1e-6:
            continue
        forward /= length
        side = np.cross(forward, [0, 0, 1.0])
        side /= max(float(np.linalg.norm(side)), 1e-6)
        up = np.cross(side, forward)
        low, high = arc_deg
        step = (high - low) / around
        for i in range(around):
            turn = np.radians(low + step * (i + (0.5 if row % 2 else 0.0)))
            out = np.cos(turn) * up + np.sin(turn) * side
            at = pts[row] + out * radii[row] * lift
            big = size * (0.55 + 0.45 * radii[row] / max(radii))
            end = at + forward * big * 1.1 + out * radii[row] * (1.02 - lift)
            s.limb(tuple(at), tuple(end), big * 0.8, big * 0.45, 0.05)


def ground(
    s: Sculpt, radius: float, *, top: float, seed: int, stones: int = 14, rough: float = 0.35
) -> None:
    """A round base with uneven earth and a few stones; `top` is the height of its deck."""
    s.disc((0, 0, top / 2 - 0.3), radius, top / 2 - 0.3, 0.0, sides=72, top=0.95)
    rng = np.random.default_rng(seed)
    inner = radius * 0.9
    waves = [(rng.uniform(-0.9, 0.9, 2), rng.uniform(0, 6.3)) for _ in range(7)]

    def earth(x: Grid, y: Grid, z: Grid) -> Grid:
        lift: Floats = np.zeros_like(x)
        for (u, v), phase in waves:
            lift = lift + np.sin(x * u + y * v + phase)
        r = np.hypot(x, y)
        fall = np.clip((r / inner - 0.82) / 0.18, 0, 1)
        return np.maximum((z - (top - 0.15 + rough * 0.4 * lift - 0.5 * fall)) * 0.8, r - inner)

    s.add(earth, (-radius, -radius, top - 2), (radius, radius, top + 2), 0.15)
    for _ in range(stones):
        r, a = inner * np.sqrt(rng.uniform(0.02, 0.9)), rng.uniform(0, 2 * np.pi)
        big = rng.uniform(0.5, 1.25) * radius / 14
        s.ball(
            (r * np.cos(a), r * np.sin(a), top + 0.1 * big),
            (big, big * rng.uniform(0.6, 0.9), big * rng.uniform(0.45, 0.7)),
            0.12,
            turn=(rng.uniform(-15, 15), rng.uniform(-15, 15), rng.uniform(0, 180)),
        )
