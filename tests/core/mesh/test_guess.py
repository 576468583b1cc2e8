"""How a mesh file stands, and its unit: boxes and cones by hand."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from haze.core.mesh.guess import AXES, LIKELY_MM, GuessedStand, stands
from haze.core.mesh.mesh import RawMesh


def raw(shape: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.array(shape.vertices), np.array(shape.faces, dtype=np.int32))


def figure(height: float = 40.0) -> trimesh.Trimesh:
    """A cone on a round base, up along z."""
    base = trimesh.creation.cylinder(radius=0.35 * height, height=0.08 * height)
    body = trimesh.creation.cone(radius=0.2 * height, height=0.92 * height)
    body.apply_translation([0, 0, 0.04 * height])
    return trimesh.util.concatenate([base, body])


def turned(shape: trimesh.Trimesh, up: str) -> trimesh.Trimesh:
    """The same with another axis up."""
    axis, sign = next((a, s) for name, a, s in AXES if name == up)
    toward = np.zeros(3)
    toward[axis] = sign
    shape = shape.copy()
    shape.apply_transform(trimesh.geometry.align_vectors([0, 0, 1], toward))
    return shape


@pytest.mark.parametrize("up", [name for name, _, _ in AXES])
@pytest.mark.parametrize("usual", ["z", "y"])
def test_a_figure_stands_on_its_base_whichever_way_the_file_has_it(up: str, usual: str) -> None:
    found = stands(raw(turned(figure(), up)), usual=usual)  # type: ignore[arg-type]
    assert found.up == up
    assert found.height_mm == pytest.approx(40.0, rel=0.02)
    assert found.unit == "mm"


def test_what_has_no_foot_stands_as_its_format_usually_does() -> None:
    ball = raw(trimesh.creation.icosphere(radius=20))
    assert stands(ball).up == "z"
    assert stands(ball, usual="y").up == "y"
    round_all_over = raw(trimesh.creation.capsule(height=20, radius=8))
    assert stands(round_all_over).up == "z"
    box = raw(trimesh.creation.box((30, 30, 30)))  # a foot on every side
    assert stands(box, usual="y").up == "y"


@pytest.mark.parametrize(
    ("height", "unit", "mm"),
    [(40.0, "mm", 40.0), (4.0, "cm", 40.0), (1.0, "inch", 25.4), (0.04, "m", 40.0)],
)
def test_the_unit_is_the_one_that_makes_it_a_piece(height: float, unit: str, mm: float) -> None:
    found = stands(raw(figure(height)))
    assert found.unit == unit
    assert found.height_mm == pytest.approx(mm, rel=0.01)


def test_a_size_no_unit_explains_is_taken_as_millimetres() -> None:
    found = stands(raw(figure(900.0)))
    assert found == GuessedStand("z", pytest.approx(900.0), "mm")
    assert found.height_mm > LIKELY_MM[1]


@given(st.floats(12.0, 480.0), st.floats(0.0, 360.0))
def test_neither_size_nor_turning_about_the_axis_changes_the_way_up(
    height: float, turn: float
) -> None:
    shape = figure(height)
    shape.apply_transform(trimesh.transformations.rotation_matrix(np.radians(turn), [0, 0, 1]))
    assert stands(raw(shape)).up == "z"
