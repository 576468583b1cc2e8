"""Bodies of a mesh."""

from __future__ import annotations

import numpy as np
import trimesh

from haze.core.mesh.bodies import groups
from haze.core.mesh.detail import FINE
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_bodies_are_known_by_faces_of_the_file_through_decimation() -> None:
    balls = [
        trimesh.creation.icosphere(subdivisions=6, radius=r).apply_translation([x, 0, 0])
        for r, x in ((4, 0), (3, 12), (2, 22))
    ]
    each = len(balls[0].faces)
    piece = prepare(raw(trimesh.util.concatenate(balls)), up="z", show="-y")
    assert len(piece.vertices) <= FINE.most_vertices
    assert np.unique(piece.body).tolist() == [0, each, 2 * each]
    x = piece.to_file(piece.vertices.astype(float))[:, 0]
    assert x[piece.body == 0].max() < 4.1
    assert x[piece.body == 2 * each].min() > 19.9


def test_tiny_bodies_join_the_larger_one_next_to_them() -> None:
    balls = [
        trimesh.creation.icosphere(subdivisions=3, radius=r).apply_translation([x, 0, 0])
        for r, x in ((5, 0), (4, 30), (0.1, 6), (0.1, 25), (0.1, 7))
    ]
    each = len(balls[0].faces)
    piece = prepare(raw(trimesh.util.concatenate(balls)), up="z", show="-y")
    found = groups(piece.vertices.astype(float), piece.body, piece.vertex_area)
    assert [sorted(g) for g in found] == [[0, 2 * each, 4 * each], [each, 3 * each]]
