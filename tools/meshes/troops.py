"""Two of the harbour watch: one in plates with pack and long gun, one with cloak and shield."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import PchipInterpolator

from meshes.sculpt import Grid, Point, Sculpt, ground
from meshes.solid import Mesh, garment

DECK = 3.0
FINE = 0.17
BROAD = 0.21


def _plated_leg(s: Sculpt, side: float, hip: Point, knee: Point, heel: Point, big: float) -> None:
    hx, hy, hz = hip
    kx, ky, kz = knee
    fx, fy, fz = heel
    s.limb(hip, knee, 1.55 * big, 1.2 * big, 0.3)
    s.limb(knee, (fx, fy, fz + 1.2), 1.15 * big, 0.95 * big, 0.3)
    # a thigh plate, a knee cap, a shin plate with a ridge, a boot with a sole
    thigh = (
        0.55 * hx + 0.45 * kx + side * 0.25,
        0.55 * hy + 0.45 * ky - 0.55,
        0.55 * hz + 0.45 * kz,
    )
    s.ball(thigh, (1.5 * big, 1.35 * big, 2.4 * big), 0.06)
    s.ball((kx + side * 0.1, ky - 0.75 * big, kz), (1.15 * big, 0.85 * big, 1.2 * big), 0.06)
    s.hoop((kx + side * 0.1, ky - 1.1 * big, kz), 0.78 * big, 0.2, 0.05, turn=(80, 0, 0))
    mid = (0.5 * (kx + fx), 0.5 * (ky + fy) - 0.5, 0.5 * (kz + fz) + 0.2)
    s.ball(mid, (1.3 * big, 1.25 * big, 2.7 * big), 0.06)
    s.limb((kx, ky - 1.5 * big, kz - 1.2), (fx, fy - 1.45 * big, fz + 2.2), 0.28, 0.24, 0.12)
    s.hoop((fx, fy - 0.2, fz + 1.9), 1.22 * big, 0.34, 0.08)
    s.limb(
        (fx, fy + 0.5, fz + 0.75),
        (fx + side * 0.35, fy - 2.5 * big, fz + 0.6),
        1.05 * big,
        0.95 * big,
    )
    s.block((fx + side * 0.15, fy - 1.0 * big, fz + 0.05), (1.15 * big, 2.3 * big, 0.35), 0.2, 0.05)


def _arm(s: Sculpt, side: float, shoulder: Point, elbow: Point, hand: Point, big: float) -> None:
    s.limb(shoulder, elbow, 1.35 * big, 1.1 * big)
    s.limb(elbow, hand, 1.1 * big, 0.85 * big)
    s.ball((elbow[0] + side * 0.25, elbow[1] + 0.3, elbow[2]), (1.05 * big,) * 3, 0.08)
    fore = tuple(0.5 * (a + b) for a, b in zip(elbow, hand, strict=True))
    s.ball(fore, (1.3 * big, 1.3 * big, 1.3 * big), 0.25)
    cuff = tuple(0.25 * a + 0.75 * b for a, b in zip(elbow, hand, strict=True))
    s.limb(
        cuff,
        tuple(0.1 * a + 0.9 * b for a, b in zip(elbow, hand, strict=True)),
        1.2 * big,
        1.15 * big,
        0.06,
    )
    s.ball(hand, (1.0 * big, 0.95 * big, 0.95 * big), 0.2)
    for i in range(4):
        s.limb(
            (hand[0] - 0.8 * big + 0.53 * big * i, hand[1] - 0.75 * big, hand[2] + 0.35 * big),
            (hand[0] - 0.8 * big + 0.53 * big * i, hand[1] - 0.55 * big, hand[2] - 0.55 * big),
            0.3 * big,
            0.28 * big,
            0.05,
        )


def _pauldron(s: Sculpt, side: float, at: Point, big: float) -> None:
    s.ball(at, (2.05 * big, 2.35 * big, 1.9 * big), 0.1, turn=(0, side * 18, 0))
    under = (at[0] + side * 0.9 * big, at[1], at[2] - 1.8 * big)
    s.ball(under, (1.9 * big, 2.2 * big, 1.2 * big), 0.05, turn=(0, side * 18, 0), away=True)
    for low in (1.15, 2.1):
        s.ball(
            (at[0] + side * 0.35 * low, at[1], at[2] - low * big),
            (1.95 * big, 2.1 * big, 0.75 * big),
            0.05,
            turn=(0, side * 24, 0),
        )
    s.hoop(
        (at[0] + side * 0.35, at[1], at[2] - 0.55 * big),
        2.02 * big,
        0.25,
        0.05,
        turn=(0, side * 18, 0),
    )
    for turn in (-60, -20, 20, 60):
        a = np.radians(turn)
        s.ball(
            (
                at[0] + side * 1.5 * big * np.cos(a),
                at[1] + 1.6 * big * np.sin(a),
                at[2] + 0.95 * big,
            ),
            0.28,
            0.04,
        )


def trooper() -> Mesh:
    """In plates from head to foot."""
    s = Sculpt((-11, -9, 2), (11, 7, 35), FINE)
    for side, hip, knee, heel in (
        (-1.0, (-1.7, 0.2, 15.2), (-2.9, -1.3, 9.6), (-3.5, -0.4, DECK + 0.2)),
        (1.0, (1.7, 0.2, 15.2), (3.1, -0.6, 9.6), (3.9, 1.0, DECK + 0.2)),
    ):
        _plated_leg(s, side, hip, knee, heel, 1.0)
    # hips, belt with pouches, belly in bands, chest plate with a collar
    s.ball((0, 0.3, 15.8), (3.1, 2.4, 2.0), 0.4)
    s.block((0, -1.9, 14.4), (1.25, 0.5, 1.5), 0.35, 0.1, turn=(8, 0, 0))
    s.ball((0, 0.3, 17.7), (2.85, 2.2, 2.4), 0.4)
    for z in (16.9, 17.9, 18.9):
        s.sheet(
            garment([z - 0.32, z + 0.32], [3.15] * 2, [2.55] * 2, 1, [0, 0], (0, 0.25, 0)),
            (-4, -4, z - 1),
            (4, 4, z + 1),
            0.05,
        )
    s.sheet(
        garment([15.2, 16.2], [3.5, 3.45], [2.85, 2.8], 1, [0, 0], (0, 0.25, 0)),
        (-5, -5, 14.5),
        (5, 5, 17),
        0.06,
    )
    for x in (-2.6, 2.5):
        s.block((x, -2.35, 15.4), (0.85, 0.6, 0.95), 0.2, 0.05)
        s.block((x, -2.8, 15.8), (0.95, 0.25, 0.4), 0.12, 0.04)
    s.ball((0, 0.3, 22.3), (4.5, 3.1, 3.7), 0.3)
    # one breast plate with a rolled edge, straps, a valve
    s.ball((0, -1.1, 22.6), (3.9, 2.75, 3.1), 0.08)
    s.hoop((0, -1.2, 20.6), 2.75, 0.3, 0.06)
    for side in (-1.0, 1.0):
        s.limb((side * 2.7, -2.4, 24.9), (side * 2.2, -3.4, 21.6), 0.42, 0.4, 0.05)
        s.block((side * 2.35, -3.5, 22.6), (0.5, 0.3, 0.4), 0.1, 0.04)
    s.disc((0, -3.9, 22.9), 0.95, 0.35, 0.05, sides=8, turn=(90, 0, 0))
    s.ball((0, -4.2, 22.9), 0.5, 0.05)
    s.hoop((0, 0.2, 25.6), 2.5, 0.6, 0.15, turn=(-8, 0, 0))
    for side, shoulder, elbow, hand in (
        (-1.0, (-4.7, 0.5, 24.2), (-7.0, -0.6, 19.6), (-3.3, -4.6, 18.9)),
        (1.0, (4.7, 0.5, 24.2), (7.1, -1.2, 20.3), (3.7, -4.9, 22.4)),
    ):
        _arm(s, side, shoulder, elbow, hand, 1.0)
        _pauldron(s, side, (side * 5.5, 0.4, 24.7), 1.0)
    # a diver's helmet: a round port with a grille, side ports, a crest bolt, a row of wing nuts
    s.ball((0, -0.1, 28.7), (2.75, 2.8, 2.75), 0.2)
    s.disc((0, -2.55, 28.6), 1.75, 0.5, 0.1, turn=(90, 0, 0))
    s.disc((0, -3.2, 28.6), 1.3, 0.45, 0.0, turn=(90, 0, 0), away=True)
    s.hoop((0, -2.95, 28.6), 1.5, 0.3, 0.05, turn=(90, 0, 0))
    for x in (-0.65, 0.0, 0.65):
        s.limb((x, -3.0, 29.9), (x, -3.0, 27.3), 0.14, 0.14, 0.03)
    for side in (-1.0, 1.0):
        s.disc((side * 2.65, -0.4, 28.8), 1.05, 0.35, 0.05, turn=(0, 90, 0))
        s.disc((side * 3.05, -0.4, 28.8), 0.7, 0.3, 0.0, turn=(0, 90, 0), away=True)
    s.disc((0, 0.2, 31.4), 0.7, 0.45, 0.08, sides=6)
    for turn in np.linspace(0, 2 * np.pi, 10, endpoint=False):
        s.ball((2.75 * np.cos(turn), 0.2 + 2.75 * np.sin(turn), 26.2), 0.36, 0.04)
    return s.mesh()


def pack() -> Mesh:
    """A pack with a rolled blanket, two flasks and a pipe."""
    s = Sculpt((-6, 1, 13), (6, 9, 33), FINE)
    s.block((0, 4.6, 22.0), (3.1, 1.7, 4.1), 0.5, 0.0)
    s.block((0, 6.3, 23.6), (2.4, 0.7, 1.7), 0.3, 0.06)
    s.block((0, 6.2, 19.8), (1.9, 0.7, 1.3), 0.3, 0.06)
    s.groove((-3.4, 6.3, 24.9), (3.4, 6.3, 24.9), 0.16)
    s.limb((-3.7, 5.0, 27.1), (3.7, 5.0, 27.1), 1.35, 1.35, 0.05)
    for x in (-2.4, 0, 2.4):
        s.hoop((x, 5.0, 27.1), 1.36, 0.22, 0.04, turn=(0, 90, 0))
    for side in (-1.0, 1.0):
        s.limb((side * 3.7, 4.8, 19.4), (side * 3.7, 4.8, 23.2), 1.15, 1.15, 0.08)
        s.disc((side * 3.7, 4.8, 24.7), 0.55, 0.4, 0.04, sides=16)
        s.hoop((side * 3.7, 4.8, 21.2), 1.15, 0.18, 0.04)
        s.block((side * 1.6, 2.6, 23.0), (0.45, 0.9, 3.2), 0.15, 0.05)
    s.tube([(2.6, 5.8, 25.6), (3.6, 6.4, 28.2), (3.4, 5.6, 30.6)], [0.42, 0.42, 0.42], 0.05)
    s.disc((3.4, 5.5, 31.0), 0.75, 0.35, 0.04, sides=20)
    return s.mesh()


def long_gun() -> Mesh:
    """Held across the chest, its muzzle over the left shoulder."""
    s = Sculpt((-12, -9, 12), (15.5, -2, 31.5), 0.15)
    lean = np.degrees(np.arctan2(3.5, 7.0))

    def on(t: float, up: float = 0.0) -> Point:
        a = np.radians(lean)
        return (0.2 + t * np.cos(a) - up * np.sin(a), -5.5, 20.6 + t * np.sin(a) + up * np.cos(a))

    turn = (0.0, -float(lean), 0.0)
    s.block(on(-8.6, -0.55), (2.0, 0.5, 1.15), 0.3, 0.05, turn=turn)
    s.block(on(-6.2, -0.1), (1.5, 0.45, 0.55), 0.2, 0.2, turn=turn)
    s.block(on(-2.0), (3.6, 0.62, 0.85), 0.2, 0.1, turn=turn)
    s.block(on(-2.4, -1.7), (0.65, 0.45, 1.5), 0.15, 0.06, turn=turn)
    s.block(on(3.8, -0.1), (2.6, 0.6, 0.62), 0.25, 0.06, turn=turn)
    for i in range(5):
        s.limb(on(2.0 + 0.9 * i, 0.4), on(2.0 + 0.9 * i, -0.7), 0.72, 0.72, 0.03)
    s.limb(on(1.0, 0.1), on(14.0, 0.1), 0.36, 0.34, 0.05)
    s.limb(on(12.6, 0.1), on(14.2, 0.1), 0.62, 0.58, 0.04)
    s.limb(on(-4.0, 1.55), on(0.4, 1.55), 0.48, 0.48, 0.04)
    for t in (-4.0, 0.6):
        s.limb(on(t - 0.3, 1.55), on(t + 0.3, 1.55), 0.68, 0.68, 0.04)
    for t in (-2.8, -0.6):
        s.block(on(t, 1.0), (0.3, 0.25, 0.5), 0.1, 0.05, turn=turn)
    s.block(on(11.4, 0.75), (0.2, 0.15, 0.5), 0.05, 0.05, turn=turn)
    return s.mesh()


def trooper_base() -> Mesh:
    """Trampled shore under the trooper."""
    s = Sculpt((-15, -15, -1), (15, 15, 7), 0.2)
    ground(s, 12.5, top=DECK, seed=11, stones=16)
    s.limb((-9, 5, DECK), (6, 8.5, DECK + 0.5), 0.55, 0.4, 0.1)
    return s.mesh()


# the guard of the breakwater --------------------------------------------------------------------


def guard() -> Mesh:
    """Broad, in heavy plate, a mace in the right hand."""
    s = Sculpt((-16, -10, 2), (13, 8, 43), BROAD)
    for side, hip, knee, heel in (
        (-1.0, (-2.4, 0, 18.4), (-4.4, -1.6, 11.4), (-5.4, -0.5, DECK + 0.2)),
        (1.0, (2.4, 0, 18.4), (4.2, -1.0, 11.4), (5.2, 0.6, DECK + 0.2)),
    ):
        _plated_leg(s, side, hip, knee, heel, 1.38)
    s.ball((0, 0.2, 19.0), (4.6, 3.5, 2.6), 0.4)
    skirt = garment(
        [14.5, 17.0, 20.5], [5.6, 5.2, 4.5], [4.6, 4.1, 3.5], 9, [0.05, 0.03, 0], (0, 0.2, 0)
    )
    s.sheet(skirt, (-8, -8, 14), (8, 8, 21), 0.1)
    s.block((0, -4.3, 16.4), (1.5, 0.4, 3.6), 0.25, 0.06, turn=(6, 0, 0))
    s.disc((0, -4.75, 18.6), 0.9, 0.3, 0.04, sides=8, turn=(90, 0, 0))
    s.sheet(
        garment([20.2, 21.6], [4.9] * 2, [3.9] * 2, 1, [0, 0], (0, 0.2, 0)),
        (-7, -7, 19),
        (7, 7, 23),
        0.06,
    )
    s.disc((0, -3.9, 20.9), 1.1, 0.35, 0.05, sides=24, turn=(90, 0, 0))
    s.ball((0, 0.3, 26.6), (6.6, 4.5, 5.6), 0.4)
    s.ball((0, -2.2, 27.4), (5.2, 2.6, 4.0), 0.3)
    for z, half in ((23.4, 4.4), (24.6, 5.2)):
        s.limb((-half, -3.6, z), (half, -3.6, z), 0.42, 0.42, 0.1)
    s.limb((0, -4.9, 29.8), (0, -4.9, 25.4), 0.4, 0.35, 0.15)
    s.hoop((0, -4.75, 28.6), 1.25, 0.32, 0.05, turn=(90, 0, 0))
    for side, shoulder, elbow, hand in (
        (-1.0, (-6.4, 0.5, 29.4), (-9.6, -1.0, 23.6), (-11.2, -4.4, 24.6)),
        (1.0, (6.4, 0.5, 29.4), (9.4, -1.4, 23.8), (7.8, -5.4, 21.8)),
    ):
        _arm(s, side, shoulder, elbow, hand, 1.35)
        _pauldron(s, side, (side * 7.4, 0.4, 30.2), 1.4)
    # head: a closed helm with a flat crown, a cross of slits, a ring of rivets
    s.hoop((0, 0, 31.4), 3.1, 0.8, 0.2)
    s.disc((0, -0.4, 34.8), 3.0, 2.7, 0.25, sides=48, top=0.92)
    s.ball((0, -0.4, 37.2), (2.75, 2.75, 0.9), 0.2)
    s.block((0, -3.3, 35.2), (2.1, 0.9, 0.26), 0.05, 0.0, away=True)
    s.block((0, -3.5, 33.6), (0.24, 0.7, 1.2), 0.05, 0.0, away=True)
    s.hoop((0, -0.4, 36.6), 2.85, 0.3, 0.05)
    for turn in np.linspace(0, 2 * np.pi, 14, endpoint=False):
        s.ball((2.95 * np.cos(turn), -0.4 + 2.95 * np.sin(turn), 32.9), 0.3, 0.03)
    # the mace: a haft and a flanged head
    s.limb((-11.4, -6.2, 17.0), (-11.0, -4.6, 33.0), 0.55, 0.5, 0.05)
    s.ball((-11.45, -6.3, 16.6), 0.95, 0.05)
    for z in (21.4, 27.6):
        s.hoop((-11.25, -5.5 + (z - 24.6) * 0.1, z), 0.62, 0.3, 0.05)
    s.ball((-10.95, -4.4, 34.4), (1.5, 1.5, 2.0), 0.05)
    for i in range(6):
        turn = i * 60.0
        a = np.radians(turn)
        s.block(
            (-10.95 + 1.3 * np.cos(a), -4.4 + 1.3 * np.sin(a), 34.4),
            (1.05, 0.2, 1.7),
            0.1,
            0.04,
            turn=(0, 0, turn),
        )
    s.limb((-10.95, -4.4, 36.0), (-10.9, -4.2, 37.6), 0.5, 0.2, 0.05)
    return s.mesh()


def cloak() -> Mesh:
    """A heavy cloak from the shoulders to the heels, in deep folds."""
    s = Sculpt((-14, -6, 3), (14, 14, 35), BROAD)
    heights = [4.4, 10, 18, 25, 30, 32.2]
    wide = [11.6, 10.6, 9.0, 8.6, 8.2, 4.6]
    deep = [10.4, 8.8, 6.8, 6.1, 5.6, 3.6]
    fold = [0.085, 0.075, 0.05, 0.025, 0.01, 0]
    fine = np.linspace(4.4, 32.2, 40)
    rx, ry, depth = (PchipInterpolator(heights, v)(fine) for v in (wide, deep, fold))
    outer = garment(fine, rx, ry, 9, depth, (0, 0.6, 0.6))
    inner = garment([2.0, *fine[1:-1], 31.4], rx - 0.95, ry - 0.95, 9, depth, (0, 0.6, 0.6))

    def shell(x: Grid, y: Grid, z: Grid) -> Grid:
        open_front = (-y + 1.6 + np.clip((z - 29) * 1.1, -4, 3)) * 0.9
        return np.maximum(np.maximum(outer(x, y, z), -inner(x, y, z)), open_front)

    s.sheet(shell, (-13.5, -5, 4), (13.5, 13.5, 33), 0.2)
    for side in (-1.0, 1.0):
        s.ball((side * 4.6, -3.0, 31.0), (1.1, 0.7, 1.1), 0.2)
    # a hem that is turned up
    hem = garment([4.5, 5.6], [11.9, 11.7], [10.7, 10.4], 9, [0.085, 0.084], (0, 0.6, 0.6))
    lining = garment([3.5, 6.6], [10.9, 10.5], [9.7, 9.2], 9, [0.085, 0.084], (0, 0.6, 0.6))
    s.sheet(
        lambda x, y, z: np.maximum(np.maximum(hem(x, y, z), -lining(x, y, z)), -y + 3.0),
        (-13.5, 0, 4),
        (13.5, 13.5, 6.5),
        0.1,
    )
    return s.mesh()


def shield() -> Mesh:
    """A tall curved shield with a rim, rivets, a boss and a lamp for a badge."""
    s = Sculpt((0, -13, 5), (18, -3, 34), BROAD)
    turn = np.radians(14)

    def local(x: Grid, y: Grid, z: Grid) -> tuple[Grid, Grid, Grid]:
        px, py = x - 9.0, y + 8.0
        return (
            px * np.cos(turn) + py * np.sin(turn),
            -px * np.sin(turn) + py * np.cos(turn),
            z - 19.5,
        )

    def outline(u: Grid, w: Grid) -> Grid:
        half = 5.9 - 0.02 * np.clip(-w - 2, 0, 20) ** 2 * 1.4
        return np.maximum(np.abs(u) - half, np.abs(w) - 12.4)

    def plate(x: Grid, y: Grid, z: Grid) -> Grid:
        u, v, w = local(x, y, z)
        return np.maximum(np.abs(v - 0.045 * u * u) - 0.55, outline(u, w))

    def rim(x: Grid, y: Grid, z: Grid) -> Grid:
        u, v, w = local(x, y, z)
        return np.maximum(np.abs(v - 0.045 * u * u) - 0.95, np.abs(outline(u, w) + 0.55) - 0.55)

    s.sheet(plate, (1, -12.5, 5.5), (17.5, -3.5, 33.5), 0.0)
    s.sheet(rim, (1, -12.5, 5.5), (17.5, -3.5, 33.5), 0.1)

    def at(u: float, v: float, w: float) -> Point:
        return (
            9.0 + u * np.cos(turn) - v * np.sin(turn),
            -8.0 + u * np.sin(turn) + v * np.cos(turn),
            19.5 + w,
        )

    s.ball(at(0, -0.2, 1.0), (2.3, 1.5, 2.3), 0.2)
    s.hoop(at(0, -0.45, 1.0), 2.6, 0.34, 0.06, turn=(90, 0, 14))
    for w in (-9, -5, 7, 10.6):
        for u in (-4.9, 4.9):
            s.ball(at(u * (1 if w > -6 else 0.85), -0.1 + 0.045 * 20 - 0.6, w), 0.42, 0.04)
    for w0, w1 in ((5.0, 9.6), (-3.2, -9.6)):
        s.limb(at(0, -0.55, w0), at(0, -0.55, w1), 0.5, 0.32, 0.08)
    for side in (-1.0, 1.0):
        s.limb(at(side * 3.2, -0.1, 1.0), at(side * 5.0, 0.5, 1.0), 0.5, 0.35, 0.08)
    return s.mesh()


def guard_base() -> Mesh:
    """Broken paving under the guard."""
    s = Sculpt((-20, -20, -1), (20, 20, 7), 0.26)
    ground(s, 17.0, top=DECK - 0.5, seed=5, stones=10, rough=0.25)
    rng = np.random.default_rng(3)
    for i in range(-3, 4):
        for j in range(-3, 4):
            x, y = 4.6 * i + (2.3 if j % 2 else 0), 4.6 * j
            if np.hypot(x, y) > 12.6:
                continue
            s.block(
                (
                    x + rng.uniform(-0.2, 0.2),
                    y + rng.uniform(-0.2, 0.2),
                    DECK - 0.75 + rng.uniform(-0.15, 0.3),
                ),
                (2.05, 2.05, 0.85),
                0.25,
                0.04,
                turn=(rng.uniform(-4, 4), rng.uniform(-4, 4), rng.uniform(-5, 5)),
            )
    return s.mesh()
