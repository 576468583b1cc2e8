"""Faces made to look outward."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.mesh.detail import FINE
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.winding import agree, shared_edges


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def soup(mesh: trimesh.Trimesh) -> RawMesh:
    corners = np.asarray(mesh.triangles, dtype=float).reshape(-1, 3)
    return RawMesh(corners, np.arange(len(corners), dtype=np.int32).reshape(-1, 3))


def test_an_inside_out_mesh_comes_right() -> None:
    ball = trimesh.creation.icosphere(subdivisions=3)
    ball.invert()
    piece = prepare(raw(ball), up="z", show="-y")
    outward = np.einsum("ij,ij->i", piece.normals, piece.vertices)
    assert outward.min() > 0


def test_flipped_faces_are_turned_back() -> None:
    solid = trimesh.creation.icosphere(subdivisions=4)
    rng = np.random.default_rng(4)
    faces = solid.faces.astype(np.int32).copy()
    flipped = rng.random(len(faces)) < 0.1
    faces[flipped] = faces[flipped][:, ::-1]
    piece = prepare(RawMesh(np.asarray(solid.vertices), faces), up="z", show="-y")
    outward = np.einsum("ij,ij->i", piece.normals, piece.vertices)
    assert outward.min() > 0


def test_a_patch_turned_over_is_voted_back_by_what_it_sees() -> None:
    # an open box: five walls, each a patch of its own once the corners are not shared
    box = soup(trimesh.creation.box((4, 4, 4), inscribed=False))
    keep = [f for f in range(12) if box.vertices[3 * f : 3 * f + 3, 2].max() > -1.9]
    corners = box.vertices.reshape(12, 3, 3)[keep]
    corners[::2] = corners[::2, ::-1]
    raw_open = RawMesh(
        corners.reshape(-1, 3), np.arange(3 * len(keep), dtype=np.int32).reshape(-1, 3)
    )
    piece = prepare(raw_open, up="z", show="-y")
    side = np.abs(piece.vertices[:, :2]).max(axis=1) > 0.99 * np.abs(piece.vertices[:, :2]).max()
    out = np.einsum("ij,ij->i", piece.normals[side][:, :2], piece.vertices[side][:, :2])
    assert (out >= -1e-3).mean() > 0.98


def test_neighbours_agree_after_agreeing_and_patches_count() -> None:
    two = trimesh.util.concatenate(
        [
            trimesh.creation.icosphere(subdivisions=2),
            trimesh.creation.box((1, 1, 1)).apply_translation([5, 0, 0]),
        ]
    )
    faces = two.faces.astype(np.int32).copy()
    faces[::3] = faces[::3][:, ::-1]
    turned, patch = agree(faces)
    assert len(np.unique(patch)) == 2
    _, _, alike = shared_edges(turned)
    assert not alike.any()


@pytest.mark.parametrize("subdivisions", [3, 6])
def test_loose_triangles_are_joined_over_their_gaps(subdivisions: int) -> None:
    rng = np.random.default_rng(1)
    solid = trimesh.creation.icosphere(subdivisions=subdivisions)
    loose = np.asarray(solid.triangles) + rng.normal(0, 1e-4, (len(solid.faces), 3, 3))
    flipped = rng.random(len(loose)) < 0.5
    loose[flipped] = loose[flipped][:, ::-1]
    faces = np.arange(3 * len(loose), dtype=np.int32).reshape(-1, 3)
    piece = prepare(RawMesh(loose.reshape(-1, 3), faces), up="z", show="-y")
    assert len(piece.vertices) <= FINE.most_vertices
    outward = np.einsum("ij,ij->i", piece.normals, piece.vertices)
    assert (outward > 0).mean() > 0.97
    radius = np.linalg.norm(piece.vertices, axis=1)
    assert radius.min() > 0.97 * radius.max()
