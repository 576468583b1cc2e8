"""The camera of a photo by the outline on it: found again, or refused where that cannot be."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.inspect.piece.outline import NoOutlineError
from haze.core.inspect.piece.pose import Pose, drawn, in_view
from haze.core.inspect.piece.pose_by_outline import edge_of, pose_by_outline
from haze.core.inspect.piece.stand_in import piece_photo, pose_from
from haze.core.mesh.mesh import PreparedMesh
from shapes import masted, prepared

WIDE, HIGH = 1200, 900


@pytest.fixture(scope="module")
def piece() -> PreparedMesh:
    return prepared(masted())


def taken(piece: PreparedMesh, pose: Pose, *, handle: bool = False) -> np.ndarray:
    """A photo of it, painted in one colour; with a handle below where one holds it."""
    teal = np.tile(np.float32([0.05, 0.3, 0.28]), (len(piece.vertices), 1))
    rng = np.random.default_rng(1)
    open_to = np.ones(len(piece.vertices), dtype=np.float32)
    photo = piece_photo(piece, teal, open_to, pose, rng, width=WIDE, height=HIGH)
    if handle:
        there = drawn(pose, piece, teal, width=WIDE, height=HIGH)[..., 3] > 0
        low = np.nonzero(there)[0].max()
        below = np.zeros_like(there)
        below[low - 12 :, WIDE // 2 - 70 : WIDE // 2 + 70] = True
        photo[below & ~there] = (40, 40, 44)
    return photo


def around(piece: PreparedMesh, pose: Pose) -> np.ndarray:
    """Eight places pressed loosely around it."""
    at, _ = pose.seen_at(piece.vertices)
    middle, half = (at.min(axis=0) + at.max(axis=0)) / 2, np.ptp(at, axis=0) / 2
    way = np.radians(np.arange(0, 360, 45))
    unit = np.stack([np.cos(way), np.sin(way)], axis=1)
    square = unit / np.abs(unit).max(axis=1, keepdims=True)
    return np.asarray(middle + 1.06 * half * square)


def beside(piece: PreparedMesh, found: Pose, true: Pose) -> float:
    """By how much of its size what is seen of the piece lies beside its place."""
    shown = in_view(true, piece, width=WIDE, height=HIGH)
    off = found.seen_at(piece.vertices[shown])[0] - true.seen_at(piece.vertices[shown])[0]
    size = np.linalg.norm(np.ptp(true.seen_at(piece.vertices)[0], axis=0))
    return float(np.sqrt(np.mean(np.sum(off**2, axis=1))) / size)


@pytest.mark.parametrize("said", [(20, 12), (48, 26)])
def test_the_camera_is_found_from_a_side_near_to_it(
    piece: PreparedMesh, said: tuple[int, int]
) -> None:
    true = pose_from(piece, 34, 20, width=WIDE, height=HIGH)
    found = pose_by_outline(
        piece, taken(piece, true), around(piece, true), azimuth_deg=said[0], elevation_deg=said[1]
    )
    off = beside(piece, found, true)
    assert off < 0.004
    told = found.off_px / np.linalg.norm(np.ptp(true.seen_at(piece.vertices)[0], axis=0))
    assert 0.3 * off < told < 0.006


def test_a_turned_phone_a_nearer_lens_and_a_handle_do_not_mislead(piece: PreparedMesh) -> None:
    straight = pose_from(piece, -25, 18, width=WIDE, height=HIGH)
    c, s = np.cos(0.06), np.sin(0.06)
    roll = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
    true = Pose(
        roll @ straight.turn,
        roll @ straight.shift * 0.75 + [0.5, 0, 0],
        straight.focal_px * 0.6,
        straight.middle,
    )
    photo = taken(piece, true, handle=True)
    found = pose_by_outline(piece, photo, around(piece, true), azimuth_deg=-10, elevation_deg=12)
    assert beside(piece, found, true) < 0.006
    assert found.focal_px == pytest.approx(true.focal_px, rel=0.25)


@pytest.mark.thorough
def test_another_side_is_refused_and_so_is_a_piece_that_looks_alike_from_all(
    piece: PreparedMesh,
) -> None:
    true = pose_from(piece, 34, 20, width=WIDE, height=HIGH)
    with pytest.raises(NoOutlineError, match="not that of the piece"):
        pose_by_outline(
            piece, taken(piece, true), around(piece, true), azimuth_deg=-75, elevation_deg=20
        )
    vase = trimesh.creation.revolve(
        np.array([[0, 0], [8, 0], [9, 4], [4, 14], [6, 20], [0, 21]]), sections=64
    )
    turned = prepared(vase)
    pose = pose_from(turned, 20, 15, width=WIDE, height=HIGH)
    with pytest.raises(NoOutlineError, match="alike from several"):
        pose_by_outline(
            turned, taken(turned, pose), around(turned, pose), azimuth_deg=20, elevation_deg=12
        )


def test_places_along_an_outline_are_even_and_look_across_it() -> None:
    way = np.linspace(0, 2 * np.pi, 2000, endpoint=False)
    circle = np.round(200 + 100 * np.stack([np.cos(way), np.sin(way)], axis=1))
    edge = edge_of([circle])
    assert 300 < len(edge.at) <= 500
    out = (edge.at - 200) / np.linalg.norm(edge.at - 200, axis=1, keepdims=True)
    assert np.abs(np.sum(out * edge.across, axis=1)).min() > 0.8
    assert edge.size == pytest.approx(200 * np.sqrt(2), rel=0.02)
    assert edge.length == pytest.approx(2 * np.pi * 100, rel=0.1)
