"""Sky, key and near light: cases worked by hand, and turning light and mesh alike."""

from __future__ import annotations

import numpy as np
import pytest
import shapes
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.light.directions import direction_of
from haze.core.light.lights import glow, glow_points, sky
from haze.core.light.mesh import PreparedMesh, prepare
from haze.core.light.stations import Station, deposit, lobe
from haze.core.light.visibility import mean_visibility, origins_of, scene_of, visibility_table

NOWHERE = np.zeros(3)


def near(mesh: PreparedMesh, at: np.ndarray, *, reach: float = 20.0, **more: object) -> np.ndarray:
    given = {"shape": "sphere", "to": at, "radius": 0.01} | more
    return glow(mesh, scene_of(mesh), at=at, reach=reach, **given)  # type: ignore[arg-type]


def test_a_glow_falls_with_the_square_of_the_distance(ball: PreparedMesh) -> None:
    # the vertex that faces −y lies square to lights on that axis
    front = int(np.argmin(ball.vertices[:, 1]))
    at = ball.vertices[front].astype(float)
    one, two = (near(ball, at - np.array([0, d, 0]))[front] for d in (10.0, 20.0))
    assert one == pytest.approx(4.0, rel=0.02)
    assert two == pytest.approx(1.0, rel=0.02)
    assert one / two == pytest.approx(4.0, rel=0.01)


def test_a_glow_leaves_shadow_behind_a_wall() -> None:
    wall = trimesh.creation.box((20, 1, 20))
    target = shapes.moved(trimesh.creation.box((20, 1, 20)), 0, 10, 0)
    mesh = shapes.prepared(trimesh.util.concatenate([wall, target]))
    scale = 100 / np.linalg.norm([20, 11, 20])
    at = np.array([0, -15 * scale, 0])
    lit = near(mesh, at, reach=30)
    behind = mesh.vertices[:, 1] > 0
    facing = mesh.normals[:, 1] < -0.9
    middle = np.abs(mesh.vertices[:, [0, 2]]).max(axis=1) < 5 * scale
    assert lit[behind & facing & middle].max() == 0
    assert lit[~behind & facing & middle].min() > 0.3
    # a housing that throws no shadow lets it through
    through = near(mesh, at, reach=30, clear=22 * scale)
    assert through[behind & facing & middle].min() > 0


def test_a_pool_lights_only_what_lies_above_it() -> None:
    plate = trimesh.creation.box((30, 30, 1))
    ball = shapes.moved(trimesh.creation.icosphere(subdivisions=4, radius=4), 0, 0, 10)
    mesh = shapes.prepared(trimesh.util.concatenate([plate, ball]))
    at = mesh.from_file(np.array([[0, 0, 0.6]]))[0]
    lit = near(mesh, at, shape="pool", radius=8.0, reach=20)
    on_ball = mesh.vertices[:, 2] > at[2] + 5
    under = on_ball & (mesh.normals[:, 2] < -0.9)
    assert lit[under].min() > 0.1
    assert lit[on_ball & (mesh.normals[:, 2] > 0.5)].max() == 0
    assert lit[~on_ball & (mesh.normals[:, 2] > 0.9)].max() < 0.02


def test_a_strip_is_longer_than_a_ball_of_light(ball: PreparedMesh) -> None:
    low, high = np.array([0, -45.0, -30]), np.array([0, -45.0, 30])
    strip = near(ball, low, shape="strip", to=high)
    spot = near(ball, np.array([0, -45.0, 0]))
    upper = (ball.normals[:, 2] > 0.5) & (ball.normals[:, 1] < -0.5)
    assert strip[upper].mean() > spot[upper].mean()
    points, _ = glow_points("strip", low, high, 1.0)
    assert points.mean(axis=0) == pytest.approx([0, -45, 0])


@pytest.mark.parametrize("shape", ["sphere", "pool"])
def test_sample_points_lie_within_the_radius(shape: str) -> None:
    points, facing = glow_points(shape, np.array([1.0, 2, 3]), NOWHERE, 4.0)  # type: ignore[arg-type]
    away = np.linalg.norm(points - [1, 2, 3], axis=1)
    assert away.max() <= 4.0 + 1e-9
    assert np.abs(points.mean(axis=0) - [1, 2, 3]).max() < 0.6
    assert (facing is None) == (shape == "sphere")


def test_the_sky_is_full_above_half_at_the_side_and_none_below(
    ball: PreparedMesh, ball_table: np.ndarray
) -> None:
    # an even dome gives a surface tilted by θ the share (1 + cos θ)/2 of an upright one
    value = sky(ball_table)
    expected = 0.5 * (1 + ball.normals[:, 2])
    assert np.abs(value - expected).max() < 0.03


def rotation(azimuth: float) -> np.ndarray:
    return trimesh.transformations.rotation_matrix(np.radians(azimuth), [0, 0, 1])


@settings(max_examples=6, deadline=None)
@given(st.integers(0, 3), st.floats(0, 359), st.floats(-40, 80))
def test_turning_the_light_equals_turning_the_mesh(
    quarter: int, azimuth: float, elevation: float
) -> None:
    # quarter turns keep the box of the mesh, and with it scale and middle
    solid = shapes.table()
    here = prepare(shapes.raw(solid), up="z", show="-y")
    turned = prepare(shapes.raw(solid), up="z", show="-y", turn_deg=90.0 * quarter)
    d = lobe(azimuth, elevation, 12, count=48)
    # counter-clockwise seen from above is less azimuth
    e = lobe(azimuth - 90.0 * quarter, elevation, 12, count=48)
    values = []
    for mesh, directions in ((here, d), (turned, e)):
        value = mean_visibility(scene_of(mesh), origins_of(mesh), mesh.normals, directions)
        place = np.round(mesh.to_file(mesh.vertices.astype(float)), 3)
        values.append(
            value[
                np.lexsort(
                    (
                        *place.T,
                        *np.round(
                            mesh.to_file(
                                mesh.normals.astype(float) + mesh.from_file(np.zeros((1, 3)))
                            ),
                            3,
                        ).T,
                    )
                )
            ]
        )
    assert np.mean(np.abs(values[0] - values[1])) < 0.01


@settings(max_examples=10, deadline=None)
@given(st.floats(0, 359), st.floats(-80, 80), st.floats(2, 80))
def test_a_lobe_points_where_it_should_and_is_as_wide(
    azimuth: float, elevation: float, spread: float
) -> None:
    d = lobe(azimuth, elevation, spread, count=400).astype(float)
    assert np.linalg.norm(d, axis=1) == pytest.approx(1, abs=1e-5)
    middle = direction_of(azimuth, elevation)
    mean = d.mean(axis=0)
    assert mean @ middle / np.linalg.norm(mean) > 0.999
    theta = np.radians(np.linspace(0, min(180, 4.2 * spread), 4000))
    density = np.exp(-0.5 * (np.degrees(theta) / spread) ** 2) * np.sin(theta)
    assert float((d @ middle).mean()) == pytest.approx(
        float((density * np.cos(theta)).sum() / density.sum()), abs=0.01
    )


@pytest.mark.parametrize("spread", [4.0, 8.0, 14.0])
def test_fresh_rays_agree_with_the_table_and_are_smoother(spread: float) -> None:
    mesh, table = shapes.seen(shapes.table())
    origins, scene = origins_of(mesh), scene_of(mesh)
    many = lobe(35, 50, spread, count=900)
    truth = mean_visibility(scene, origins, mesh.normals, many)
    fresh = mean_visibility(scene, origins, mesh.normals, lobe(35, 50, spread, count=112))
    quick = deposit(table, Station(35, 50, spread, 1.0))
    off = [float(np.sqrt(np.mean((v - truth) ** 2))) for v in (fresh, quick)]
    assert off[0] < 0.012
    assert off[1] < 0.05
    assert off[0] < off[1]


def test_only_members_block_and_receive() -> None:
    plate = shapes.moved(trimesh.creation.box((20, 20, 1)), 0, 0, 10)
    mesh = shapes.prepared(trimesh.util.concatenate([plate, trimesh.creation.box((10, 10, 1))]))
    low = mesh.body == mesh.body.max()
    up = np.array([[0.0, 0, 1]])
    together = visibility_table(mesh, directions=up)
    alone = visibility_table(mesh, members=low, directions=up)
    top = mesh.normals[low][:, 2] > 0.99
    assert together[0, low][top].max() == 0
    assert alone[0][top].min() > 250
    assert alone.shape == (1, int(low.sum()))
