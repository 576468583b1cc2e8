"""The ray scene."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.mesh.mesh import PreparedMesh, RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.scene import Scene


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_a_plate_above_a_ball_throws_its_shadow() -> None:
    ball_low = trimesh.creation.icosphere(subdivisions=4, radius=10)
    plate = trimesh.creation.cylinder(radius=5, height=0.5, sections=64)
    plate.apply_translation([0, 0, 25])
    piece = prepare(raw(trimesh.util.concatenate([ball_low, plate])), up="z", show="-y")
    scale = 100 / np.linalg.norm([20, 20, 35.25])
    scene = Scene(piece.vertices, piece.faces)
    up = np.array([[0, 0, 1]], dtype=np.float32)
    z = piece.vertices[:, 2]
    on_ball = (z < z.max() - 8 * scale) & (piece.normals[:, 2] > 0.1)
    radius = np.hypot(piece.vertices[:, 0], piece.vertices[:, 1]) / scale
    blocked = scene.blocked(piece.vertices[on_ball] + 0.01 * piece.normals[on_ball], up)
    edge = np.abs(radius[on_ball] - 5) < 0.1
    assert np.array_equal(blocked[~edge], (radius[on_ball] < 5)[~edge])


def test_wrong_ray_counts_are_refused(ball: PreparedMesh) -> None:
    scene = Scene(ball.vertices, ball.faces)
    with pytest.raises(ValueError, match="one for each origin"):
        scene.blocked(ball.vertices, np.zeros((3, 3), dtype=np.float32))
