"""Compact meshes: small, the same surface, the same file again, and told when damaged."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from haze.core.errors import MeshError
from haze.formats.compact import STEPS, read_compact, write_compact
from haze.formats.meshes import write_ply


def corners(vertices: np.ndarray, faces: np.ndarray) -> np.ndarray:
    return np.asarray(vertices)[np.asarray(faces)]


@given(
    seed=st.integers(0, 2**32 - 1),
    size=st.floats(1e-3, 1e4),
    away=st.floats(-1e4, 1e4),
)
def test_every_corner_lies_within_half_a_step(seed: int, size: float, away: float) -> None:
    rng = np.random.default_rng(seed)
    vertices = rng.uniform(-size, size, (30, 3)) + away
    faces = rng.integers(0, 30, (50, 3))
    before = vertices.copy(), faces.copy()
    back = read_compact(write_compact(vertices, faces))
    used = vertices[np.unique(faces)]
    step = np.ptp(used, axis=0).max() / STEPS
    off = np.abs(corners(back.vertices, back.faces) - corners(vertices, faces))
    # low corners are told exactly, but a large offset costs digits
    assert off.max() <= 0.5 * step * (1 + 1e-6) + 1e-9 * (abs(away) + size)
    assert np.array_equal(vertices, before[0])
    assert np.array_equal(faces, before[1])


def test_a_mesh_read_back_makes_the_same_file() -> None:
    ball = trimesh.creation.icosphere(subdivisions=4, radius=23)
    once = write_compact(ball.vertices, ball.faces)
    back = read_compact(once)
    assert write_compact(back.vertices, back.faces) == once
    assert len(once) < 0.3 * len(write_ply(ball.vertices, ball.faces))


def test_corners_no_face_uses_are_left_out() -> None:
    vertices = np.array([[9, 9, 9], [0, 0, 0], [1, 0, 0], [0, 2, 0], [7, 7, 7]], dtype=float)
    back = read_compact(write_compact(vertices, np.array([[1, 2, 3]])))
    assert len(back.vertices) == 3
    assert corners(back.vertices, back.faces)[0] == pytest.approx(vertices[1:4], abs=1e-4)


@pytest.mark.parametrize(
    "data", [b"", b"PK\x03\x04rest", write_ply(np.eye(3), np.array([[0, 1, 2]]))]
)
def test_what_is_none_is_told(data: bytes) -> None:
    with pytest.raises(MeshError, match="install Haze again"):
        read_compact(data)


def test_a_large_mesh_keeps_every_face() -> None:
    ball = trimesh.creation.icosphere(subdivisions=6)
    assert len(ball.vertices) > 2**15
    back = read_compact(write_compact(ball.vertices, ball.faces))
    assert (
        np.abs(corners(back.vertices, back.faces) - corners(ball.vertices, ball.faces)).max() < 1e-4
    )
