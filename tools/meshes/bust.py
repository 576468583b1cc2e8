"""The herald of Saltgate, a bust in 1:12: cap with a plume, ruff, tabard, on a turned plinth."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from meshes.solid import Grid, Mesh, Point, Solid, box, ellipsoid, limb, prism, ring

STEP = 0.32


def _torso(s: Solid) -> None:
    s.add(ellipsoid((0, 1, 30), (17, 9.5, 13)), (-20, -12, 14), (20, 14, 46), 1.0)
    for side in (-1.0, 1.0):
        s.add(
            limb((side * 6, 1, 39), (side * 17.5, 1.5, 34), 6.0, 6.6),
            (-27, -9, 24),
            (27, 11, 48),
            2.0,
        )
        # a puffed sleeve, cut off below, with slashes
        for i in range(5):
            turn = -0.9 + i * 0.62
            x, y = side * (21.0 + 1.3 * np.cos(turn)), 1.5 + 6.0 * np.sin(turn)
            s.add(
                limb((side * 18.5, 1.5 + 2.5 * np.sin(turn), 38), (x, y, 24), 2.6, 3.2),
                (-28, -10, 17),
                (28, 13, 44),
                0.25,
            )
    # the tabard: a plate of cloth in front with a border and a lamp on it
    s.add(box((0, -7.6, 29), (9.5, 2.6, 12), 1.2), (-12, -13, 14), (12, -3, 43), 0.8)
    for x in (-8.7, 8.7):
        s.add(limb((x, -10.2, 18), (x, -8.4, 40), 0.8, 0.8), (-12, -14, 15), (12, -5, 43), 0.15)
    s.add(limb((-8.7, -10.3, 19), (8.7, -10.3, 19), 0.8, 0.8), (-12, -14, 16), (12, -6, 22), 0.15)
    s.add(prism((0, -9.9, 30), 3.0, 3.0, 6), (-5, -14, 25), (5, -6, 35), 0.15)
    s.add(ring((0, -11.0, 35.3), 1.6, 0.55, "y"), (-4, -14, 32), (4, -7, 39), 0.1)
    s.add(limb((-4.4, -10.8, 26), (4.4, -10.8, 26), 0.8, 0.8), (-7, -14, 24), (7, -7, 29), 0.15)

    def level(x: Grid, y: Grid, z: Grid) -> Grid:
        return z - 18.0 + 0.012 * x * x

    s.cut(level, (-30, -16, 10), (30, 16, 24), 0.6)


def _ruff(s: Solid) -> None:
    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        turn = np.arctan2(y - 0.4, x)
        r = np.hypot(x, y - 0.4)
        wave = 1.15 * np.sin(18 * turn)
        lift = 45.6 + 0.10 * (r - 6) + wave * np.clip((r - 5.5) / 5.0, 0, 1)
        return np.maximum((np.abs(z - lift) - 0.85) * 0.55, np.maximum(r - 11.2, 4.0 - r))

    s.add(d, (-12.5, -12.5, 42), (12.5, 13, 50), 0.3)
    s.add(limb((0, 0.8, 40), (0, 0.2, 50), 5.6, 4.8), (-8, -8, 36), (8, 8, 52), 0.6)


def _head(s: Solid) -> None:
    low, high = (-11, -13, 44), (11, 13, 74)
    s.add(ellipsoid((0, 0.8, 61), (7.6, 8.8, 9.2)), low, high, 0.5)
    s.add(ellipsoid((0, -2.2, 54.2), (5.6, 6.0, 5.6)), low, high, 2.0)
    s.add(ellipsoid((0, -7.3, 50.8), (2.3, 1.7, 1.7)), low, high, 1.2)
    for side in (-1.0, 1.0):
        s.cut(ellipsoid((side * 3.1, -8.3, 60.3), (2.2, 1.9, 1.45)), low, high, 0.8)
        s.add(ellipsoid((side * 3.1, -6.6, 60.1), (1.55, 1.45, 1.3)), low, high, 0.1)
        s.add(limb((side * 1.5, -8.3, 62.2), (side * 5.2, -6.9, 62.4), 0.75, 0.5), low, high, 0.5)
        s.add(ellipsoid((side * 4.4, -5.4, 57.0), (2.3, 2.2, 1.8)), low, high, 1.6)
        s.add(ellipsoid((side * 7.7, 1.0, 58.8), (1.0, 1.9, 2.7)), low, high, 0.4)
    s.add(limb((0, -8.1, 61.8), (0, -10.5, 57.5), 0.95, 1.35), low, high, 0.7)
    _face(s)
    # bobbed hair, in locks
    for i in range(15):
        turn = np.radians(-12 + i * 14.6)
        x, y = 8.1 * np.cos(turn), 1.6 + 7.8 * np.sin(turn)
        s.add(limb((x * 0.93, y, 66), (x * 1.1, y * 1.08 + 0.2, 50.8), 1.7, 1.95), low, high, 0.3)


def _face(s: Solid) -> None:
    """Lids, pupils, nostrils, furrows and a mouth: what a wash and a light have to find."""
    low, high = (-9, -13, 46), (9, -3, 67)

    def line(points: list[Point], radius: float, k: float, *, away: bool = False) -> None:
        for a, b in pairwise(points):
            shape = limb(a, b, radius, radius)
            (s.cut if away else s.add)(shape, low, high, k)

    for side in (-1.0, 1.0):
        upper = [
            (1.5, -7.7, 60.2),
            (2.2, -8.15, 61.0),
            (3.2, -8.25, 61.25),
            (4.3, -7.75, 60.8),
            (5.0, -7.0, 60.1),
        ]
        under = [
            (1.6, -7.7, 59.9),
            (2.4, -8.0, 59.2),
            (3.3, -8.0, 59.0),
            (4.2, -7.6, 59.3),
            (4.9, -7.0, 59.9),
        ]
        line([(side * x, y, z) for x, y, z in upper], 0.42, 0.12)
        line([(side * x, y, z) for x, y, z in under], 0.3, 0.15)
        s.cut(ellipsoid((side * 2.95, -8.25, 60.15), (0.5, 0.42, 0.5)), low, high, 0.05)
        line(
            [(side * 1.3, -8.5, 58.6), (side * 2.6, -7.9, 57.6), (side * 4.2, -7.3, 57.6)],
            0.16,
            0.3,
            away=True,
        )
        # wing of the nose, nostril, the fold down to the mouth
        s.add(ellipsoid((side * 1.25, -9.2, 57.3), (0.85, 0.95, 0.75)), low, high, 0.3)
        s.cut(ellipsoid((side * 0.65, -10.1, 56.35), (0.36, 0.5, 0.4)), low, high, 0.15)
        line(
            [(side * 1.9, -8.6, 56.8), (side * 3.0, -7.9, 55.0), (side * 3.3, -7.4, 53.2)],
            0.2,
            0.35,
            away=True,
        )
        # half of the upper lip, half of the lower one
        line(
            [(side * 0.1, -8.75, 53.75), (side * 0.8, -8.75, 53.95), (side * 2.3, -7.75, 53.25)],
            0.5,
            0.2,
        )
        line(
            [(side * 0.1, -8.6, 52.25), (side * 1.0, -8.5, 52.25), (side * 2.1, -7.7, 52.85)],
            0.62,
            0.25,
        )
    line(
        [
            (-2.7, -7.6, 53.0),
            (-1.0, -9.1, 53.2),
            (0, -9.1, 53.05),
            (1.0, -9.1, 53.2),
            (2.7, -7.6, 53.0),
        ],
        0.17,
        0.1,
        away=True,
    )
    line([(0, -8.5, 56.0), (0, -8.7, 54.9)], 0.28, 0.3, away=True)
    line([(-1.6, -7.9, 51.0), (0, -8.3, 50.9), (1.6, -7.9, 51.0)], 0.24, 0.4, away=True)


def _cap(s: Solid) -> None:
    low, high = (-17, -15, 60), (17, 17, 92)

    def crown(x: Grid, y: Grid, z: Grid) -> Grid:
        lean = z - 69.5 - 0.16 * x
        turn = np.arctan2(y, x)
        r = np.hypot(x / 11.8, (y - 1.2) / 12.2) * (1 + 0.022 * np.cos(16 * turn))
        return np.sqrt(r * r + (lean / 4.6) ** 2) * 4.6 - 4.6

    s.add(crown, low, high, 0.4)
    s.add(ring((0, 0.8, 66.2), 8.5, 1.35), low, high, 0.4)
    s.add(ellipsoid((-10.4, -4.2, 69.4), (1.6, 1.6, 2.0)), low, high, 0.2)


def _plume(s: Solid) -> None:
    path = [(-10.5, -3.6, 69), (-13.5, -1.0, 76), (-12.0, 2.8, 82.5), (-7, 6.5, 86), (-1, 9.5, 85)]
    widths = [0.9, 2.1, 2.7, 2.3, 0.9]
    for (a, ra), (b, rb) in zip(
        zip(path, widths, strict=True), zip(path[1:], widths[1:], strict=True), strict=False
    ):
        s.add(limb(a, b, ra, rb), (-19, -8, 62), (6, 14, 92), 0.7)
        for t in np.linspace(0.1, 0.9, 5):
            at = np.array(a) * (1 - t) + np.array(b) * t
            for way in (-1.0, 1.0):
                end = at + np.array([way * 2.6, -1.0, -1.6])
                s.add(limb(tuple(at), tuple(end), 0.95, 0.45), (-21, -10, 60), (8, 14, 92), 0.15)


def bust() -> Mesh:
    """The herald [mm], show side at −y."""
    s = Solid((-29, -17, 15), (29, 18, 91), STEP)
    _torso(s)
    _ruff(s)
    _head(s)
    _cap(s)
    _plume(s)
    return s.mesh()


def plinth() -> Mesh:
    """A turned foot under the bust."""
    s = Solid((-17, -17, -1), (17, 17, 25), STEP)
    low, high = (-16.5, -16.5, -0.8), (16.5, 16.5, 24.5)
    s.add(prism((0, 0, 1.8), 15.5, 1.8, 40), low, high, 0.0)
    s.add(ring((0, 0, 4.2), 12.0, 1.5), low, high, 0.4)
    s.add(prism((0, 0, 4.0), 12.2, 1.8, 40), low, high, 0.2)
    s.add(limb((0, 0, 4), (0, 0, 22), 7.4, 5.2), low, high, 0.5)
    s.add(ring((0, 0, 12.5), 6.6, 1.1), low, high, 0.3)
    s.add(ring((0, 0, 17.5), 5.8, 0.8), low, high, 0.3)
    return s.mesh()
