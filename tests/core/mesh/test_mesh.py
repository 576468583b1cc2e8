"""Meshes as read and as prepared."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import MeshError
from haze.core.mesh.mesh import RawMesh, require_usable
from haze.core.mesh.prepare import prepare


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_normals_of_a_ball_point_outward() -> None:
    piece = prepare(raw(trimesh.creation.icosphere(subdivisions=4)), up="z", show="-y")
    along = piece.vertices / np.linalg.norm(piece.vertices, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", piece.normals, along).min() > 0.99


TRIANGLE = np.array([[0, 1, 2]], dtype=np.int32)


@pytest.mark.parametrize(
    ("vertices", "faces", "words"),
    [
        (np.zeros((0, 3)), np.zeros((0, 3), np.int32), "no triangles"),
        (np.zeros((3, 3)), TRIANGLE, "no surface"),
        (np.array([[0, 0, 0], [1, 1, 1], [2, 2, 2.0]]), TRIANGLE, "no surface"),
        (np.array([[0, 0, 0], [1, 0, np.nan], [0, 1, 0]]), TRIANGLE, "not numbers"),
        (np.eye(3), np.array([[0, 1, 7]], np.int32), "does not have"),
    ],
)
def test_unusable_meshes_each_get_one_sentence(
    vertices: np.ndarray, faces: np.ndarray, words: str
) -> None:
    with pytest.raises(MeshError, match=words):
        require_usable(RawMesh(vertices, faces))


def test_places_go_to_the_file_and_back() -> None:
    piece = prepare(raw(trimesh.creation.box((2, 3, 4))), up="y", show="+z", turn_deg=30)
    points = np.random.default_rng(1).uniform(-50, 50, (20, 3))
    assert piece.from_file(piece.to_file(points)) == pytest.approx(points, abs=1e-9)
    corners = piece.to_file(piece.vertices.astype(float))
    assert np.abs(corners).max(axis=0) == pytest.approx([1, 1.5, 2], abs=1e-4)
