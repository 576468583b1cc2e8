"""Directions on the sphere."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.directions import (
    Cone,
    angles_of,
    direction_of,
    fibonacci_directions,
    free_directions,
    voronoi_weights,
)

azimuths = st.floats(0, 359)


elevations = st.floats(-85, 85)


def test_directions_by_name() -> None:
    assert direction_of(0, 0) == pytest.approx([0, -1, 0])  # the show side
    assert direction_of(90, 0) == pytest.approx([-1, 0, 0])  # the on's left
    assert direction_of(0, 90) == pytest.approx([0, 0, 1])  # overhead
    assert direction_of(0, -90) == pytest.approx([0, 0, -1])


@given(azimuths, elevations)
def test_angles_survive_the_way_there_and_back(azimuth: float, elevation: float) -> None:
    a, e = angles_of(direction_of(azimuth, elevation))
    assert float(e) == pytest.approx(elevation, abs=1e-6)
    assert (float(a) - azimuth + 180) % 360 - 180 == pytest.approx(0, abs=1e-4)


def test_the_direction_set_covers_the_sphere_evenly() -> None:
    d, w = fibonacci_directions(), voronoi_weights()
    assert np.linalg.norm(d, axis=1) == pytest.approx(1)
    assert w.sum() == pytest.approx(1)
    assert w.max() / w.min() < 1.6
    assert np.abs(w @ d).max() < 1e-3


def test_free_directions_leave_the_share_of_a_cone() -> None:
    # a cone of half angle h covers (1 − cos h)/2 of the sphere
    free = free_directions([Cone(70, 10, 60)])
    assert 1 - len(free) / len(fibonacci_directions()) == pytest.approx(0.25, abs=0.01)
