"""The lamp stair of Saltgate: a sea wall with steps, weed, a tide pool and a beacon."""

from __future__ import annotations

import numpy as np

from meshes.solid import Grid, Mesh, Shape, Solid, box, ellipsoid, limb, prism, ring

STEP = 0.62
WALL_TOP = 52.0
POOL = (-24.0, -24.0, 6.2)
POOL_RADIUS = 15.0
STEPS = 7


def _blocks(s: Solid) -> None:
    """The wall in courses of dressed stone, every other course shifted by half a stone."""
    rng = np.random.default_rng(11)
    high = WALL_TOP / 7
    for row in range(7):
        z = (row + 0.5) * high
        shift = 8.5 if row % 2 else 0.0
        for i in range(-5, 6):
            x = i * 17.0 + shift
            if abs(x) > 58:
                continue
            out = rng.uniform(-0.7, 0.7)
            half = (8.1, 6.5, high / 2 - 0.45)
            s.add(
                box((x, 26.0 + out, z), half, 1.1),
                (x - 10, 17, z - 6),
                (x + 10, 36, z + 6),
                0.05,
            )
    s.add(
        box((0, 33, 0.5 * WALL_TOP), (59, 9, 0.5 * WALL_TOP - 0.5), 0.5), (-61, 22, 0), (61, 43, 54)
    )
    # coping stones, and a ring to moor at
    for i in range(-4, 5):
        x = i * 13.2
        s.add(
            box((x, 30, WALL_TOP + 1.6), (6.2, 13.5, 2.0), 0.7),
            (x - 8, 14, 48),
            (x + 8, 46, 58),
            0.0,
        )
    s.add(ring((-24, 18.0, 33), 3.4, 0.75, "y"), (-30, 15, 27), (-18, 22, 39), 0.1)


def _stairs(s: Solid) -> None:
    """Steps that climb along the wall from the pool to the beacon."""
    for i in range(STEPS):
        x, top = -8.0 + i * 9.0, 6.5 + (i + 1) * 6.4
        s.add(
            box((x + 14, 9, 0.5 * top), (21 - i * 1.2, 13.0, 0.5 * top), 0.8),
            (x - 9, -6, 0),
            (x + 38, 24, top + 2),
            0.0,
        )
        # a worn hollow in the middle of the tread
        s.cut(
            ellipsoid((x - 2.5 + i * 1.2 / 2, 8, top + 1.9), (5, 7.5, 2.5)),
            (x - 9, -2, top - 2),
            (x + 6, 18, top + 3),
            0.4,
        )


def _shore(s: Solid) -> None:
    """Rock at the foot of the wall with the tide pool in it."""
    rng = np.random.default_rng(5)

    def ground(x: Grid, y: Grid, z: Grid) -> Grid:
        rough = (
            1.3 * np.sin(0.21 * x + 0.7) * np.cos(0.17 * y)
            + 0.8 * np.sin(0.43 * x + 0.29 * y)
            + 0.5 * np.cos(0.71 * y - 0.37 * x)
        )
        top = 7.0 + rough + 0.045 * np.clip(y + 20, 0, 60)
        edge = np.maximum(np.abs(x) - 59.0, np.maximum(-40.0 - y, y - 42.0))
        return np.maximum((z - top) * 0.8, np.maximum(edge, -z))

    s.add(ground, (-61, -43, -1), (61, 44, 16), 0.0)
    for _ in range(46):
        x, y = rng.uniform(-56, 56), rng.uniform(-38, 4)
        if np.hypot(x - POOL[0], y - POOL[1]) < POOL_RADIUS + 1:
            continue
        r = rng.uniform(1.6, 5.0)
        rock = ellipsoid((x, y, 6.5), (r, r * rng.uniform(0.7, 1.0), r * rng.uniform(0.6, 1.0)))
        s.add(rock, (x - 6, y - 6, 0), (x + 6, y + 6, 14), 0.9)
    for i in range(17):
        turn = 2 * np.pi * i / 17 + rng.uniform(-0.1, 0.1)
        r = POOL_RADIUS + rng.uniform(-0.5, 1.2)
        x, y = POOL[0] + r * np.cos(turn), POOL[1] + r * np.sin(turn)
        size = rng.uniform(2.4, 3.8)
        s.add(
            ellipsoid((x, y, 8.0), (size, size, rng.uniform(1.8, 3.4))),
            (x - 6, y - 6, 3),
            (x + 6, y + 6, 14),
            0.7,
        )
    s.cut(
        ellipsoid((POOL[0], POOL[1], 8.6), (POOL_RADIUS - 0.8, POOL_RADIUS - 1.2, 5.2)),
        (-42, -42, 2),
        (-6, -6, 15),
        0.8,
    )


def _weed(s: Solid) -> None:
    """Strands that hang from the courses near the tide line, and tufts on the rock."""
    rng = np.random.default_rng(3)
    for _ in range(44):
        x, z = rng.uniform(-56, -4), rng.uniform(11, 26)
        fall = rng.uniform(3, 8)
        y = 18.8 + rng.uniform(-0.4, 0.2)
        a, b = (x, y, z), (x + rng.uniform(-1.5, 1.5), y - rng.uniform(0.3, 1.6), z - fall)
        s.add(limb(a, b, 0.85, 0.55), (x - 5, y - 4, z - 10), (x + 5, y + 3, z + 2), 0.35)
    for _ in range(26):
        x, y = rng.uniform(-54, 52), rng.uniform(-36, -4)
        if np.hypot(x - POOL[0], y - POOL[1]) < POOL_RADIUS - 2:
            continue
        for _ in range(3):
            dx, dy = rng.uniform(-1.8, 1.8, 2)
            a, b = (x, y, 7.0), (x + dx, y + dy, rng.uniform(10, 12.5))
            s.add(limb(a, b, 0.8, 0.45), (x - 4, y - 4, 5), (x + 4, y + 4, 14), 0.3)


def groundwork() -> Mesh:
    """Wall, steps and shore [mm]."""
    s = Solid((-62, -44, -1.5), (62, 45, 59), STEP)
    _shore(s)
    _blocks(s)
    _stairs(s)
    _weed(s)
    return s.mesh()


def _cage() -> Shape:
    """Six bars of the lantern."""

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        turn = np.arctan2(y - 29, x - 38)
        fold = np.mod(turn + np.pi / 6, np.pi / 3) - np.pi / 6
        r = np.hypot(x - 38, y - 29)
        bar = np.hypot(r * np.cos(fold) - 5.6, r * np.sin(fold)) - 0.75
        return np.maximum(bar, np.abs(z - 80.0) - 6.0)

    return d


def beacon() -> Mesh:
    """The beacon on the wall [mm]: post, lantern with its flame glass, roof."""
    s = Solid((24, 15, 50), (52, 43, 101), 0.42)
    low, high = (25, 16, 51), (51, 42, 100)
    s.add(prism((38, 29, 56), 8.5, 2.4, 8), low, high, 0.1)
    s.add(prism((38, 29, 65), 5.2, 8.0, 8, top=0.78), low, high, 0.6)
    s.add(ring((38, 29, 60), 5.6, 0.9), low, high, 0.2)
    s.add(prism((38, 29, 73.4), 8.0, 1.1, 8), low, high, 0.15)
    s.add(ellipsoid((38, 29, 79), (3.2, 3.2, 4.6)), low, high, 0.3)
    s.add(_cage(), low, high, 0.1)
    s.add(ring((38, 29, 80), 5.6, 0.55), low, high, 0.1)
    s.add(prism((38, 29, 86.6), 8.4, 1.0, 8), low, high, 0.1)
    s.add(prism((38, 29, 90.6), 8.0, 3.4, 8, top=0.28), low, high, 0.1)
    s.add(ellipsoid((38, 29, 95.4), (1.7, 1.7, 1.7)), low, high, 0.3)
    s.add(limb((38, 29, 95), (38, 29, 99.3), 0.7, 0.45), low, high, 0.2)
    return s.mesh()
