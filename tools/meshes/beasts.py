"""Beasts of the coast: one with wings, one long and scaled, and one that is ridden."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from meshes.sculpt import Grid, Point, Sculpt, along, curve, ground, scales_on
from meshes.solid import Mesh, garment


def _at(path: list[Point], t: float) -> Point:
    return path[min(len(path) - 1, max(0, round(t * (len(path) - 1))))]


def _claws(s: Sculpt, foot: Point, *, ahead: float, big: float, spread: float = 0.5) -> None:
    """Three toes with claws; `ahead` is the direction they point to [°], 0 along +x."""
    for turn in (-spread, 0.0, spread):
        a = np.radians(ahead) + turn
        knuckle = (
            foot[0] + 1.9 * big * np.cos(a),
            foot[1] + 1.9 * big * np.sin(a),
            foot[2] + 0.35 * big,
        )
        tip = (
            foot[0] + 3.4 * big * np.cos(a),
            foot[1] + 3.4 * big * np.sin(a),
            foot[2] - 0.35 * big,
        )
        s.limb(foot, knuckle, 0.85 * big, 0.7 * big, 0.2 * big)
        s.limb(knuckle, tip, 0.55 * big, 0.12 * big, 0.1 * big)


# the winged beast --------------------------------------------------------------------------------


SPINE = curve(
    [
        (0, 34, 10),
        (0, 26, 16),
        (0, 15, 22),
        (0, 4, 29),
        (0, -6, 36),
        (0, -11, 45),
        (0, -17, 52),
        (0, -24, 53.5),
    ],
    70,
)
GIRTH = along([1.2, 3.0, 6.6, 8.2, 7.4, 4.6, 3.4, 3.3], 70)
TAIL = curve([(0, 34, 10), (5, 44, 7), (14, 48, 8), (22, 43, 12), (24, 35, 16)], 40)


def winged() -> Mesh:
    """Body, neck, tail and legs; it stands on a rock and looks to the show side."""
    s = Sculpt((-26, -36, 2), (30, 54, 64), 0.42)
    s.tube(SPINE, GIRTH, 0.8)
    s.tube(TAIL, along([3.0, 2.4, 1.8, 1.2, 0.6], 40), 0.4)
    for turn in (-40.0, 40.0):
        a = np.radians(turn)
        s.limb((24, 35, 16), (24 + 6 * np.sin(a), 31, 20 + 5 * np.cos(a)), 0.9, 0.25, 0.3)
    scales_on(s, SPINE[8:56:2], GIRTH[8:56:2], size=1.5, around=13, arc_deg=(-115, 115))
    scales_on(
        s, TAIL[2:36:2], along([2.6, 2.0, 1.5, 1.0], 17), size=1.1, around=7, arc_deg=(-100, 100)
    )
    # belly plates across, thorns down the back
    for i in range(10, 54, 3):
        x, y, z = SPINE[i]
        d = np.array(SPINE[i + 1]) - np.array(SPINE[i])
        down = np.array([0, d[2], -d[1]]) / max(np.hypot(d[1], d[2]), 1e-6)
        down = down if down[2] < 0 or down[1] < -0.5 else -down
        r = GIRTH[i]
        at = np.array([x, y, z]) + down * r * 0.82
        s.limb((-0.55 * r, at[1], at[2]), (0.55 * r, at[1], at[2]), 0.36 * r**0.7, None, 0.15)
    for i in range(12, 66, 4):
        x, y, z = SPINE[i]
        d = np.array(SPINE[i + 1]) - np.array(SPINE[i])
        up = np.array([0, -d[2], d[1]]) / max(np.hypot(d[1], d[2]), 1e-6)
        up = up if up[2] > 0 else -up
        r = GIRTH[i]
        base = np.array([x, y, z]) + up * r * 0.9
        tip = np.array([x, y, z]) + up * (r + 1.2 + 0.28 * r) + np.array([0, 0.9, 0])
        s.limb(tuple(base), tuple(tip), 0.85, 0.15, 0.15)
    # head: skull, long jaws half open, horns, brow, teeth
    s.ball((0, -26.5, 54.2), (3.6, 4.8, 3.0), 0.6)
    s.tube([(0, -27, 54.6), (0, -33, 53.2), (0, -36.5, 52.0)], [2.9, 2.2, 1.3], 0.4)
    s.tube([(0, -26, 51.8), (0, -31.5, 48.4), (0, -34.6, 46.6)], [2.3, 1.6, 0.9], 0.3)
    for side in (-1.0, 1.0):
        s.limb((side * 1.6, -24, 56.2), (side * 4.4, -15.5, 60.2), 1.1, 0.2, 0.3)
        s.limb((side * 2.6, -24, 53.2), (side * 6.2, -19, 54.2), 0.8, 0.15, 0.3)
        s.limb((side * 1.2, -31.0, 55.2), (side * 2.9, -26.6, 56.4), 0.75, 0.7, 0.2)
        s.ball((side * 2.75, -28.6, 54.7), (0.6, 0.85, 0.6), 0.05)
        s.ball((side * 0.8, -36.6, 52.9), 0.55, 0.15)
        for t in np.linspace(0.1, 0.9, 6):
            y, z = -29 - 7.3 * t, 52.2 - 1.4 * t
            s.limb(
                (side * (2.0 - 1.0 * t), y, z),
                (side * (2.0 - 1.0 * t), y, z - 1.3),
                0.38,
                0.1,
                0.05,
            )
            y, z = -28.6 - 5.6 * t, 50.6 - 3.0 * t
            s.limb(
                (side * (1.7 - 0.9 * t), y, z),
                (side * (1.7 - 0.9 * t), y - 0.2, z + 1.2),
                0.34,
                0.1,
                0.05,
            )
    # hind legs bent, fore legs braced on the rock
    for side in (-1.0, 1.0):
        s.limb((side * 5, 14, 22), (side * 9.5, 6.5, 15.5), 5.0, 3.0, 1.0)
        s.limb((side * 9.5, 6.5, 15.5), (side * 9.0, 14, 8.5), 2.8, 1.7, 0.6)
        s.limb((side * 9.0, 14, 8.5), (side * 9.2, 9.0, 5.4), 1.7, 1.6, 0.4)
        _claws(s, (side * 9.2, 9.0, 5.3), ahead=-90, big=1.5)
        s.limb((side * 5.5, -5, 33), (side * 8.6, -9.0, 23.5), 3.1, 2.0, 0.8)
        s.limb((side * 8.6, -9.0, 23.5), (side * 7.2, -13.5, 13.4), 1.9, 1.4, 0.5)
        _claws(s, (side * 7.2, -13.5, 12.9), ahead=-90, big=1.35)
    return s.mesh()


def wing(side: float) -> Mesh:
    """One wing, raised and half spread: arm, fingers and a skin that sags between them."""
    root: Point = (side * 5.0, 2.0, 37.0)
    elbow: Point = (side * 17.0, 13.0, 51.0)
    wrist: Point = (side * 28.0, 3.0, 66.0)
    tips: list[Point] = [
        (side * 66.0, -3.0, 70.0),
        (side * 60.0, 10.0, 47.0),
        (side * 46.0, 20.0, 30.0),
        (side * 29.0, 26.0, 19.0),
    ]
    low = (min(0.0, side * 70), -10.0, 12.0)
    high = (max(0.0, side * 70), 32.0, 76.0)
    s = Sculpt((low[0] - 3, low[1], low[2]), (high[0] + 3, high[1], high[2]), 0.5)
    s.tube([root, elbow], [3.0, 1.9], 0.3)
    s.tube([elbow, wrist], [1.9, 1.5], 0.3)
    s.limb(wrist, (side * 27.0, -3.4, 71.0), 1.2, 0.2, 0.2)
    fingers = []
    for tip in tips:
        mid = tuple(0.5 * (a + b) for a, b in zip(wrist, tip, strict=True))
        bow = (mid[0], mid[1] - 1.5, mid[2] + 5.0)
        path = curve([wrist, bow, tip], 20)
        s.tube(path, along([1.3, 0.95, 0.35], 20), 0.15)
        s.ball(_at(path, 0.5), 1.25, 0.2)
        fingers.append(path)
    fingers.append(curve([elbow, (side * 15, 18, 36), (side * 11.0, 21.0, 24.0)], 20))
    # the skin: bands between neighbours, drawn in toward the middle of each band
    for one, other in pairwise(fingers):
        for i in range(1, 20):
            t = i / 19
            a, b = np.array(one[i]), np.array(other[i])
            middle = 0.5 * (a + b) + np.array([0, 1.8 * t, 2.4 * t**2])
            near = np.array(one[i - 1]), np.array(other[i - 1])
            before = 0.5 * (near[0] + near[1]) + np.array([0, 1.8 * t, 2.4 * t**2]) * 0.95
            for p, q, r in ((a, middle, near[0]), (middle, b, before)):
                _patch(s, p, q, r)
    return s.mesh()


def _patch(s: Sculpt, p: np.ndarray, q: np.ndarray, r: np.ndarray) -> None:
    """A strip of skin from p to q, as wide as to r."""
    width = max(0.55, float(np.linalg.norm(r - p)) * 0.55)
    u = (q - p) / max(float(np.linalg.norm(q - p)), 1e-6)
    v = (r - p) - u * float((r - p) @ u)
    v /= max(float(np.linalg.norm(v)), 1e-6)
    n = np.cross(u, v)
    half = float(np.linalg.norm(q - p)) / 2 + 0.8
    at = 0.5 * (p + q)

    def d(x: Grid, y: Grid, z: Grid) -> Grid:
        a, b, c = x - at[0], y - at[1], z - at[2]
        along_u = np.abs(a * u[0] + b * u[1] + c * u[2]) - half
        along_v = np.abs(a * v[0] + b * v[1] + c * v[2]) - width
        along_n = np.abs(a * n[0] + b * n[1] + c * n[2]) - 0.5
        return np.maximum(np.maximum(along_u, along_v), along_n)

    far = half + width + 1.0
    s.add(d, tuple(at - far), tuple(at + far), 0.35)


def winged_rock() -> Mesh:
    """The rock it stands on, in split layers."""
    s = Sculpt((-26, -30, -1), (26, 34, 16), 0.45)
    ground(s, 24.0, top=3.0, seed=21, stones=20, rough=0.6)
    rng = np.random.default_rng(8)
    for x, y, z, r in (
        (0, -12, 4.5, 11),
        (-3, -10, 8.2, 8.5),
        (4, -11, 8.0, 7.5),
        (0, 9, 3.2, 13),
        (-9, 8, 3.6, 6),
        (9, 10, 3.6, 6.5),
    ):
        s.disc(
            (x, y, z),
            r,
            2.6,
            0.3,
            sides=int(rng.integers(5, 8)),
            top=0.82,
            turn=(rng.uniform(-8, 8), rng.uniform(-8, 8), rng.uniform(0, 60)),
        )
    return s.mesh()


# the long scaled beast ---------------------------------------------------------------------------


BODY = curve(
    [
        (-54, -8, 4),
        (-56, 8, 4.5),
        (-46, 20, 5.5),
        (-33, 20, 7),
        (-20, 8, 8.5),
        (-6, -4, 9.5),
        (10, -5, 10),
        (24, 3, 10),
        (36, 6, 13),
        (45, 0, 18),
        (51, -8, 20),
    ],
    130,
)
THICK = along([0.7, 1.5, 2.6, 4.0, 5.6, 7.0, 7.4, 6.8, 5.6, 4.5, 3.9], 130)


def crawler_beast() -> Mesh:
    """Long, low and scaled, six-legged, its head lifted."""
    s = Sculpt((-62, -22, 1.5), (70, 34, 32), 0.42)
    s.tube(BODY, THICK, 0.6)
    scales_on(s, BODY[4:118:2], THICK[4:118:2], size=1.75, around=12, arc_deg=(-105, 105))
    for i in range(6, 118, 4):
        x, y, z = BODY[i]
        r = THICK[i]
        d = np.array(BODY[i + 1]) - np.array(BODY[i])
        d /= np.linalg.norm(d)
        s.limb(
            (x, y, z + 0.9 * r),
            (x - 1.6 * d[0], y - 1.6 * d[1], z + 1.28 * r + 0.7),
            0.32 * r,
            0.12,
            0.15,
        )
    for t, reach in ((0.44, 0.0), (0.6, 1.0), (0.75, 0.0)):
        i = int(t * (len(BODY) - 1))
        x, y, z = BODY[i]
        d = np.array(BODY[i + 1]) - np.array(BODY[i])
        a = np.arctan2(d[1], d[0])
        for side in (-1.0, 1.0):
            out = np.array([-np.sin(a) * side, np.cos(a) * side])
            step = (4.0 if (side > 0) == (reach > 0.5) else -4.0) * np.array([np.cos(a), np.sin(a)])
            knee = (x + out[0] * 11.5 + step[0], y + out[1] * 11.5 + step[1], z + 3.2)
            foot = (knee[0] + out[0] * 3 + 0.5 * step[0], knee[1] + out[1] * 3 + 0.5 * step[1], 3.8)
            s.limb((x + out[0] * 3, y + out[1] * 3, z), knee, 4.6, 3.0, 1.0)
            s.ball((x + out[0] * 5.5, y + out[1] * 5.5, z + 0.6), (3.9, 3.9, 4.4), 0.8)
            s.limb(knee, foot, 2.9, 1.9, 0.5)
            for u in (0.25, 0.6, 0.95):
                at = [p + u * (q - p) for p, q in zip((x, y, z + 2.0), knee, strict=True)]
                s.limb(
                    (at[0], at[1], at[2] + 2.6),
                    (at[0] + out[0] * 1.6, at[1] + out[1] * 1.6, at[2] + 4.4),
                    0.9,
                    0.15,
                    0.2,
                )
            _claws(s, foot, ahead=float(np.degrees(a)) + side * 12, big=1.7)
    # head: wedge with a wide mouth, a frill of spines, eyes under brows, teeth
    head = np.array(BODY[-1])
    fwd = np.array([0.78, -0.6, -0.12])
    fwd /= np.linalg.norm(fwd)
    side_v = np.array([fwd[1], -fwd[0], 0]) / np.hypot(fwd[0], fwd[1])
    up = np.cross(side_v, fwd)
    up = up if up[2] > 0 else -up

    def on(f: float, w: float, u: float) -> Point:
        at = head + f * fwd + w * side_v + u * up
        return float(at[0]), float(at[1]), float(at[2])

    s.ball(on(1.5, 0, 0.5), (4.9, 4.9, 4.2), 0.6)
    s.tube([on(1, 0, 1.2), on(7, 0, 1.2), on(12.4, 0, 0.6)], [4.4, 3.6, 2.3], 0.5)
    s.tube([on(0, 0, -2.2), on(6, 0, -3.4), on(11, 0, -4.2)], [3.4, 2.7, 1.6], 0.3)
    for w in (-1.0, 1.0):
        s.ball(on(4.2, w * 3.3, 3.1), 1.05, 0.08)
        s.limb(on(2.0, w * 2.9, 4.4), on(6.6, w * 2.7, 3.7), 0.95, 0.6, 0.25)
        s.ball(on(13.4, w * 1.1, 1.9), 0.6, 0.2)
        for t in np.linspace(0.05, 0.95, 8):
            wide = w * (3.2 - 1.5 * t)
            s.limb(on(4.5 + 8.6 * t, wide, -1.0), on(4.6 + 8.6 * t, wide, -2.6), 0.5, 0.1, 0.05)
            s.limb(
                on(4.0 + 7.2 * t, wide * 0.8, -2.8 - 0.9 * t),
                on(4.1 + 7.2 * t, wide * 0.8, -1.3 - 0.8 * t),
                0.45,
                0.1,
                0.05,
            )
        for i, rise in enumerate((0.2, 1.6, 3.2, 4.6)):
            tip = on(-4.6 - 0.7 * i, w * (9.0 - 1.7 * i), rise * 1.9)
            s.limb(on(-1.0, w * 3.6, rise), tip, 0.95, 0.2, 0.3)
    return s.mesh()


def crawler_ground() -> Mesh:
    """Mud with ripples and half-buried stones, oval."""
    s = Sculpt((-64, -28, -1), (70, 40, 8), 0.6)
    rng = np.random.default_rng(4)

    def slab(x: Grid, y: Grid, z: Grid) -> Grid:
        r = np.sqrt(((x - 2) / 62) ** 2 + ((y - 5) / 27) ** 2)
        ripple = 0.35 * np.sin(0.55 * x + 0.8 * np.sin(0.17 * y)) + 0.3 * np.sin(0.31 * y + 0.2 * x)
        top = 2.6 + ripple * np.clip((0.95 - r) * 6, 0, 1) - 1.2 * np.clip((r - 0.9) / 0.1, 0, 1)
        return np.maximum(np.maximum(z - top, (r - 1) * 26), -z)

    s.sheet(slab, (-62, -24, -0.8), (66, 34, 5), 0.0)
    for _ in range(26):
        a, q = rng.uniform(0, 6.28), np.sqrt(rng.uniform(0.1, 0.8))
        big = rng.uniform(1.0, 2.6)
        s.ball(
            (2 + 60 * q * np.cos(a), 5 + 25 * q * np.sin(a), 2.4),
            (big, big * 0.8, big * 0.6),
            0.3,
            turn=(0, 0, rng.uniform(0, 180)),
        )
    return s.mesh()


# the rider ---------------------------------------------------------------------------------------


def mount() -> Mesh:
    """A heavy strand horse in mid stride, barded at the chest, saddled."""
    s = Sculpt((-27, -12, 2), (30, 12, 46), 0.3)
    # x is forward: it strides to the looker's right and shows its side
    trunk = curve([(-16, 0, 27), (-8, 0, 26.5), (2, 0, 26), (11, 0, 27.5)], 24)
    s.tube(trunk, along([6.0, 6.3, 6.2, 6.0], 24), 0.8)
    s.ball((-15, 0, 27.5), (6.4, 5.4, 6.6), 0.8)
    s.ball((11.5, 0, 27), (5.4, 5.0, 6.6), 0.8)
    neck = curve([(12, 0, 29), (17, 0, 35), (19.5, 0, 40.0)], 16)
    s.tube(neck, along([5.2, 3.7, 2.9], 16), 0.6)
    s.tube([(18.6, 0, 41), (22.6, 0, 39.2), (27.0, 0, 35.6)], [2.9, 2.3, 1.5], 0.5)
    s.ball((19.2, 0, 39.2), (2.3, 1.7, 2.6), 0.5)
    s.ball((27.4, 0, 35.1), (1.25, 1.3, 1.05), 0.3)
    for side in (-1.0, 1.0):
        s.limb((18.0, side * 1.3, 42.6), (17.6, side * 1.9, 45.2), 0.85, 0.2, 0.2)
        s.ball((21.6, side * 2.05, 40.2), (0.6, 0.35, 0.5), 0.08)
        s.limb((20.4, side * 1.7, 41.3), (22.6, side * 1.8, 40.7), 0.45, 0.3, 0.2)
        s.ball((27.9, side * 0.85, 35.5), 0.35, 0.1, away=True)
    # mane in locks, tail in strands
    for i, at in enumerate(neck[::1]):
        lean = 1.0 if i % 2 else 0.5
        s.limb(
            (at[0] - 2.6 + 0.05 * i, 0.2, at[2] + 1.8),
            (at[0] - 4.6, -2.6 - lean, at[2] - 3.0),
            0.95,
            0.25,
            0.15,
        )
        side = along([5.2, 3.7, 2.9], 16)[i]
        s.limb(
            (at[0] - 2.2, -0.5, at[2] + 2.2),
            (at[0] - 2.6, -side - 0.5 * lean, at[2] - 3.2 - lean),
            0.9,
            0.3,
            0.12,
        )
    s.limb((18.6, 0, 43.6), (21.8, -0.6, 42.2), 0.8, 0.3, 0.2)
    for i in range(9):
        y = -1.8 + 0.45 * i
        path = curve(
            [
                (-20.5, 0.3 * y, 30.5),
                (-24, 0.7 * y, 28.5),
                (-25 - 0.2 * (i % 3), y, 20.5 - 0.8 * (i % 4)),
                (-23.4, 1.3 * y, 14 - (i % 3)),
            ],
            14,
        )
        s.tube(path, along([1.0, 0.95, 0.75, 0.2], 14), 0.1)
    # legs: near fore lifted, the others driving
    for hip, knee, fetlock, hoof, thick in (
        ((12, -3.2, 24), (19.2, -3.5, 19.6), (16.6, -3.6, 12.2), (18.6, -3.6, 9.4), 2.7),
        ((11, 3.2, 23), (12.6, 3.4, 13.6), (11.4, 3.5, 6.4), (12.8, 3.5, 3.9), 2.7),
        ((-15.5, -3.3, 25), (-13.2, -3.8, 15.6), (-19.6, -3.8, 8.6), (-19.0, -3.8, 4.0), 3.6),
        ((-15.5, 3.3, 25), (-9.6, 3.7, 15.8), (-13.6, 3.8, 8.2), (-12.2, 3.8, 4.0), 3.6),
    ):
        s.limb(hip, knee, thick, 1.55, 0.7)
        s.ball(knee, 1.65, 0.3)
        s.limb(knee, fetlock, 1.35, 1.0, 0.3)
        s.ball(fetlock, 1.3, 0.2)
        s.limb(fetlock, hoof, 1.05, 1.15, 0.2)
        s.disc((hoof[0] + 0.25, hoof[1], hoof[2] - 0.3), 1.6, 0.85, 0.1, sides=24, top=0.75)
        for t in np.linspace(0, 2 * np.pi, 9, endpoint=False):
            x, y = hoof[0] + 1.2 * np.cos(t), hoof[1] + 1.2 * np.sin(t)
            s.limb(
                (x, y, hoof[2] + 1.7),
                (x + 0.35 * np.cos(t), y + 0.35 * np.sin(t), hoof[2] + 0.2),
                0.45,
                0.2,
                0.08,
            )
    # saddle cloth, saddle, girth, bridle, plates across the chest
    cloth = garment(
        [21.5, 26, 31.8, 33.2],
        [8.0, 7.7, 7.3, 5.2],
        [7.6, 7.1, 6.2, 3.8],
        12,
        [0.03, 0.015, 0, 0],
        (-3.2, 0, 0.2),
    )
    inner = garment(
        [20, 26, 31, 32.2], [9.5, 9.5, 9.5, 9.5], [6.7, 6.5, 5.6, 3.0], 1, [0] * 4, (-3.2, 0, 0)
    )
    s.sheet(
        lambda x, y, z: np.maximum(cloth(x, y, z), -inner(x, y, z)), (-12, -9, 21), (6, 9, 34), 0.1
    )
    s.limb((-9.5, 0, 34.4), (-10.6, 0, 36.6), 2.6, 1.4, 0.6)
    s.limb((2.6, 0, 33.9), (3.6, 0, 36.2), 1.7, 0.8, 0.5)
    s.block((-3.4, 0, 33.4), (5.6, 3.3, 0.9), 0.6, 0.3)
    for x in (2.8,):
        s.hoop((x, 0, 26.4), 6.5, 0.42, 0.08, turn=(0, 90, 0))
    for t in (0.25, 0.55, 0.85):
        i = int(t * 15)
        x, _, z = neck[i]
        r = along([5.2, 3.7, 2.9], 16)[i]
        s.hoop((x, 0, z), r + 0.1, 0.32, 0.05, turn=(0, 45, 0))
    s.hoop((24.6, 0, 37.6), 2.05, 0.3, 0.04, turn=(0, 52, 0))
    s.hoop((20.4, 0, 40.2), 2.75, 0.3, 0.04, turn=(0, 62, 0))
    for row in range(3):
        for i in range(-3 + row % 2, 4):
            a = np.radians(i * 21.0)
            z = 29.5 - 2.6 * row
            s.ball(
                (12.4 + 5.0 * np.cos(a), 5.2 * np.sin(a), z),
                (0.8, 1.15, 1.7),
                0.06,
                turn=(0, -12, float(np.degrees(a))),
            )
    return s.mesh()


def rider() -> Mesh:
    """In the saddle, leaning forward, a long flag-lance in hand, cape behind."""
    s = Sculpt((-20, -12, 18), (26, 12, 72), 0.25)
    for side in (-1.0, 1.0):
        s.limb((-3.6, side * 2.4, 35.6), (3.2, side * 6.8, 30.4), 2.3, 1.7, 0.3)
        s.limb((3.2, side * 6.8, 30.4), (0.4, side * 7.2, 21.8), 1.65, 1.2, 0.3)
        s.limb((0.4, side * 7.2, 21.6), (3.4, side * 7.4, 20.9), 1.15, 0.95, 0.25)
        s.hoop((0.7, side * 7.2, 28.4), 1.75, 0.4, 0.1)
        s.ball((3.5, side * 6.9, 30.6), (1.5, 1.2, 1.5), 0.06)
        s.block((2.0, side * 7.3, 20.0), (1.6, 1.2, 0.3), 0.15, 0.05)
        s.limb((1.6, side * 8.2, 20.2), (0.8, side * 7.0, 29.0), 0.28, 0.28, 0.04)
    s.ball((-3.6, 0, 36.6), (3.0, 3.5, 2.5), 0.4)
    s.limb((-3.4, 0, 38), (-1.6, 0, 45.0), 3.0, 3.6, 0.5)
    s.ball((-1.4, 0, 44.6), (3.0, 4.4, 3.6), 0.4)
    skirt = garment(
        [32.5, 36, 40.6], [5.2, 4.2, 3.3], [5.6, 4.5, 3.4], 9, [0.06, 0.04, 0], (-3.4, 0, 0)
    )
    s.sheet(skirt, (-10, -8, 32), (4, 8, 41), 0.12)
    s.hoop((-2.9, 0, 40.4), 3.35, 0.45, 0.08, turn=(0, 12, 0))
    for z in (42.2, 43.8, 45.4):
        s.hoop((-1.6 + 0.18 * (z - 42), 0, z), 3.55, 0.3, 0.1, turn=(0, 12, 0))
    # left hand at the reins, right hand on the lance (the looker's side is −y, his right)
    s.limb((-0.8, 4.4, 46.2), (0.6, 6.6, 41.0), 1.5, 1.25)
    s.limb((0.6, 6.6, 41.0), (5.4, 3.2, 40.2), 1.25, 0.95)
    s.ball((6.0, 2.8, 40.2), 1.05, 0.15)
    s.limb((-0.8, -4.4, 46.2), (-3.4, -7.8, 42.6), 1.5, 1.3)
    s.limb((-3.4, -7.8, 42.6), (2.4, -8.8, 43.4), 1.3, 1.0)
    s.ball((3.1, -8.8, 43.5), 1.15, 0.15)
    for side in (-1.0, 1.0):
        s.ball((-0.8, side * 4.9, 47.0), (2.1, 1.9, 1.7), 0.08, turn=(side * 20, 0, 0))
        s.hoop((-0.8, side * 5.1, 46.4), 1.85, 0.26, 0.04, turn=(side * 20, 0, 0))
    s.tube(curve([(6.2, 2.6, 40.0), (13, 2.4, 36.5), (22, 1.8, 36.4)], 12), [0.28] * 12, 0.04)
    # head: a brimmed kettle hat over a scarf
    s.ball((0.2, 0, 49.9), (2.15, 2.05, 2.5), 0.2)
    s.hoop((-0.2, 0, 47.9), 2.1, 0.75, 0.2, turn=(0, 8, 0))
    s.ball((2.15, 0, 49.7), (0.55, 0.45, 0.7), 0.15)
    for side in (-1.0, 1.0):
        s.ball((1.95, side * 0.85, 50.35), (0.45, 0.45, 0.28), 0.08, away=True)
        s.limb((2.1, side * 0.2, 49.0), (1.7, side * 1.25, 48.5), 0.4, 0.2, 0.08)
    s.disc((0.1, 0, 51.5), 3.9, 0.28, 0.15, sides=48, top=0.8)
    s.ball((0, 0, 51.9), (2.5, 2.4, 2.1), 0.15)
    s.limb((-2.4, 0, 52.6), (2.5, 0, 52.6), 0.25, 0.25, 0.15)

    # cape, streaming back
    def cape(x: Grid, y: Grid, z: Grid) -> Grid:
        t = np.clip((-1.6 - x) / 15.0, 0, 1)
        middle = 47.6 - 9.5 * t - 1.5 * np.sin(6 * t)
        wave = 0.9 * t * np.sin(1.15 * y + 4 * t)
        half = 3.4 + 4.2 * t
        thick = np.abs(z - middle - wave + 0.05 * y * y * (1 - t)) * 0.75 - 0.42
        return np.maximum(
            np.maximum(thick, np.abs(y) - half),
            np.maximum(-1.6 - x - 15.0 - 0.6 * np.sin(1.2 * y), x + 2.4),
        )

    s.sheet(cape, (-18.5, -9, 34), (-1.5, 9, 52), 0.2)
    return s.mesh()


def lance() -> Mesh:
    """A lance with a swallow-tailed flag."""
    s = Sculpt((-8, -13, 30), (16, -4, 84), 0.25)
    foot, head = np.array([-0.6, -9.0, 32.0]), np.array([8.6, -8.4, 76.0])
    s.limb(tuple(foot), tuple(head), 0.55, 0.5, 0.05)
    s.limb(tuple(head), tuple(head + (head - foot) * 0.085), 1.0, 0.12, 0.1)
    s.ball(tuple(head), (0.95, 0.95, 0.7), 0.1)

    def flag(x: Grid, y: Grid, z: Grid) -> Grid:
        t = np.clip((6.9 - x) / 13.0, 0, 1)
        middle = 69.0 - 3.4 * t
        half = 4.4 - 0.9 * t
        notch = np.abs(z - middle) * 0.9 - 3.6 * np.clip((t - 0.62) / 0.38, 0, 1) + 0.2
        wave = 1.2 * t * np.sin(5.2 * t * 2.0)
        thin = np.abs(y + 8.5 - wave) * 0.8 - 0.4
        return np.maximum(
            np.maximum(thin, np.abs(z - middle) - half),
            np.maximum(np.maximum(6.9 - x - 13.0, x - 7.2), np.where(t > 0.62, -notch, -9)),
        )

    s.sheet(flag, (-7, -12, 58), (8, -5, 76), 0.1)
    return s.mesh()


def strand() -> Mesh:
    """Wet sand under the hooves, oval, with shells and weed."""
    s = Sculpt((-32, -16, -1), (32, 16, 8), 0.38)
    rng = np.random.default_rng(14)

    def slab(x: Grid, y: Grid, z: Grid) -> Grid:
        r = np.sqrt((x / 29) ** 2 + (y / 13.5) ** 2)
        ripple = 0.22 * np.sin(0.9 * x + 0.9 * np.sin(0.35 * y)) + 0.2 * np.sin(0.6 * y)
        top = 2.7 + ripple * np.clip((0.95 - r) * 6, 0, 1) - 0.9 * np.clip((r - 0.9) / 0.1, 0, 1)
        return np.maximum(np.maximum(z - top, (r - 1) * 13), -z)

    s.sheet(slab, (-31, -15, -0.8), (31, 15, 5), 0.0)
    for x, y in ((12.8, 3.5), (-19.0, -3.8), (-12.2, 3.8)):
        s.ball((x, y, 3.3), (2.5, 2.3, 1.0), 0.3, away=True)
    for _ in range(16):
        a, q = rng.uniform(0, 6.28), np.sqrt(rng.uniform(0.2, 0.85))
        big = rng.uniform(0.6, 1.4)
        s.ball(
            (27 * q * np.cos(a), 12.5 * q * np.sin(a), 2.7),
            (big, big * 0.8, big * 0.55),
            0.2,
            turn=(0, 0, rng.uniform(0, 180)),
        )
    return s.mesh()
