"""Facts of light and deposit that must hold (docs/models.md B7 and part 0)."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import CancelledError, OutOfRangeError
from haze.core.light.directions import (
    angles_of,
    direction_of,
    fibonacci_directions,
    voronoi_weights,
)
from haze.core.light.mesh import PreparedMesh, RawMesh, prepare
from haze.core.light.reach import bare, buried, reachable, share
from haze.core.light.stations import Station, ambient, deposit, direction_weights
from haze.core.light.visibility import Scene, visibility_table

azimuths = st.floats(0, 359)
elevations = st.floats(-85, 85)


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_directions_by_name() -> None:
    assert direction_of(0, 0) == pytest.approx([0, -1, 0])  # the show side
    assert direction_of(90, 0) == pytest.approx([-1, 0, 0])  # the painter's left
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


@given(azimuths, st.floats(-90, 90), st.floats(2, 90))
def test_station_weights_sum_to_one(azimuth: float, elevation: float, spread: float) -> None:
    rows, weights = direction_weights(azimuth, elevation, spread)
    assert weights.sum() == pytest.approx(1, abs=1e-5)
    assert len(rows) == len(set(rows.tolist()))


@pytest.mark.parametrize(("azimuth", "elevation"), [(0, 0), (40, 45), (200, -30), (0, 90)])
def test_a_ball_is_lit_by_the_cosine_and_dark_beyond_the_terminator(
    ball: PreparedMesh, ball_table: np.ndarray, azimuth: float, elevation: float
) -> None:
    spread = 8.0
    landed = deposit(ball_table, Station(azimuth, elevation, spread, 1))
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
    here = deposit(ball_table, Station(azimuth, elevation, 20, 1))
    there = deposit(ball_table, Station((azimuth + 77) % 360, elevation, 20, 1))
    bins = np.linspace(-1, 1, 30)
    curves = []
    for landed, az in ((here, azimuth), (there, azimuth + 77)):
        cosine = ball.normals @ direction_of(az, elevation)
        index = np.digitize(cosine, bins)
        curves.append(np.array([landed[index == i].mean() for i in range(1, 30)]))
    assert np.abs(curves[0] - curves[1]).max() < 0.03


def test_a_plate_above_a_ball_throws_its_shadow() -> None:
    ball_low = trimesh.creation.icosphere(subdivisions=4, radius=10)
    plate = trimesh.creation.cylinder(radius=5, height=0.5, sections=64)
    plate.apply_translation([0, 0, 25])
    piece = prepare(raw(trimesh.util.concatenate([ball_low, plate])), up="z", show="-y")
    scale = 100 / np.linalg.norm([20, 20, 35.25])
    scene = Scene(piece.vertices, piece.faces)
    up = np.array([[0, 0, 1]], dtype=np.float32)
    z = piece.vertices[:, 2]
    on_ball = (z < z.max() - 8 * scale) & (piece.normals[:, 2] > 0.1)
    radius = np.hypot(piece.vertices[:, 0], piece.vertices[:, 1]) / scale
    blocked = scene.blocked(piece.vertices[on_ball] + 0.01 * piece.normals[on_ball], up)
    edge = np.abs(radius[on_ball] - 5) < 0.1
    assert np.array_equal(blocked[~edge], (radius[on_ball] < 5)[~edge])


def test_inside_a_closed_box_nothing_lands() -> None:
    outer = trimesh.creation.box((10, 10, 10))
    inner = trimesh.creation.icosphere(subdivisions=2, radius=2)
    piece = prepare(raw(trimesh.util.concatenate([outer, inner])), up="z", show="-y")
    table = visibility_table(piece, directions=fibonacci_directions(64))
    inside = np.linalg.norm(piece.vertices, axis=1) < 20
    assert table[:, inside].max() == 0
    assert np.array_equal(buried(table), inside)


def test_two_stations_add(ball_table: np.ndarray) -> None:
    from haze.core.plan.painting import landed_passes
    from helpers import coat_with_stations

    one, two = Station(20, 40, 10, 2), Station(200, -10, 30, 3)
    both = landed_passes(
        coat_with_stations([one, two]), [deposit(ball_table, s) for s in (one, two)]
    )
    alone = 2 * deposit(ball_table, one) + 3 * deposit(ball_table, two)
    assert both == pytest.approx(alone, abs=1e-5)


def test_the_byte_table_is_within_thirteen_ten_thousandths_of_float(ball: PreparedMesh) -> None:
    d = fibonacci_directions(64)
    table = visibility_table(ball, directions=d)
    exact = np.maximum(ball.normals.astype(float) @ d.T, 0).T
    convex = table.astype(float) / 255
    assert np.abs(convex - exact).max() <= 0.5 / 255 + 1e-4
    w = np.full(64, 1 / 64)
    assert np.sqrt(np.mean((w @ convex - w @ exact) ** 2)) < 0.0013


def test_one_and_two_threads_give_the_same_bytes(ball: PreparedMesh) -> None:
    d = fibonacci_directions(40)
    tables = [visibility_table(ball, directions=d, threads=n) for n in (1, 2)]
    assert np.array_equal(tables[0], tables[1])


def test_a_convex_piece_is_open_on_all_sides(ball_table: np.ndarray) -> None:
    assert ambient(ball_table) == pytest.approx(1.0, abs=0.02)
    assert reachable(ball_table).all()
    assert not buried(ball_table).any()


def test_visibility_reports_and_can_be_cancelled(ball: PreparedMesh) -> None:
    told: list[float] = []

    def stop(done: float) -> bool:
        told.append(done)
        return len(told) < 3

    with pytest.raises(CancelledError):
        visibility_table(ball, progress=stop)
    assert told == sorted(told)
    assert told[-1] < 0.5


def test_wrong_ray_counts_are_refused(ball: PreparedMesh) -> None:
    scene = Scene(ball.vertices, ball.faces)
    with pytest.raises(ValueError, match="one for each origin"):
        scene.blocked(ball.vertices, np.zeros((3, 3), dtype=np.float32))


def test_stations_refuse_what_is_not_an_angle() -> None:
    with pytest.raises(OutOfRangeError, match="elevation_deg is 91"):
        Station(0, 91, 10, 1)
    with pytest.raises(OutOfRangeError, match="spread_deg is 0"):
        Station(0, 0, 0, 1)


def test_shares_are_by_area() -> None:
    area = np.array([1, 3, 6], dtype=np.float32)
    mask = np.array([True, False, True])
    assert share(mask, area=area, counted=np.array([True, True, True])) == pytest.approx(0.7)
    assert share(mask, area=area, counted=np.array([True, True, False])) == pytest.approx(0.25)
    assert bare(np.array([0.99, 1.0], dtype=np.float32)).tolist() == [True, False]
