"""Preparing a mesh."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import CancelledError, MeshError
from haze.core.mesh.detail import FINE
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.scale import DIAGONAL


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_preparing_keeps_area_within_one_percent_and_scales_to_the_diagonal() -> None:
    box = trimesh.creation.box((20, 30, 60))
    piece = prepare(raw(box), up="z", show="-y")
    assert 20_000 <= len(piece.vertices) <= FINE.most_vertices
    assert np.linalg.norm(np.ptp(piece.vertices, axis=0)) == pytest.approx(DIAGONAL, rel=1e-4)
    assert piece.height == pytest.approx(60 / 70 * 100, rel=1e-4)
    # a 60 mm tall box of 20 × 30 has 72 cm²
    assert piece.area_cm2(60.0) == pytest.approx(72.0, rel=1e-3)
    assert float(piece.vertex_area.sum()) == pytest.approx(piece.raw_area, rel=0.01)


def test_a_large_mesh_is_decimated_with_its_shape_kept() -> None:
    ball = trimesh.creation.icosphere(subdivisions=7)
    assert len(ball.vertices) > 2 * FINE.most_vertices
    piece = prepare(raw(ball), up="z", show="-y")
    assert len(piece.vertices) <= FINE.most_vertices
    assert float(piece.vertex_area.sum()) == pytest.approx(piece.raw_area, rel=0.01)
    edges = piece.vertices[piece.faces[:, 0]] - piece.vertices[piece.faces[:, 1]]
    assert np.linalg.norm(edges, axis=1).max() <= FINE.longest_edge * 1.01


TRIANGLE = np.array([[0, 1, 2]], dtype=np.int32)


def test_a_plate_lying_flat_needs_another_way_up() -> None:
    plate = RawMesh(np.array([[0, 0, 0], [1, 0, 0], [0, 1, 0.0]]), TRIANGLE)
    with pytest.raises(MeshError, match="flat along its up direction"):
        prepare(plate, up="z", show="-y")


def test_inputs_are_not_changed() -> None:
    ball = raw(trimesh.creation.icosphere(subdivisions=2))
    before = ball.vertices.copy(), ball.faces.copy()
    prepare(ball, up="y", show="+z", turn_deg=30)
    assert np.array_equal(ball.vertices, before[0])
    assert np.array_equal(ball.faces, before[1])


def test_a_stopped_preparation_says_so() -> None:
    with pytest.raises(CancelledError, match="Stopped"):
        prepare(raw(trimesh.creation.box((1, 1, 1))), up="z", show="-y", progress=lambda _: False)
