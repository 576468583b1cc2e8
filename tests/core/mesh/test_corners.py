"""Corners merged and joined."""

from __future__ import annotations

import numpy as np
import trimesh

from haze.core.mesh.corners import merge_corners
from haze.core.mesh.mesh import RawMesh


def soup(mesh: trimesh.Trimesh) -> RawMesh:
    corners = np.asarray(mesh.triangles, dtype=float).reshape(-1, 3)
    return RawMesh(corners, np.arange(len(corners), dtype=np.int32).reshape(-1, 3))


def test_a_soup_is_merged_and_doubled_faces_drop() -> None:
    box = soup(trimesh.creation.box((2, 3, 4)))
    twice = RawMesh(
        np.concatenate([box.vertices, box.vertices]),
        np.concatenate([box.faces, box.faces + len(box.vertices)]),
    )
    vertices, faces, number = merge_corners(twice.vertices, twice.faces)
    assert number.tolist() == list(range(12))
    assert len(vertices) == 8
    assert len(faces) == 12
