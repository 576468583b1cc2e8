"""The harbour warden of Saltgate: long oilskin coat, hat, lamp on a pole, base with a bollard."""

from __future__ import annotations

import numpy as np

from meshes.solid import Grid, Mesh, Point, Solid, box, ellipsoid, garment, limb, prism, ring

STEP = 0.18
DECK = 3.2  # top of the base
POLE_FOOT: Point = (8.6, -3.4, DECK - 0.5)
POLE_HEAD: Point = (8.9, -2.4, 37.0)


def _base(s: Solid) -> None:
    s.add(prism((0, 0, 1.3), 13.4, 1.3, 64, top=0.95), (-14, -14, -0.5), (14, 14, 3), 0.0)
    s.add(prism((0, 0, 2.6), 12.2, 0.35, 64), (-13, -13, 2), (13, 13, 3.6), 0.25)
    rng = np.random.default_rng(7)
    for ring_radius, count in ((10.6, 20), (8.0, 15), (5.4, 10), (2.8, 5), (0.4, 1)):
        for i in range(count):
            turn = 2 * np.pi * (i + rng.uniform(-0.12, 0.12)) / count + ring_radius
            r = ring_radius + rng.uniform(-0.3, 0.3)
            x, y = r * np.cos(turn), r * np.sin(turn)
            size = rng.uniform(1.15, 1.5)
            stone = ellipsoid((x, y, 2.75 + rng.uniform(-0.15, 0.2)), (size, size * 0.9, 0.85))
            s.add(stone, (x - 2, y - 2, 1.5), (x + 2, y + 2, 4.5), 0.12)
    # bollard with a rope round it
    s.add(limb((-8.2, 2.8, 2.5), (-8.2, 2.8, 7.4), 1.25, 1.05), (-11, 0, 2), (-5, 6, 9.5), 0.5)
    s.add(ellipsoid((-8.2, 2.8, 8.0), (1.75, 1.75, 0.75)), (-11, 0, 6.5), (-5, 6, 9.5), 0.3)
    for z, lean in ((4.2, 0.0), (4.85, 0.15), (5.5, -0.1)):
        s.add(ring((-8.2 + lean, 2.8, z), 1.45, 0.36), (-11, 0, 3), (-5, 6, 7), 0.06)
    s.add(limb((-8.6, 1.3, 4.2), (-5.2, -6.6, 3.3), 0.36, 0.36), (-10, -8, 2), (-4, 3, 6), 0.08)
    s.add(ring((-5.0, -7.4, 3.45), 1.3, 0.38), (-8, -10, 2), (-2, -4, 5), 0.08)
    s.add(ring((-5.0, -7.4, 3.95), 1.0, 0.36), (-8, -10, 2), (-2, -4, 5.5), 0.08)


def _legs(s: Solid) -> None:
    for side in (-1.0, 1.0):
        foot = (side * 2.1, -1.9, DECK + 0.75)
        s.add(
            limb((side * 1.6, 0, 14), (side * 2.0, -0.3, DECK + 1), 1.5, 1.2),
            (side * 2 - 3, -4, 2),
            (side * 2 + 3, 3, 16),
            0.3,
        )
        s.add(limb((side * 2.0, 0.2, DECK + 0.8), foot, 1.1, 0.95), (-6, -5, 2), (6, 3, 7), 0.3)
        s.add(ring((side * 1.95, -0.2, 8.0), 1.3, 0.35), (-6, -4, 6), (6, 4, 10), 0.2)


def _coat(s: Solid) -> None:
    heights = [5.6, 9.0, 13.5, 17.0, 21.5, 25.0]
    rx = [6.3, 5.3, 4.2, 3.5, 3.9, 3.1]
    ry = [5.6, 4.7, 3.6, 2.9, 3.0, 2.4]
    depth = [0.085, 0.075, 0.05, 0.015, 0.0, 0.0]
    body = garment(heights, rx, ry, 8, depth, (0, 0.3, 0.6))
    s.add(body, (-8, -8, 5), (8, 8, 26), 0.25)
    inner = garment(
        [0, 5.6, 9.0, 13.0],
        [6.2, 5.4, 4.4, 2.0],
        [5.4, 4.7, 3.8, 1.6],
        8,
        [0.085] * 4,
        (0, 0.3, 0.6),
    )

    def opening(x: Grid, y: Grid, z: Grid) -> Grid:
        half = 0.25 + np.clip(15.2 - z, 0, 12) * 0.19
        return np.maximum(np.maximum(np.abs(x - 0.25) - half, y + 0.6), z - 15.2)

    s.cut(inner, (-8, -8, 2.9), (8, 8, 13.2), 0.15)
    s.cut(opening, (-4, -9, DECK + 0.4), (4, 0, 16), 0.2)
    _legs(s)
    # belt, buckle, pocket flaps, seam of the front edge
    belt = garment([16.2, 17.5], [3.75, 3.75], [3.15, 3.15], 1, [0, 0], (0, 0.3, 0))
    s.add(belt, (-5, -5, 15.5), (5, 5, 18), 0.12)
    s.add(box((0.2, -2.95, 16.85), (0.85, 0.4, 0.75), 0.15), (-2, -5, 15), (2, -1, 18.5), 0.08)
    for side in (-1.0, 1.0):
        s.add(
            box((side * 2.75, -3.0, 13.6), (1.15, 0.55, 0.35), 0.15),
            (side * 2.75 - 2, -5, 12.5),
            (side * 2.75 + 2, -1, 15),
            0.15,
        )


def _arms(s: Solid) -> None:
    # his right: bent forward, holding a coil of rope
    s.add(limb((-3.9, 0.2, 23.2), (-6.6, -0.8, 18.6), 1.7, 1.6), (-9, -4, 16), (-1, 3, 26), 0.4)
    s.add(limb((-6.6, -0.8, 18.6), (-7.3, -4.2, 18.0), 1.55, 1.85), (-10, -7, 15), (-4, 2, 21), 0.4)
    s.add(ellipsoid((-7.4, -5.7, 18.1), (0.95, 1.2, 1.05)), (-9, -8, 16), (-6, -4, 20), 0.25)
    for i, x in enumerate((-7.95, -7.4, -6.85)):
        s.add(
            ring((x, -5.8, 15.6 - 0.12 * i), 2.1, 0.37, "x"), (-9.5, -9.5, 12), (-5.5, -3, 19), 0.05
        )
    # his left: grips the pole
    s.add(limb((3.9, 0.2, 23.2), (7.2, 0.2, 19.2), 1.7, 1.6), (1, -3, 16), (9.5, 3, 26), 0.4)
    s.add(limb((7.2, 0.2, 19.2), (8.3, -1.6, 20.6), 1.55, 1.8), (5, -5, 16), (11, 3, 23.5), 0.4)
    for i in range(4):
        z = 20.2 + 0.62 * i
        s.add(limb((8.05, -3.75, z), (9.45, -3.6, z), 0.46, 0.42), (6, -6, 18), (11, -1, 24), 0.08)
    s.add(ellipsoid((8.75, -2.5, 21.2), (1.05, 0.9, 1.25)), (7, -5, 19), (11, 0, 23.5), 0.2)


def _cape_and_head(s: Solid) -> None:
    heights = [18.9, 21.0, 23.6, 25.6]
    cape = garment(
        heights,
        [6.5, 5.9, 4.7, 2.4],
        [4.9, 4.4, 3.6, 2.1],
        7,
        [0.075, 0.055, 0.015, 0],
        (0, 0.2, 0.2),
    )
    under = garment(
        [17.5, 18.9, 21.0, 23.0],
        [6.1, 5.8, 5.1, 3.6],
        [4.5, 4.2, 3.6, 2.6],
        7,
        [0.075, 0.075, 0.055, 0.015],
        (0, 0.2, 0.2),
    )

    def shell(x: Grid, y: Grid, z: Grid) -> Grid:
        return np.maximum(cape(x, y, z), -under(x, y, z))

    s.add(shell, (-8.5, -7, 18), (8.5, 7, 26), 0.15)
    s.add(ring((0, 0.1, 25.5), 2.15, 0.75), (-4, -4, 24), (4, 4, 27), 0.25)
    s.add(ellipsoid((0, -0.35, 28.3), (2.15, 2.3, 2.6)), (-3.5, -4, 25), (3.5, 3, 32), 0.3)
    # brow, nose, cheeks, moustache and beard
    for side in (-1.0, 1.0):
        s.cut(
            ellipsoid((side * 0.85, -2.75, 28.75), (0.62, 0.6, 0.42)),
            (-2, -4, 28),
            (2, -1.5, 30),
            0.15,
        )
        s.add(
            limb((side * 0.15, -3.35, 27.4), (side * 1.95, -2.75, 26.6), 0.52, 0.24),
            (-3, -4.5, 25.5),
            (3, -1, 29),
            0.03,
        )
        # an eye in its socket under a bushy brow
        eye = ellipsoid((side * 0.85, -2.5, 28.72), (0.4, 0.36, 0.3))
        s.add(eye, (-2, -4, 28), (2, -1.5, 30), 0.03)
        brow = limb((side * 0.3, -2.75, 29.3), (side * 1.6, -2.3, 29.2), 0.3, 0.22)
        s.add(brow, (-3, -4, 28), (3, -1, 30.5), 0.06)
    s.add(
        limb((0, -2.55, 29.0), (0, -3.1, 28.05), 0.32, 0.5), (-1.5, -4.5, 27), (1.5, -1.5, 30), 0.12
    )
    s.add(ellipsoid((0, -2.1, 26.3), (1.75, 1.25, 1.75)), (-3, -4.5, 23.5), (3, 0, 28), 0.25)
    s.add(limb((0, -2.6, 25.6), (0.15, -2.9, 24.2), 0.95, 0.35), (-2, -5, 23), (2, -1, 27), 0.3)

    # the hat: dome, band, and a brim that dips behind
    def brim(x: Grid, y: Grid, z: Grid) -> Grid:
        r = np.sqrt(x * x + (y - 0.5) ** 2)
        dip = 30.55 - 0.055 * np.clip(r - 2.2, 0, 5) ** 2 - 0.16 * np.clip(y, 0, 6)
        edge = np.sqrt((x / 4.4) ** 2 + ((y - 0.7) / 5.1) ** 2) - 1
        return np.maximum(np.abs(z - dip) - 0.36, edge * 4.0)

    s.add(ellipsoid((0, 0.05, 30.6), (2.6, 2.7, 2.75)), (-4, -4, 29.9), (4, 4, 34), 0.2)
    s.add(brim, (-5.5, -5.5, 28), (5.5, 7, 32), 0.25)
    s.add(ring((0, 0.05, 31.1), 2.55, 0.3), (-4, -4, 30), (4, 4, 32.2), 0.1)


def _lamp(s: Solid) -> None:
    s.add(limb(POLE_FOOT, POLE_HEAD, 0.55, 0.52), (7, -5, 2), (11, 0, 38.5), 0.12)
    x, y, z = POLE_HEAD
    low, high = (x - 3.6, y - 3.6, z - 1), (x + 3.6, y + 3.6, z + 10)
    s.add(prism((x, y, z + 0.2), 1.95, 0.4, 6), low, high, 0.05)
    s.add(prism((x, y, z + 2.5), 1.25, 2.1, 6), low, high, 0.05)
    for i in range(6):
        a = np.pi * i / 3
        px, py = x + 1.72 * np.cos(a), y + 1.72 * np.sin(a)
        s.add(limb((px, py, z + 0.3), (px, py, z + 4.6), 0.3, 0.3), low, high, 0.05)
    s.add(ring((x, y, z + 2.5), 1.6, 0.2), low, high, 0.05)
    s.add(prism((x, y, z + 4.8), 2.3, 0.32, 6), low, high, 0.05)
    s.add(prism((x, y, z + 5.9), 2.1, 0.9, 6, top=0.32), low, high, 0.05)
    s.add(ellipsoid((x, y, z + 6.9), (0.62, 0.62, 0.6)), low, high, 0.15)
    s.add(ring((x, y, z + 8.1), 0.85, 0.27, "y"), low, high, 0.1)


def base(step: float = STEP) -> Mesh:
    """The round base with its cobbles, bollard and rope [mm]."""
    s = Solid((-14.5, -14.5, -0.8), (14.5, 14.5, 11), step)
    _base(s)
    return s.mesh()


def figure(step: float = STEP) -> Mesh:
    """The man himself [mm]."""
    s = Solid((-11, -10.5, 2.2), (12, 8.5, 34.5), step)
    _coat(s)
    _arms(s)
    _cape_and_head(s)
    return s.mesh()


def lamp(step: float = STEP) -> Mesh:
    """The pole with its lamp [mm]."""
    s = Solid((4.8, -7, 1.5), (13.4, 1.8, 47.5), step)
    _lamp(s)
    return s.mesh()
