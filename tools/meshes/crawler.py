"""The dredge crawler Marrow: a tracked amphibious barge, 1:48, broad plates, a bucket arm."""

from __future__ import annotations

import numpy as np
import trimesh
from scipy.spatial import ConvexHull

from haze.core.arrays import Array
from meshes.plates import Bodies, box, profile, rivets, rod

TRACK_Y = 27.0  # middle of a track from the middle of the hull; x runs along the vehicle
TRACK_HALF = 8.0


def _hull() -> Bodies:
    side = [(-70, 16), (-60, 8), (52, 8), (76, 22), (78, 30), (60, 33), (-66, 33), (-72, 28)]
    bodies: Bodies = [profile(side, y=0.0, half=19.0)]
    # sponsons over the tracks, and the deck in broad plates with gaps between
    for s in (-1.0, 1.0):
        bodies.append(box((-4, s * 25.5, 31.5), (132, 17, 4.5)))
        bodies.append(box((68, s * 25.5, 29), (14, 17, 4.0), tilt_deg=18))
        for x in (-58, -30, -2, 26, 52):
            bodies.append(box((x, s * 27.2, 34.0), (25.6, 12.5, 1.2), bevel=0.5))
            bodies += rivets((x - 11, s * 32.2, 34.7), (x + 11, s * 32.2, 34.7), 6)
    for x in (18, 42):
        bodies.append(box((x, 0, 33.6), (22, 34, 1.6), bevel=0.6))
        bodies += rivets((x - 9, -15.6, 34.5), (x + 9, -15.6, 34.5), 5)
        bodies += rivets((x - 9, 15.6, 34.5), (x + 9, 15.6, 34.5), 5)
    bodies.append(box((-52, 0, 35), (28, 30, 5), bevel=1.4))  # engine cover
    for x in (-62, -57, -52, -47, -42):
        bodies.append(box((x, 0, 37.9), (2.4, 22, 1.4), bevel=0.5))
    # bow plate with towing eyes, fenders along the side
    bodies.append(box((71.5, 0, 24.5), (2.2, 30, 11), tilt_deg=-31, bevel=0.5))
    for s in (-1.0, 1.0):
        eye = trimesh.creation.torus(2.4, 0.9, major_sections=24, minor_sections=10)
        eye.apply_transform(trimesh.transformations.rotation_matrix(np.pi / 2, [1, 0, 0]))
        eye.apply_translation([76, s * 10, 20])
        bodies.append(eye)
        bodies.append(rod((-68, s * 35.2, 30.5), (64, s * 35.2, 30.5), 1.5))
    return bodies


def _track(s: float) -> Bodies:
    y = s * TRACK_Y
    wheels = [(-54.0, 12.0, 8.0), (-28.0, 9.0, 6.4), (-6.0, 9.0, 6.4), (16.0, 9.0, 6.4)]
    wheels += [(38.0, 9.0, 6.4), (60.0, 15.0, 8.0)]
    bodies: Bodies = []
    for x, z, r in wheels:
        bodies.append(rod((x, y - 5.6, z), (x, y + 5.6, z), r, sections=36))
        bodies.append(rod((x, y + s * 5.4, z), (x, y + s * 6.9, z), 0.55 * r, sections=24))
        bodies += [
            rod(
                (x + 0.36 * r * np.cos(a), y + s * 6.7, z + 0.36 * r * np.sin(a)),
                (x + 0.36 * r * np.cos(a), y + s * 7.6, z + 0.36 * r * np.sin(a)),
                0.6,
                sections=8,
            )
            for a in np.arange(5) * 2 * np.pi / 5
        ]
    path = _belt(wheels)
    step = np.roll(path, -1, axis=0) - path
    for p, d in zip(path, step, strict=True):
        tilt = -np.degrees(np.arctan2(d[1], d[0]))
        x, z = p + 0.5 * d
        plate = box((x, y, z), (float(np.hypot(*d)) * 0.9, 2 * TRACK_HALF, 1.5), tilt_deg=tilt)
        bodies.append(plate)
        out = np.array([d[1], -d[0]]) / np.hypot(*d) * 1.2
        bodies.append(
            box((x + out[0], y, z + out[1]), (1.4, 2 * TRACK_HALF - 1, 1.6), tilt_deg=tilt)
        )
    return bodies


def _belt(wheels: list[tuple[float, float, float]]) -> Array:
    """Points at even steps along the belt round the wheels, counter-clockwise seen from −y."""
    circle = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    rim = [
        (x + (r + 0.9) * np.cos(a), z + (r + 0.9) * np.sin(a)) for x, z, r in wheels for a in circle
    ]
    points = np.array(rim)
    loop = points[ConvexHull(points).vertices]
    loop = np.concatenate([loop, loop[:1]])
    along = np.r_[0, np.cumsum(np.linalg.norm(np.diff(loop, axis=0), axis=1))]
    at = np.linspace(0, along[-1], round(along[-1] / 5.2), endpoint=False)
    return np.stack([np.interp(at, along, loop[:, i]) for i in range(2)], axis=1)


def _house() -> Bodies:
    side = [(-36, 33.5), (-6, 33.5), (-9, 50), (-14, 58), (-34, 58), (-36, 54)]
    bodies: Bodies = [profile(side, y=-4.0, half=12.0)]
    bodies.append(box((-24, -4, 58.8), (25, 28, 2.0), bevel=0.8))
    # window frames, door, lamp, exhaust
    for y in (-11.0, -4.0, 3.0):
        bodies.append(box((-10.4, y, 51.5), (1.6, 5.6, 6.5), tilt_deg=-14, bevel=0.3))
    for y in (-16.3, 8.3):
        for x in (-29.0, -20.0):
            bodies.append(box((x, y, 51), (6.5, 1.4, 6.0), bevel=0.4))
        bodies.append(box((-30, y, 40), (8, 1.2, 12), bevel=0.4))
    bodies.append(rod((-18, 2, 59), (-18, 2, 65), 1.5))
    bodies.append(rod((-18, 2, 64.5), (-18, 2, 67.5), 3.0))
    for y in (12.5, 16.5):
        bodies.append(rod((-46, y, 36), (-46, y, 60), 1.7))
        bodies.append(rod((-46, y, 59), (-49, y, 62.5), 1.9))
    return bodies


def _arm() -> Bodies:
    y = 3.0
    bodies: Bodies = [rod((20, y, 33), (20, y, 41), 9.0, sections=48)]
    bodies.append(box((20, y, 43), (15, 12, 6), bevel=1.2))
    pivot, elbow, wrist = (22.0, 46.0), (58.0, 74.0), (86.0, 46.0)

    def beam(a: tuple[float, float], b: tuple[float, float], size: float, wide: float) -> None:
        d = np.array(b) - np.array(a)
        x, z = 0.5 * (np.array(a) + np.array(b))
        tilt = -np.degrees(np.arctan2(d[1], d[0]))
        bodies.append(
            box((x, y, z), (float(np.hypot(*d)) + 3, wide, size), tilt_deg=tilt, bevel=1.2)
        )

    beam(pivot, elbow, 7.0, 6.5)
    beam(elbow, wrist, 5.5, 5.0)
    for x, z in (pivot, elbow, wrist):
        bodies.append(rod((x, y - 5, z), (x, y + 5, z), 2.8))
    # rams
    for a, b, half in (
        ((27.0, 41.0), (44.0, 58.5), (36.0, 50.0)),
        ((46.0, 70.0), (63.0, 75.0), (55.0, 72.6)),
    ):
        bodies.append(rod((a[0], y, a[1]), (half[0], y, half[1]), 2.3))
        bodies.append(rod((half[0], y, half[1]), (b[0], y, b[1]), 1.3))
    # the bucket: a shell of plates, open towards the front, with teeth
    shell = [(84, 46), (92, 44), (97, 34), (94, 24), (84, 21), (77, 25)]
    inner = [(85, 43.5), (90.8, 42), (94.8, 34), (92.3, 26), (84.3, 23.3), (79.5, 26)]
    for i in range(len(shell) - 1):
        wall = [shell[i], shell[i + 1], inner[i + 1], inner[i]]
        bodies.append(profile(wall, y=y, half=12.0))
    for s in (-1.0, 1.0):
        bodies.append(profile(shell, y=y + s * 11.6, half=0.8))
    for t in (-9.0, -4.5, 0.0, 4.5, 9.0):
        bodies.append(box((76.2, y + t, 24.6), (5.5, 2.0, 2.0), tilt_deg=32, bevel=0.6))
    return bodies


def build() -> dict[str, Bodies]:
    """Closed bodies [mm] by part; z up, the left side shows (−y), the bow to the right."""
    return {
        "Hull": _hull(),
        "Near track": _track(-1.0),
        "Far track": _track(1.0),
        "Deck house": _house(),
        "Bucket arm": _arm(),
    }
