"""From the axes of a file to the piece frame."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import MeshError
from haze.core.mesh.frame import default_show, frame_rotation


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
    from haze.core.directions import direction_of

    turn = frame_rotation("z", "-y", 40.0)
    assert turn @ direction_of(40, 0) == pytest.approx([0, -1, 0], abs=1e-9)


def test_up_and_show_on_one_axis_are_refused() -> None:
    with pytest.raises(MeshError, match="same axis"):
        frame_rotation("z", "-z")
    with pytest.raises(MeshError, match="accepted are"):
        frame_rotation("up", "-y")
