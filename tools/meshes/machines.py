"""Machines of the harbour: a walker on two legs, and a rail car with its load."""

from __future__ import annotations

import numpy as np
import trimesh

from meshes.plates import Bodies, box, profile, rivets, rod
from meshes.sculpt import Grid, Sculpt, ground
from meshes.solid import Mesh


def _ring_of_bolts(
    at: tuple[float, float, float], radius: float, count: int, *, size: float = 0.6
) -> Bodies:
    """Bolts on a circle in the plane across y."""
    out = []
    for a in np.linspace(0, 2 * np.pi, count, endpoint=False):
        x, z = at[0] + radius * np.cos(a), at[2] + radius * np.sin(a)
        out.append(rod((x, at[1] - 0.5, z), (x, at[1] + 0.5, z), size, sections=8))
    return out


# the walker: x is forward, its left side shows ---------------------------------------------------


def walker_cab() -> Bodies:
    """The cab over the hips: sloped plates, a window, a lamp, stacks behind."""
    side = [(-20, 58), (14, 55), (25, 62), (24, 71), (10, 83), (-14, 84), (-22, 76)]
    bodies: Bodies = [profile(side, y=0.0, half=13.0)]
    bodies.append(box((-3, 0, 84.6), (24, 22, 2.0), bevel=0.7))
    bodies.append(rod((-6, 3, 85), (-6, 3, 88), 5.0, sections=32))
    bodies.append(rod((-6, 3, 88), (-6, 3, 88.8), 5.6, sections=32))
    # front window in three panes under a visor, grille below
    for y in (-8.0, 0.0, 8.0):
        bodies.append(box((17.6, y, 77.6), (1.6, 6.6, 8.5), tilt_deg=-40.5, bevel=0.4))
    bodies.append(box((13.5, 0, 83.6), (9, 25, 1.4), tilt_deg=14, bevel=0.4))
    for z in (63.4, 65.6, 67.8, 70.0):
        bodies.append(box((25.3, 0, z), (2.4, 15, 1.1), bevel=0.3))
    for s in (-1.0, 1.0):
        y = s * 13.6
        bodies.append(box((-4, y, 70), (20, 1.6, 17), bevel=0.5))
        bodies.append(box((11.5, y, 70), (7.5, 1.4, 14), bevel=0.5))
        bodies += rivets((-12.5, y + s * 0.9, 77.2), (4.5, y + s * 0.9, 77.2), 7)
        bodies += rivets((-12.5, y + s * 0.9, 62.8), (4.5, y + s * 0.9, 62.8), 7)
        bodies.append(rod((-4, y, 71), (-4, y + s * 1.7, 71), 4.2, sections=36))
        bodies.append(rod((-4, y, 71), (-4, y + s * 2.2, 71), 2.6, sections=28))
        bodies += _ring_of_bolts((-4, y + s * 1.6, 71), 3.4, 8, size=0.45)
        for z in (64.0, 67.5, 71.0, 74.5):
            bodies.append(rod((12.5, y + s * 1.4, z), (16.0, y + s * 1.4, z), 0.45, sections=10))
        # lamps at the brow, exhaust stacks
        bodies.append(rod((23.5, s * 10.5, 66.5), (27.5, s * 10.5, 66.5), 2.6, sections=28))
        bodies.append(rod((27.0, s * 10.5, 66.5), (28.0, s * 10.5, 66.5), 3.0, sections=28))
        bodies.append(rod((-19, s * 8, 74), (-22, s * 8, 92), 2.3, sections=24))
        bodies.append(rod((-21.8, s * 8, 90.5), (-22.2, s * 8, 94), 2.9, sections=24))
        bodies.append(rod((-20.6, s * 8, 82), (-20.8, s * 8, 83.4), 2.8, sections=24))
    bodies.append(box((-22.5, 0, 68), (6, 18, 14), bevel=1.2))
    for z in (63.5, 66, 68.5, 71, 73.5):
        bodies.append(box((-26.0, 0, z), (1.6, 15, 1.0), bevel=0.3))
    bodies.append(rod((10, -7, 85), (10, -7, 99), 0.5, sections=10))
    return bodies


def _beam(
    a: tuple[float, float], b: tuple[float, float], y: float, *, size: float, wide: float
) -> trimesh.Trimesh:
    d = np.array(b) - np.array(a)
    x, z = 0.5 * (np.array(a) + np.array(b))
    tilt = -float(np.degrees(np.arctan2(d[1], d[0])))
    return box((x, y, z), (float(np.hypot(*d)) + 2, wide, size), tilt_deg=tilt, bevel=1.2)


def _leg(
    s: float, hip: tuple[float, float], knee: tuple[float, float], ankle: tuple[float, float]
) -> Bodies:
    y = s * 18.5
    bodies: Bodies = []
    for (x, z), r in ((hip, 7.5), (knee, 5.4), (ankle, 4.0)):
        bodies.append(rod((x, y - 5.6, z), (x, y + 5.6, z), r, sections=44))
        bodies.append(rod((x, y + s * 5.4, z), (x, y + s * 6.8, z), 0.62 * r, sections=32))
        bodies += _ring_of_bolts((x, y + s * 6.8, z), 0.4 * r, 6, size=0.55)
    bodies.append(rod((hip[0], s * 8, hip[1]), (hip[0], y, hip[1]), 4.6, sections=32))
    bodies.append(_beam(hip, knee, y, size=8.5, wide=7.5))
    bodies.append(_beam(knee, ankle, y, size=6.4, wide=6.0))
    # armour on thigh and shin, with rivets
    for a, b, off, long, wide in ((hip, knee, 4.9, 0.62, 9.0), (knee, ankle, 4.0, 0.68, 8.0)):
        d = np.array(b) - np.array(a)
        n = np.array([-d[1], d[0]]) / np.hypot(*d)
        n = n if n[0] > 0 else -n
        mid = 0.5 * (np.array(a) + np.array(b)) + n * off
        tilt = -float(np.degrees(np.arctan2(d[1], d[0])))
        bodies.append(
            box(
                (mid[0], y, mid[1]),
                (float(np.hypot(*d)) * long, wide, 2.2),
                tilt_deg=tilt,
                bevel=0.7,
            )
        )
        u = d / np.hypot(*d) * float(np.hypot(*d)) * long * 0.42
        side = mid + n * 1.1
        for w in (-0.42, 0.42):
            bodies += rivets(
                (side[0] - u[0], y + w * wide, side[1] - u[1]),
                (side[0] + u[0], y + w * wide, side[1] + u[1]),
                5,
                radius=0.6,
            )
    # rams along thigh and shin
    for (ax, az), (bx, bz) in (
        ((hip[0] - 6, hip[1] + 1), (knee[0] - 4.5, knee[1] + 5)),
        ((knee[0] - 5, knee[1] - 2), (ankle[0] - 5.5, ankle[1] + 6)),
    ):
        mx, mz = ax + 0.55 * (bx - ax), az + 0.55 * (bz - az)
        bodies.append(rod((ax, y, az), (mx, y, mz), 1.9, sections=20))
        bodies.append(rod((mx, y, mz), (bx, y, bz), 1.1, sections=16))
    # the foot: a sole with three toes and a heel
    x, z = ankle
    foot = [(x - 8, 4.6), (x + 10, 4.6), (x + 10, 7), (x + 3, 11.5), (x - 5, 11.5), (x - 8, 8)]
    bodies.append(profile(foot, y=y, half=7.0))
    for t in (-5.2, 0.0, 5.2):
        toe = [(x + 9, 4.2), (x + 17, 4.2), (x + 17, 5.6), (x + 9.5, 8.8)]
        bodies.append(profile(toe, y=y + t, half=2.1))
    bodies.append(
        profile([(x - 13, 4.2), (x - 7, 4.2), (x - 7, 8.4), (x - 12, 6.2)], y=y, half=3.0)
    )
    return bodies


def walker_legs() -> Bodies:
    """Hips and both legs in mid stride: the near one ahead."""
    bodies: Bodies = [
        box((-3, 0, 54), (22, 18, 9), bevel=1.4),
        rod((-3, 0, 56), (-3, 0, 60), 9.0, sections=48),
    ]
    bodies += _leg(-1.0, (0.0, 52.0), (17.0, 36.0), (9.0, 14.0))
    bodies += _leg(1.0, (-4.0, 52.0), (1.0, 31.5), (-20.0, 14.0))
    return bodies


def walker_arms() -> Bodies:
    """A crane hook on the near side, a long claw on the far one."""
    bodies: Bodies = []
    for s, elbow, hand in ((-1.0, (24.0, 58.0), (40.0, 47.0)), (1.0, (20.0, 52.0), (36.0, 44.0))):
        y = s * 19.5
        bodies.append(rod((2, s * 12, 68), (2, y + s * 3, 68), 4.8, sections=36))
        bodies.append(rod((2, y + s * 3, 68), (2, y + s * 4.2, 68), 3.0, sections=28))
        bodies.append(_beam((2.0, 68.0), elbow, y, size=6.0, wide=5.0))
        bodies.append(
            rod((elbow[0], y - 4, elbow[1]), (elbow[0], y + 4, elbow[1]), 3.6, sections=32)
        )
        bodies.append(_beam(elbow, hand, y, size=4.6, wide=4.2))
        bodies.append(
            rod((hand[0], y - 3.4, hand[1]), (hand[0], y + 3.4, hand[1]), 2.7, sections=28)
        )
        bodies += rivets((8, y + s * 2.6, 65.4), (20, y + s * 2.6, elbow[1] + 2.2), 5)
        for turn in (-38.0, 0.0, 38.0):
            a = np.radians(-50 + turn)
            near = (hand[0] + 3 * np.cos(a), y, hand[1] + 3 * np.sin(a))
            mid = (
                hand[0] + 9 * np.cos(a),
                y + (s * 2.2 if turn else -s * 2.2),
                hand[1] + 9 * np.sin(a),
            )
            tip = (
                mid[0] + 4.5 * np.cos(a - np.radians(turn) * 1.6),
                mid[1],
                mid[2] + 4.5 * np.sin(a - np.radians(turn) * 1.6),
            )
            bodies += [rod(near, mid, 1.35, sections=16), rod(mid, tip, 1.0, sections=16)]
            knob = trimesh.creation.icosphere(subdivisions=2, radius=1.5)
            knob.apply_translation(mid)
            bodies.append(knob)
    return bodies


def walker_base() -> Mesh:
    """Mud flats with stones under the walker."""
    s = Sculpt((-46, -46, -1), (46, 46, 12), 0.5)
    ground(s, 43.0, top=4.0, seed=31, stones=22, rough=0.7)
    return s.mesh()


# the rail car: x along the track ------------------------------------------------------------------


def car_body() -> Bodies:
    """A box of planks in an iron frame, with doors, steps and hand rails."""
    bodies: Bodies = [box((0, 0, 41), (104, 40, 32), bevel=0.6)]
    for s in (-1.0, 1.0):
        y = s * 20.4
        for i in range(7):
            z = 28.2 + 4.3 * i
            bodies.append(box((-33.5, y, z), (36, 1.4, 4.0), bevel=0.35))
            bodies.append(box((33.5, y, z), (36, 1.4, 4.0), bevel=0.35))
        for x in (-51.4, -33.5, -15.6, 15.6, 33.5, 51.4):
            bodies.append(box((x, s * 21.3, 41), (2.6, 1.8, 33), bevel=0.4))
            bodies += rivets((x, s * 22.3, 27), (x, s * 22.3, 55), 6, radius=0.6)
        # sliding door on its rail, with a cross of braces and a bolt
        bodies.append(box((0, s * 21.6, 40.5), (27, 1.8, 30), bevel=0.5))
        for z in (28, 53):
            bodies.append(box((0, s * 22.8, z), (26, 1.0, 2.4), bevel=0.3))
        for x in (-11.6, 11.6):
            bodies.append(box((x, s * 22.8, 40.5), (2.4, 1.0, 27), bevel=0.3))
        for a, b in (((-10.5, 29.5), (10.5, 51.5)), ((-10.5, 51.5), (10.5, 29.5))):
            d = np.array(b) - np.array(a)
            tilt = -float(np.degrees(np.arctan2(d[1], d[0])))
            bodies.append(
                box((0, s * 22.7, 40.5), (float(np.hypot(*d)), 0.9, 2.0), tilt_deg=tilt, bevel=0.25)
            )
        bodies.append(rod((-30, s * 23.2, 57.2), (30, s * 23.2, 57.2), 0.8, sections=14))
        for x in (-26, 0, 26):
            bodies.append(box((x, s * 22.2, 57.2), (2.0, 2.4, 2.2), bevel=0.3))
        bodies.append(box((16.5, s * 23.4, 38), (3.0, 1.6, 5.0), bevel=0.4))
        bodies.append(box((0, s * 21.5, 24.6), (106, 2.2, 4.2), bevel=0.5))
        bodies += rivets((-50, s * 22.7, 24.6), (50, s * 22.7, 24.6), 21, radius=0.6)
    # roof: a shallow arch with boards and two vents
    arch = [
        (20.0 * np.sin(a), 57 + 6.5 * (np.cos(a) - np.cos(1.2))) for a in np.linspace(-1.2, 1.2, 15)
    ]
    outline = np.array([(y * 1.19, z) for y, z in arch])
    ends = [np.insert(outline, 0, x, axis=1) for x in (-54.5, 54.5)]
    foot = [[(x, y, 56.4) for y in (-22.6, 22.6)] for x in (-54.5, 54.5)]
    bodies.append(trimesh.convex.convex_hull(np.concatenate([*ends, *map(np.array, foot)])))
    for x in np.arange(-48, 49, 12.0):
        for i in range(len(outline) - 1):
            (y0, z0), (y1, z1) = outline[i], outline[i + 1]
            bodies.append(rod((x, y0, z0 + 0.1), (x, y1, z1 + 0.1), 0.55, sections=8))
    bodies.append(box((0, 0, 61.6), (108, 7.5, 1.2), bevel=0.3))
    for x in (-32, 32):
        bodies.append(rod((x, 0, 61), (x, 0, 65), 2.6, sections=24))
        bodies.append(rod((x, 0, 64.6), (x, 0, 66.4), 4.0, sections=28))
    # ends: ladder on one, brake wheel on the other
    for z in np.arange(28, 57, 4.6):
        bodies.append(rod((53.6, 8, z), (53.6, 16, z), 0.5, sections=10))
    for y in (8.0, 16.0):
        bodies.append(rod((53.6, y, 26), (53.6, y, 58), 0.55, sections=10))
    wheel = trimesh.creation.torus(5.0, 0.7, major_sections=36, minor_sections=10)
    wheel.apply_transform(trimesh.transformations.rotation_matrix(np.pi / 2, [0, 1, 0]))
    wheel.apply_translation([-55.5, 9, 50])
    bodies += [wheel, rod((-52, 9, 50), (-56, 9, 50), 0.9, sections=14)]
    for a in np.linspace(0, np.pi, 3, endpoint=False):
        dy, dz = 5 * np.cos(a), 5 * np.sin(a)
        bodies.append(rod((-55.5, 9 - dy, 50 - dz), (-55.5, 9 + dy, 50 + dz), 0.45, sections=8))
    return bodies


def car_gear() -> Bodies:
    """Frame, springs, axle boxes, wheels with spokes, buffers and a coupling."""
    bodies: Bodies = []
    for s in (-1.0, 1.0):
        bodies.append(box((0, s * 13, 21.0), (104, 3, 5), bevel=0.5))
        for x in (-34.0, 34.0):
            bodies.append(box((x, s * 17.4, 15.4), (7, 4.2, 7), bevel=0.7))
            bodies.append(rod((x, s * 19.2, 15.2), (x, s * 20.4, 15.2), 2.3, sections=20))
            for i in range(4):
                bodies.append(box((x, s * 17.4, 19.6 + 0.9 * i), (20 - 4 * i, 3.2, 0.8), bevel=0.2))
            for t in (-1.0, 1.0):
                bodies.append(
                    profile(
                        [(x + t * 4, 12), (x + t * 6, 12), (x + t * 12, 22), (x + t * 9.5, 22)],
                        y=s * 15.6,
                        half=0.9,
                    )
                )
            y = s * 15.0
            bodies.append(rod((x, y - 1.3, 13.0), (x, y + 1.3, 13.0), 9.5, sections=56))
            bodies.append(rod((x, y - s * 2.4, 13.0), (x, y - s * 1.0, 13.0), 10.4, sections=56))
            bodies.append(rod((x, y + s * 1.0, 13.0), (x, y + s * 2.0, 13.0), 3.2, sections=28))
            for a in np.arange(8) * np.pi / 4:
                p = (x + 2.5 * np.cos(a), y + s * 1.4, 13 + 2.5 * np.sin(a))
                q = (x + 8.2 * np.cos(a), y + s * 1.4, 13 + 8.2 * np.sin(a))
                bodies.append(rod(p, q, 0.75, sections=10))
        for e in (-1.0, 1.0):
            bodies.append(rod((e * 52, s * 13, 22), (e * 60, s * 13, 22), 1.9, sections=20))
            bodies.append(rod((e * 60, s * 13, 22), (e * 61.6, s * 13, 22), 4.6, sections=32))
    for x in (-34.0, 34.0):
        bodies.append(rod((x, -17, 13), (x, 17, 13), 1.7, sections=20))
    for e in (-1.0, 1.0):
        bodies.append(box((e * 53, 0, 21), (3, 40, 6.5), bevel=0.6))
        for i in range(3):
            link = trimesh.creation.torus(1.9, 0.6, major_sections=24, minor_sections=10)
            if i % 2:
                link.apply_transform(trimesh.transformations.rotation_matrix(np.pi / 2, [1, 0, 0]))
            link.apply_translation([e * (56.0 + 2.7 * i), 0, 21 - 0.5 * i])
            bodies.append(link)
    return bodies


def car_track() -> Bodies:
    """Two rails on sleepers."""
    bodies: Bodies = []
    for x in np.arange(-60, 61, 12.0):
        bodies.append(box((x, 0, 0.9), (7, 50, 2.4), bevel=0.5))
        for s in (-1.0, 1.0):
            bodies.append(box((x, s * 15, 2.3), (3.4, 5.2, 0.8), bevel=0.2))
            bodies += rivets((x, s * 15 - 2.1, 2.8), (x, s * 15 + 2.1, 2.8), 2, radius=0.5)
    for s in (-1.0, 1.0):
        bodies.append(box((0, s * 15, 2.6), (132, 3.2, 0.8), bevel=0.2))
        bodies.append(box((0, s * 15, 3.2), (132, 0.9, 1.2), bevel=0.2))
        bodies.append(box((0, s * 15, 3.6), (132, 1.9, 1.0), bevel=0.3))
    return bodies


def car_ballast() -> Mesh:
    """A bed of stones under the track."""
    s = Sculpt((-72, -34, -4), (72, 34, 4), 0.6)
    rng = np.random.default_rng(17)

    def bed(x: Grid, y: Grid, z: Grid) -> Grid:
        slope = np.maximum(np.abs(y) - 25 - (0.2 - z) * 1.5, np.abs(x) - 66 - (0.2 - z) * 0.9)
        return np.maximum(np.maximum(z - 0.3, slope * 0.55), -3.4 - z)

    s.sheet(bed, (-71, -33, -3.8), (71, 33, 3), 0.0)
    for _ in range(900):
        x, y = rng.uniform(-65, 65), rng.uniform(-27, 27)
        big = rng.uniform(0.9, 1.7)
        z = 0.25 - max(0.0, abs(y) - 25) * 0.6
        s.ball(
            (x, y, z),
            (big, big * 0.8, big * 0.65),
            0.08,
            turn=(rng.uniform(-30, 30), rng.uniform(-30, 30), rng.uniform(0, 180)),
        )
    return s.mesh()


# the round base -----------------------------------------------------------------------------------


def shore() -> Mesh:
    """A round base: mud cracked into plates, a pool with a shelving bank, reeds, a broken pile."""
    s = Sculpt((-33, -33, -1), (33, 33, 24), 0.3)
    s.disc((0, 0, 1.7), 30.0, 1.7, 0.0, sides=96, top=0.95)
    rng = np.random.default_rng(12)
    seeds = []
    while len(seeds) < 85:
        p = rng.uniform(-28, 28, 2)
        if np.hypot(*p) < 28.5 and all(np.hypot(*(p - q)) > 4.3 for q in seeds):
            seeds.append(p)
    at = np.array(seeds)
    lift = rng.uniform(-0.25, 0.45, len(at))
    lean = rng.uniform(-0.07, 0.07, (len(at), 2))
    pool_x, pool_y = 8.0, -9.0

    def mud(x: Grid, y: Grid, z: Grid) -> Grid:
        u = x[:, :, 0] + 0.5 * np.sin(0.8 * y[:, :, 0])
        w = y[:, :, 0] + 0.5 * np.sin(0.9 * x[:, :, 0])
        d = np.hypot(u[..., None] - at[:, 0], w[..., None] - at[:, 1])
        order = np.argpartition(d, 1, axis=-1)[..., :2]
        near = np.take_along_axis(d, order, axis=-1)
        near.sort(axis=-1)
        first = d.argmin(axis=-1)
        crack = np.clip((near[..., 1] - near[..., 0]) / 1.1, 0, 1)
        plate = (
            lift[first] + lean[first, 0] * (u - at[first, 0]) + lean[first, 1] * (w - at[first, 1])
        )
        bank = (
            np.hypot((u - pool_x) / 1.25, w - pool_y)
            - 9.5
            - 1.1 * np.sin(2.6 * np.arctan2(w - pool_y, u - pool_x))
        )
        dry = np.clip(bank / 3.5, 0, 1)
        top = (
            3.7 + dry * (plate + 0.55 - 1.7 * (1 - crack) ** 0.6) - 1.5 * np.clip(-bank / 4.0, 0, 1)
        )
        r = np.hypot(x[:, :, 0], y[:, :, 0])
        top = top - 1.0 * np.clip((r - 27.2) / 1.6, 0, 1)
        return np.maximum((z - top[..., None]) * 0.75, np.hypot(x, y) - 28.7)

    s.sheet(mud, (-29, -29, 0.8), (29, 29, 7), 0.1)
    for _ in range(14):
        a = rng.uniform(0, 2 * np.pi)
        x, y = pool_x + 13.5 * np.cos(a), pool_y + 11 * np.sin(a)
        if np.hypot(x, y) < 26:
            big = rng.uniform(0.8, 1.8)
            s.ball((x, y, 4.1), (big, big * 0.8, big * 0.6), 0.2, turn=(0, 0, rng.uniform(0, 180)))
    # a broken pile with an iron band, a rope end
    s.tube([(-14, 10, 2), (-14.6, 10.4, 18)], [3.1, 2.8], 0.3)
    for i in range(9):
        a = i * 0.7
        s.groove(
            (-14 + 3.1 * np.cos(a), 10 + 3.1 * np.sin(a), 4),
            (-14.6 + 2.8 * np.cos(a), 10.4 + 2.8 * np.sin(a), 20),
            0.22,
        )
    for x, y, z, r in ((-13.2, 9.6, 21.6, 1.9), (-16.4, 11.2, 20.8, 1.7), (-14.8, 12.2, 22.2, 1.5)):
        s.ball((x, y, z), (r, r, 3.0), 0.2, away=True)
    s.hoop((-14.3, 10.2, 9.5), 3.0, 0.55, 0.06)
    s.hoop((-14.4, 10.3, 14.0), 2.95, 0.5, 0.06)
    for i in range(13):
        a = rng.uniform(0, 2 * np.pi)
        x, y = -3 + 2.6 * np.cos(a), -17 + 1.8 * np.sin(a)
        tall = rng.uniform(8, 15)
        dx, dy = rng.uniform(-2.2, 2.2, 2)
        s.tube(
            [(x, y, 3), (x + 0.3 * dx, y + 0.3 * dy, 3 + 0.6 * tall), (x + dx, y + dy, 3 + tall)],
            [0.5, 0.42, 0.25],
            0.1,
        )
        if i % 3 == 0:
            s.tube(
                [(x + 0.85 * dx, y + 0.85 * dy, 2 + 0.9 * tall), (x + dx, y + dy, 4.4 + tall)],
                [0.8, 0.75],
                0.1,
            )
    return s.mesh()


def pool() -> Mesh:
    """The water: a flat sheet with rings where something rose."""
    s = Sculpt((-10, -24, 1.5), (26, 6, 6), 0.3)

    def water(x: Grid, y: Grid, z: Grid) -> Grid:
        bank = np.hypot((x - 8) / 1.25, y + 9) - 11.4
        r = np.hypot(x - 5.5, y + 10.5)
        top = 3.25 + 0.16 * np.cos(2.2 * r) * np.exp(-r / 5.0)
        return np.maximum(np.maximum(z - top, 2.2 - z), bank * 0.8)

    s.sheet(water, (-9, -23, 1.8), (25, 5, 5), 0.0)
    return s.mesh()
