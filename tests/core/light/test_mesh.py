from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import MeshError
from haze.core.light.mesh import (
    DIAGONAL,
    LONGEST_EDGE,
    MOST_VERTICES,
    RawMesh,
    default_show,
    frame_rotation,
    merge_corners,
    prepare,
    require_usable,
    split_long_edges,
)


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def soup(mesh: trimesh.Trimesh) -> RawMesh:
    corners = np.asarray(mesh.triangles, dtype=float).reshape(-1, 3)
    return RawMesh(corners, np.arange(len(corners), dtype=np.int32).reshape(-1, 3))


def test_a_soup_is_merged_and_doubled_faces_drop() -> None:
    box = soup(trimesh.creation.box((2, 3, 4)))
    twice = RawMesh(
        np.concatenate([box.vertices, box.vertices]),
        np.concatenate([box.faces, box.faces + len(box.vertices)]),
    )
    vertices, faces = merge_corners(twice.vertices, twice.faces)
    assert len(vertices) == 8
    assert len(faces) == 12


def test_preparing_keeps_area_within_one_percent_and_scales_to_the_diagonal() -> None:
    box = trimesh.creation.box((20, 30, 60))
    piece = prepare(raw(box), up="z", show="-y")
    assert 20_000 <= len(piece.vertices) <= MOST_VERTICES
    assert np.linalg.norm(np.ptp(piece.vertices, axis=0)) == pytest.approx(DIAGONAL, rel=1e-4)
    assert piece.height == pytest.approx(60 / 70 * 100, rel=1e-4)
    # a 60 mm tall box of 20 × 30 has 72 cm²
    assert piece.area_cm2(60.0) == pytest.approx(72.0, rel=1e-3)
    assert float(piece.vertex_area.sum()) == pytest.approx(piece.raw_area, rel=0.01)


def test_long_edges_are_split_and_neighbours_stay_joined() -> None:
    box = trimesh.creation.box((1, 1, 1))
    vertices, faces = split_long_edges(
        np.asarray(box.vertices, float), box.faces.astype(np.int32), longest=0.1, most_vertices=9000
    )
    solid = trimesh.Trimesh(vertices, faces, process=False)
    assert solid.is_watertight
    assert solid.edges_unique_length.max() <= 0.1
    assert solid.area == pytest.approx(6.0)
    assert solid.volume == pytest.approx(1.0)


def test_the_vertex_budget_is_kept() -> None:
    box = trimesh.creation.box((1, 1, 1))
    vertices, _ = split_long_edges(
        np.asarray(box.vertices, float),
        box.faces.astype(np.int32),
        longest=1e-4,
        most_vertices=2000,
    )
    assert len(vertices) <= 2000


def test_a_large_mesh_is_decimated_with_its_shape_kept() -> None:
    ball = trimesh.creation.icosphere(subdivisions=7)
    assert len(ball.vertices) > 2 * MOST_VERTICES
    piece = prepare(raw(ball), up="z", show="-y")
    assert len(piece.vertices) <= MOST_VERTICES
    assert float(piece.vertex_area.sum()) == pytest.approx(piece.raw_area, rel=0.01)
    edges = piece.vertices[piece.faces[:, 0]] - piece.vertices[piece.faces[:, 1]]
    assert np.linalg.norm(edges, axis=1).max() <= LONGEST_EDGE * 1.01


def test_an_inside_out_mesh_comes_right() -> None:
    ball = trimesh.creation.icosphere(subdivisions=3)
    ball.invert()
    piece = prepare(raw(ball), up="z", show="-y")
    outward = np.einsum("ij,ij->i", piece.normals, piece.vertices)
    assert outward.min() > 0


def test_normals_of_a_ball_point_outward() -> None:
    piece = prepare(raw(trimesh.creation.icosphere(subdivisions=4)), up="z", show="-y")
    along = piece.vertices / np.linalg.norm(piece.vertices, axis=1, keepdims=True)
    assert np.einsum("ij,ij->i", piece.normals, along).min() > 0.99


@pytest.mark.parametrize("up", ["z", "y", "x", "-z", "-y", "-x"])
def test_every_way_up_ends_with_z_up_and_the_show_side_in_front(up: str) -> None:
    show = default_show(up)
    turn = frame_rotation(up, show)
    axis = np.eye(3)["xyz".index(up[-1])] * (-1 if up[0] == "-" else 1)
    front = np.eye(3)["xyz".index(show[-1])] * (-1 if show[0] == "-" else 1)
    assert turn @ axis == pytest.approx([0, 0, 1])
    assert turn @ front == pytest.approx([0, -1, 0])
    assert np.linalg.det(turn) == pytest.approx(1)


def test_turning_brings_the_looked_at_side_to_the_front() -> None:
    from haze.core.light.directions import direction_of

    turn = frame_rotation("z", "-y", 40.0)
    assert turn @ direction_of(40, 0) == pytest.approx([0, -1, 0], abs=1e-9)


def test_up_and_show_on_one_axis_are_refused() -> None:
    with pytest.raises(MeshError, match="same axis"):
        frame_rotation("z", "-z")
    with pytest.raises(MeshError, match="accepted are"):
        frame_rotation("up", "-y")


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
