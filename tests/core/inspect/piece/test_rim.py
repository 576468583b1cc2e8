"""The rim of a piece: where its silhouette ends on the photo, and a camera that a piece fills."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.inspect.piece.pose import drawn
from haze.core.inspect.piece.rim import Rims
from haze.core.inspect.piece.stand_in import pose_from
from shapes import ball_on_plate, masted, prepared

WIDE, HIGH = 1200, 900


def test_a_camera_fills_the_box_it_is_told() -> None:
    rims = Rims(prepared(ball_on_plate()), width=WIDE, height=HIGH)
    low, high = np.array([300.0, 200.0]), np.array([700.0, 500.0])
    pose = rims.filling(low, high, 30, 20, 5000.0)
    at, _ = pose.seen_at(rims.corners)
    assert (at.min(axis=0) + at.max(axis=0)) / 2 == pytest.approx([500, 350], abs=15)
    assert np.linalg.norm(np.ptp(at, axis=0)) == pytest.approx(500, rel=0.08)


def test_the_rim_lies_where_the_silhouette_ends() -> None:
    piece = prepared(masted())
    pose = pose_from(piece, 34, 20, width=WIDE, height=HIGH)
    rims = Rims(piece, width=WIDE, height=HIGH)
    points, at = rims.rim(pose, 200)
    seen, _ = pose.seen_at(points)
    cell = np.ptp(pose.seen_at(rims.corners)[0], axis=0).max() / 200
    assert np.linalg.norm(seen - at, axis=1).max() < cell
    there = rims.silhouette(pose, WIDE)
    every = there[at[:, 1].astype(int).clip(0, HIGH - 1), at[:, 0].astype(int).clip(0, WIDE - 1)]
    assert 0.2 < every.mean() < 0.8  # half of an edge lies on either side of it
    assert there.mean() == pytest.approx(
        (drawn(pose, piece, rims.mesh.vertices, width=WIDE, height=HIGH)[..., 3] > 0).mean(),
        rel=0.01,
    )
