"""Sky, key and near light: cases worked by hand, and turning light and mesh alike."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

import shapes
from haze.core.light.lights import glow, glow_points, sky
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import scene_of

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
