"""Parts of a piece: as the bodies fall, pairs that mirror each other, and uneven coats."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

import shapes
from haze.core.light.parts import part_of_vertices
from haze.core.mesh.mesh import PreparedMesh
from haze.core.onpiece.parts import MirroredPair, mirrored, parts_of, shapes_of, uneven
from haze.core.plan.piece import Cut, Part, Piece
from helpers import MESH

PIECE = Piece(mesh=MESH, name="cart", height_mm=30)


def cart(*, along: float = 0.0, size: float = 8.0) -> PreparedMesh:
    """A hull between two boxes; the right one may stand further back or be of another size."""
    hull = trimesh.creation.box((18, 40, 14))
    one = trimesh.creation.box((8, 30, 8)).apply_translation([-20, 0, -3])
    other = trimesh.creation.box((size, 30, 8)).apply_translation([20, along, -3])
    return shapes.prepared(trimesh.util.concatenate([hull, one, other]))


def pairs(mesh: PreparedMesh) -> list[MirroredPair]:
    parts = parts_of(PIECE, mesh)
    return mirrored(mesh, part_of_vertices(mesh, shapes_of(parts)), len(parts))


def test_every_body_is_a_part_until_parts_are_named() -> None:
    mesh = cart()
    assert [p.name for p in parts_of(PIECE, mesh)] == ["Part 1", "Part 2", "Part 3"]
    own = [Part(id="hull", name="Hull", bodies=[0])]
    assert parts_of(PIECE.model_copy(update={"parts": own}), mesh) == own
    ball = shapes.prepared(trimesh.creation.icosphere(subdivisions=3))
    assert [p.name for p in parts_of(PIECE, ball)] == ["Whole piece"]


def test_parts_keep_cuts_and_state_for_the_light() -> None:
    part = Part(
        id="a",
        name="A",
        bodies=[1, 2],
        cuts=[Cut(normal=(0, 0, 1), offset=4, above=False)],
        state="held_off",
    )
    (shape,) = shapes_of([part])
    assert (shape.bodies, shape.state) == ((1, 2), "held_off")
    assert (shape.cuts[0].normal, shape.cuts[0].offset, shape.cuts[0].above) == (
        (0, 0, 1),
        4,
        False,
    )


def test_left_and_right_of_a_middle_are_a_pair() -> None:
    found = pairs(cart())
    assert len(found) == 1
    assert found[0].one != found[0].other


@pytest.mark.parametrize(("along", "size"), [(12.0, 8.0), (0.0, 20.0)])
def test_what_stands_elsewhere_or_is_larger_is_no_pair(along: float, size: float) -> None:
    assert pairs(cart(along=along, size=size)) == []


def test_a_coat_that_leaves_out_one_side_is_told() -> None:
    mesh = cart()
    parts = shapes_of(parts_of(PIECE, mesh))
    part = part_of_vertices(mesh, parts)
    pair = mirrored(mesh, part, len(parts))
    film = np.full(len(mesh.vertices), 10.0, dtype=np.float32)
    assert uneven(film, area=mesh.vertex_area, part=part, pairs=pair) == []
    film[part == pair[0].one] = 4.0
    (found,) = uneven(film, area=mesh.vertex_area, part=part, pairs=pair)
    assert (found.less, found.more) == (pair[0].one, pair[0].other)
    assert (found.less_um, found.more_um) == pytest.approx((4.0, 10.0))
