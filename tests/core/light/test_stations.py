"""Deposits of stations (docs/models.md B7 and part 0)."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.directions import direction_of
from haze.core.errors import OutOfRangeError
from haze.core.light.parts import unreached
from haze.core.light.reach import buried
from haze.core.light.stations import Station, ambient, deposit, direction_weights, lobe
from haze.core.mesh.mesh import PreparedMesh

azimuths = st.floats(0, 359)


elevations = st.floats(-85, 85)


@given(azimuths, st.floats(-90, 90), st.floats(2, 90))
def test_station_weights_sum_to_one(azimuth: float, elevation: float, spread: float) -> None:
    rows, weights = direction_weights(Station(azimuth, elevation, spread))
    assert weights.sum() == pytest.approx(1, abs=1e-5)
    assert len(rows) == len(set(rows.tolist()))


@pytest.mark.parametrize(("azimuth", "elevation"), [(0, 0), (40, 45), (200, -30), (0, 90)])
def test_a_ball_is_lit_by_the_cosine_and_dark_beyond_the_terminator(
    ball: PreparedMesh, ball_table: np.ndarray, azimuth: float, elevation: float
) -> None:
    spread = 8.0
    landed = deposit(ball_table, Station(azimuth, elevation, spread))
    cosine = ball.normals @ direction_of(azimuth, elevation)
    assert np.abs(landed - np.maximum(cosine, 0)).max() < 0.07
    beyond = cosine < -np.sin(np.radians(3.2 * spread))
    assert beyond.any()
    assert landed[beyond].max() < 2e-3
    assert cosine[np.argmax(landed)] > 0.98


@settings(max_examples=12, deadline=None)
@given(azimuths, elevations)
def test_turning_ball_and_station_together_changes_nothing(
    ball: PreparedMesh, ball_table: np.ndarray, azimuth: float, elevation: float
) -> None:
    # a ball is its own turned self: sort by cosine and compare the curves
    here = deposit(ball_table, Station(azimuth, elevation, 20))
    there = deposit(ball_table, Station((azimuth + 77) % 360, elevation, 20))
    bins = np.linspace(-1, 1, 30)
    curves = []
    for landed, az in ((here, azimuth), (there, azimuth + 77)):
        cosine = ball.normals @ direction_of(az, elevation)
        index = np.digitize(cosine, bins)
        curves.append(np.array([landed[index == i].mean() for i in range(1, 30)]))
    assert np.abs(curves[0] - curves[1]).max() < 0.03


def test_a_convex_piece_is_open_on_all_sides(ball_table: np.ndarray) -> None:
    assert ambient(ball_table) == pytest.approx(1.0, abs=0.02)
    assert not unreached(ball_table, np.arange(len(ball_table))).any()
    assert not buried(ball_table).any()


def test_stations_refuse_what_is_not_an_angle() -> None:
    with pytest.raises(OutOfRangeError, match="elevation_deg is 91"):
        Station(0, 91, 10)
    with pytest.raises(OutOfRangeError, match="spread_deg is 0"):
        Station(0, 0, 0)


@settings(max_examples=10, deadline=None)
@given(st.floats(0, 359), st.floats(-80, 80), st.floats(2, 80))
def test_a_lobe_points_where_it_should_and_is_as_wide(
    azimuth: float, elevation: float, spread: float
) -> None:
    d = lobe(Station(azimuth, elevation, spread), count=400).astype(float)
    assert np.linalg.norm(d, axis=1) == pytest.approx(1, abs=1e-5)
    middle = direction_of(azimuth, elevation)
    mean = d.mean(axis=0)
    assert mean @ middle / np.linalg.norm(mean) > 0.999
    theta = np.radians(np.linspace(0, min(180, 4.2 * spread), 4000))
    density = np.exp(-0.5 * (np.degrees(theta) / spread) ** 2) * np.sin(theta)
    assert float((d @ middle).mean()) == pytest.approx(
        float((density * np.cos(theta)).sum() / density.sum()), abs=0.01
    )
