"""The camera of a photo: found again from marked points, and what it sees and does not."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.inspect.piece.pose import NoPoseError, Pose, drawn, in_view, pose_of
from haze.core.inspect.piece.stand_in import pose_from
from haze.core.mesh.mesh import PreparedMesh
from shapes import ball_on_plate, prepared

WIDE, HIGH = 1600, 1200


@pytest.fixture(scope="module")
def piece() -> PreparedMesh:
    return prepared(ball_on_plate())


@pytest.fixture(scope="module")
def true(piece: PreparedMesh) -> Pose:
    return pose_from(piece, 30, 25, width=WIDE, height=HIGH)


def spread(piece: PreparedMesh, pose: Pose, count: int, seed: int) -> np.ndarray:
    """Vertices that are seen, far from each other."""
    seen = np.flatnonzero(in_view(pose, piece, width=WIDE, height=HIGH))
    chosen = [int(np.random.default_rng(seed).choice(seen))]
    while len(chosen) < count:
        apart = [np.linalg.norm(piece.vertices[seen] - piece.vertices[c], axis=1) for c in chosen]
        chosen.append(int(seen[np.argmax(np.min(apart, axis=0))]))
    return piece.vertices[chosen].astype(np.float64)


def test_the_middle_of_a_piece_is_seen_in_the_middle_and_a_twice_as_far_one_half_as_large() -> None:
    pose = Pose(np.eye(3), np.array([0.0, 0.0, 10.0]), 1000.0, np.array([800.0, 600.0]), 0.0)
    at, depth = pose.seen_at(np.array([[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 0.0, 10.0]]))
    assert at.tolist() == [[800, 600], [900, 600], [850, 600]]
    assert depth.tolist() == [10, 10, 20]
    assert pose.eye.tolist() == [0, 0, -10]


@settings(max_examples=12)
@given(azimuth=st.floats(-170, 170), elevation=st.floats(-20, 60), count=st.integers(5, 9))
def test_exact_points_find_the_camera_again(
    piece: PreparedMesh, azimuth: float, elevation: float, count: int
) -> None:
    true = pose_from(piece, azimuth, elevation, width=WIDE, height=HIGH)
    points = spread(piece, true, count, seed=1)
    found = pose_of(points, true.seen_at(points)[0], width=WIDE, height=HIGH)
    shown = in_view(true, piece, width=WIDE, height=HIGH)
    off = found.seen_at(piece.vertices[shown])[0] - true.seen_at(piece.vertices[shown])[0]
    assert np.abs(off).max() < 12  # of 1,600: the focal length alone is not exact


def test_points_marked_by_hand_find_it_nearly(piece: PreparedMesh, true: Pose) -> None:
    shown = in_view(true, piece, width=WIDE, height=HIGH)
    offs = []
    for seed in range(12):
        points = spread(piece, true, 6, seed)
        hand = np.random.default_rng(seed).normal(0, 4, (6, 2))
        found = pose_of(points, true.seen_at(points)[0] + hand, width=WIDE, height=HIGH)
        off = found.seen_at(piece.vertices[shown])[0] - true.seen_at(piece.vertices[shown])[0]
        offs.append(float(np.sqrt(np.mean(np.sum(off**2, axis=1)))))
        assert found.off_px < 8
    assert np.median(offs) < 9


def test_too_few_points_too_near_and_such_as_disagree_are_refused(
    piece: PreparedMesh, true: Pose
) -> None:
    points = spread(piece, true, 6, 0)
    seen = true.seen_at(points)[0]
    with pytest.raises(NoPoseError, match="at least 4"):
        pose_of(points[:3], seen[:3], width=WIDE, height=HIGH)
    with pytest.raises(NoPoseError, match="too near"):
        pose_of(points[:1].repeat(5, axis=0), seen[:1].repeat(5, axis=0), width=WIDE, height=HIGH)
    with pytest.raises(NoPoseError, match="disagree"):
        pose_of(points, seen[[1, 0, 3, 2, 5, 4]], width=WIDE, height=HIGH)


def test_what_is_turned_away_behind_or_beside_the_photo_is_not_in_view(
    piece: PreparedMesh, true: Pose
) -> None:
    shown = in_view(true, piece, width=WIDE, height=HIGH)
    toward = true.eye / np.linalg.norm(true.eye)
    assert not shown[piece.normals @ toward < 0].any()
    top = piece.normals[:, 2] > 0.99
    plate = top & (np.hypot(*piece.vertices[:, :2].T) > 0.15 * np.ptp(piece.vertices[:, 0]))
    assert shown[plate].any()
    assert not shown[plate].all()  # the ball stands before some of it
    half = in_view(true, piece, width=WIDE // 2, height=HIGH)
    at, _ = true.seen_at(piece.vertices)
    assert (half == (shown & (at[:, 0] < WIDE // 2))).all()


def test_a_drawn_piece_lies_where_its_vertices_are_seen(piece: PreparedMesh, true: Pose) -> None:
    small = Pose(true.turn, true.shift, true.focal_px / 8, true.middle / 8, 0.0)
    red = np.tile(np.float32([0.5, 0.1, 0.1]), (len(piece.vertices), 1))
    image = drawn(small, piece, red, width=WIDE // 8, height=HIGH // 8)
    there = image[..., 3] > 0
    assert image[there][:, :3] == pytest.approx(
        np.tile([0.5, 0.1, 0.1], (there.sum(), 1)), abs=1e-4
    )
    at, _ = small.seen_at(piece.vertices)
    rows, columns = np.nonzero(there)
    assert columns.min() == pytest.approx(at[:, 0].min(), abs=1.5)
    assert rows.max() == pytest.approx(at[:, 1].max(), abs=1.5)
