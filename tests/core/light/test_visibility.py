"""What each vertex sees."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

import shapes
from haze.core.directions import fibonacci_directions
from haze.core.errors import CancelledError
from haze.core.light.reach import buried
from haze.core.light.stations import Station, deposit, lobe
from haze.core.light.visibility import mean_visibility, visibility_table
from haze.core.mesh.mesh import PreparedMesh, RawMesh
from haze.core.mesh.prepare import prepare
from haze.core.mesh.scene import origins_of, scene_of


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_inside_a_closed_box_nothing_lands() -> None:
    outer = trimesh.creation.box((10, 10, 10))
    inner = trimesh.creation.icosphere(subdivisions=2, radius=2)
    piece = prepare(raw(trimesh.util.concatenate([outer, inner])), up="z", show="-y")
    table = visibility_table(piece, directions=fibonacci_directions(64))
    inside = np.linalg.norm(piece.vertices, axis=1) < 20
    assert table[:, inside].max() == 0
    assert np.array_equal(buried(table), inside)


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


def test_visibility_reports_and_can_be_cancelled(ball: PreparedMesh) -> None:
    told: list[float] = []

    def stop(done: float) -> bool:
        told.append(done)
        return len(told) < 3

    with pytest.raises(CancelledError):
        visibility_table(ball, progress=stop)
    assert told == sorted(told)
    assert told[-1] < 0.5


@settings(max_examples=6, deadline=None)
@given(st.integers(0, 3), st.floats(0, 359), st.floats(-40, 80))
def test_turning_the_light_equals_turning_the_mesh(
    quarter: int, azimuth: float, elevation: float
) -> None:
    # quarter turns keep the box of the mesh, and with it scale and middle
    solid = shapes.table()
    here = prepare(shapes.raw(solid), up="z", show="-y")
    turned = prepare(shapes.raw(solid), up="z", show="-y", turn_deg=90.0 * quarter)
    d = lobe(Station(azimuth, elevation, 12), count=48)
    # counter-clockwise seen from above is less azimuth
    e = lobe(Station((azimuth - 90.0 * quarter) % 360, elevation, 12), count=48)
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


@pytest.mark.parametrize("spread", [4.0, 8.0, 14.0])
def test_fresh_rays_agree_with_the_table_and_are_smoother(spread: float) -> None:
    mesh, table = shapes.seen(shapes.table())
    origins, scene = origins_of(mesh), scene_of(mesh)
    many = lobe(Station(35, 50, spread), count=900)
    truth = mean_visibility(scene, origins, mesh.normals, many)
    fresh = mean_visibility(scene, origins, mesh.normals, lobe(Station(35, 50, spread), count=112))
    quick = deposit(table, Station(35, 50, spread))
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


def under_a_bar() -> PreparedMesh:
    """A ground with a bar above it, which throws a half shadow."""
    ground = trimesh.creation.box((60, 60, 2))
    bar = trimesh.creation.box((60, 6, 2))
    bar.apply_translation([0, 0, 25])
    return prepare(raw(trimesh.util.concatenate([ground, bar])), up="z", show="-y")


@pytest.mark.parametrize("station", [Station(0, 80, 6), Station(40, 55, 12), Station(200, 20, 4)])
def test_a_few_directions_first_find_the_same_light(station: Station) -> None:
    piece = under_a_bar()
    scene, origins = scene_of(piece), origins_of(piece)
    directions = lobe(station, count=72)
    every = mean_visibility(scene, origins, piece.normals, directions, scouts=72)
    quick = mean_visibility(scene, origins, piece.normals, directions)
    off = np.abs(quick - every)
    assert np.sqrt(np.mean(off**2)) < 0.009
    assert np.quantile(off, 0.999) < 0.06
    half = (every > 0.1 * every.max()) & (every < 0.9 * every.max())
    assert half.any(), "there is half shadow to be found"
    assert np.median(off[half]) < 1e-6, "in half shadow every direction is asked"


def test_a_ball_needs_no_more_than_the_first_directions(ball: PreparedMesh) -> None:
    scene, origins = scene_of(ball), origins_of(ball)
    directions = lobe(Station(20, 40, 10), count=90)
    found = mean_visibility(scene, origins, ball.normals, directions, scouts=12)
    exact = np.maximum(ball.normals @ directions.T, 0).mean(axis=1)
    assert found == pytest.approx(exact, abs=5e-3)


def test_one_and_two_threads_trace_the_same_light(ball: PreparedMesh) -> None:
    scene, origins = scene_of(ball), origins_of(ball)
    directions = lobe(Station(20, 40, 10), count=40)
    one, two = (
        mean_visibility(scene, origins, ball.normals, directions, threads=n) for n in (1, 2)
    )
    assert one == pytest.approx(two, abs=1e-6)


def test_a_face_only_the_rim_of_a_sweep_reaches_is_asked_all_the_same(ball: PreparedMesh) -> None:
    scene = scene_of(ball)
    far = np.array([[0, 0, 400.0]], dtype=np.float32)  # nothing blocks it there
    directions = lobe(Station(0, 0, 10), count=60)
    # square to the one direction that lies farthest out, and turned until only few are faced
    normal = -directions.mean(axis=0)
    normal = normal + 1.02 * directions[np.argmin(directions @ directions.mean(axis=0))]
    normal = (normal / np.linalg.norm(normal)).astype(np.float32)[None]
    exact = np.maximum(normal @ directions.T, 0).mean()
    assert exact > 0
    found = mean_visibility(scene, far, normal, directions, scouts=1)
    assert float(found[0]) == pytest.approx(float(exact), rel=1e-4)
