from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import CancelledError, MeshError
from haze.core.light.bodies import groups
from haze.core.light.directions import fibonacci_directions
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
from haze.core.light.reach import buried
from haze.core.light.visibility import visibility_table
from haze.core.light.winding import agree, shared_edges


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
    vertices, faces, number = merge_corners(twice.vertices, twice.faces)
    assert number.tolist() == list(range(12))
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


def test_a_buried_shell_is_kept_out_of_sums_but_stays_a_body() -> None:
    outer, inner = trimesh.creation.box((10, 10, 10)), trimesh.creation.icosphere(radius=2)
    piece = prepare(raw(trimesh.util.concatenate([outer, inner])), up="z", show="-y")
    assert np.unique(piece.body).tolist() == [0, 12]
    table = visibility_table(piece, directions=fibonacci_directions(64))
    assert np.array_equal(buried(table), piece.body == 12)


def test_bodies_are_known_by_faces_of_the_file_through_decimation() -> None:
    balls = [
        trimesh.creation.icosphere(subdivisions=6, radius=r).apply_translation([x, 0, 0])
        for r, x in ((4, 0), (3, 12), (2, 22))
    ]
    each = len(balls[0].faces)
    piece = prepare(raw(trimesh.util.concatenate(balls)), up="z", show="-y")
    assert len(piece.vertices) <= MOST_VERTICES
    assert np.unique(piece.body).tolist() == [0, each, 2 * each]
    x = piece.to_file(piece.vertices.astype(float))[:, 0]
    assert x[piece.body == 0].max() < 4.1
    assert x[piece.body == 2 * each].min() > 19.9


def test_places_go_to_the_file_and_back() -> None:
    piece = prepare(raw(trimesh.creation.box((2, 3, 4))), up="y", show="+z", turn_deg=30)
    points = np.random.default_rng(1).uniform(-50, 50, (20, 3))
    assert piece.from_file(piece.to_file(points)) == pytest.approx(points, abs=1e-9)
    corners = piece.to_file(piece.vertices.astype(float))
    assert np.abs(corners).max(axis=0) == pytest.approx([1, 1.5, 2], abs=1e-4)


def test_tiny_bodies_join_the_larger_one_next_to_them() -> None:
    balls = [
        trimesh.creation.icosphere(subdivisions=3, radius=r).apply_translation([x, 0, 0])
        for r, x in ((5, 0), (4, 30), (0.1, 6), (0.1, 25), (0.1, 7))
    ]
    each = len(balls[0].faces)
    piece = prepare(raw(trimesh.util.concatenate(balls)), up="z", show="-y")
    found = groups(piece.vertices.astype(float), piece.body, piece.vertex_area)
    assert [sorted(g) for g in found] == [[0, 2 * each, 4 * each], [each, 3 * each]]


def test_a_stopped_preparation_says_so() -> None:
    with pytest.raises(CancelledError, match="Stopped"):
        prepare(raw(trimesh.creation.box((1, 1, 1))), up="z", show="-y", progress=lambda _: False)


@pytest.mark.parametrize("subdivisions", [3, 6])
def test_loose_triangles_are_joined_over_their_gaps(subdivisions: int) -> None:
    rng = np.random.default_rng(1)
    solid = trimesh.creation.icosphere(subdivisions=subdivisions)
    loose = np.asarray(solid.triangles) + rng.normal(0, 1e-4, (len(solid.faces), 3, 3))
    flipped = rng.random(len(loose)) < 0.5
    loose[flipped] = loose[flipped][:, ::-1]
    faces = np.arange(3 * len(loose), dtype=np.int32).reshape(-1, 3)
    piece = prepare(RawMesh(loose.reshape(-1, 3), faces), up="z", show="-y")
    assert len(piece.vertices) <= MOST_VERTICES
    outward = np.einsum("ij,ij->i", piece.normals, piece.vertices)
    assert (outward > 0).mean() > 0.97
    radius = np.linalg.norm(piece.vertices, axis=1)
    assert radius.min() > 0.97 * radius.max()
