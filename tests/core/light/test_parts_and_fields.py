"""Parts, what leaving one off gains, and the fields of aimed coats."""

from __future__ import annotations

import numpy as np
import pytest
import shapes
import trimesh

from haze.core.light import fields
from haze.core.light.directions import fibonacci_directions
from haze.core.light.parts import (
    Cut,
    PartShape,
    gains,
    members_together,
    part_of_vertices,
    unreached,
)
from haze.core.light.stations import ambient
from haze.core.light.surface import Surface
from haze.core.light.visibility import visibility_table


@pytest.fixture(scope="module")
def mushroom():  # type: ignore[no-untyped-def]
    """A stem under a wide cap that nearly touches the ground plate: much of it out of reach."""
    parts = [
        shapes.moved(trimesh.creation.cylinder(radius=3, height=6, sections=48), 0, 0, 3),
        shapes.moved(trimesh.creation.cylinder(radius=14, height=2, sections=48), 0, 0, 2.5),
        shapes.moved(trimesh.creation.cylinder(radius=14, height=2, sections=48), 0, 0, -1.05),
    ]
    mesh = shapes.prepared(trimesh.util.concatenate(parts))
    bodies = np.unique(mesh.body).tolist()
    return mesh, [PartShape((b,), (), "attached") for b in bodies]


def test_vertices_belong_to_the_part_of_their_body(mushroom) -> None:  # type: ignore[no-untyped-def]
    mesh, parts = mushroom
    part = part_of_vertices(mesh, parts)
    assert np.array_equal(np.unique(part), [0, 1, 2])
    z = mesh.to_file(mesh.vertices.astype(float))[:, 2]
    assert z[part == 2].max() <= 0.001
    # what no part names belongs to the first
    assert part_of_vertices(mesh, parts[:1]).max() == 0


def test_a_cut_parts_one_body_at_its_plane(mushroom) -> None:  # type: ignore[no-untyped-def]
    mesh, parts = mushroom
    stem = parts[0].bodies
    halves = [
        PartShape(stem, (Cut((0.0, 0.0, 1.0), 4.0, above),), "attached") for above in (False, True)
    ]
    part = part_of_vertices(mesh, [*halves, *parts[1:]])
    z = mesh.to_file(mesh.vertices.astype(float))[:, 2]
    assert z[part == 1].min() >= 4.0 - 1e-6
    own = mesh.body == stem[0]
    assert z[own & (part == 0)].max() < 4.0 + 1e-6


def test_light_meets_tacked_parts_and_spray_does_not(mushroom) -> None:  # type: ignore[no-untyped-def]
    _, parts = mushroom
    part = np.array([0, 1, 2, 2], dtype=np.int32)
    states = ("attached", "tacked", "held_off")
    shaped = [PartShape(p.bodies, (), s) for p, s in zip(parts, states, strict=True)]
    spray = members_together(part, shaped, for_light=False)
    light = members_together(part, shaped, for_light=True)
    assert [m.tolist() for m in spray] == [
        [True, False, False, False],
        [False, True, False, False],
        [False, False, True, True],
    ]
    assert [m.tolist() for m in light] == [[True, True, False, False], [False, False, True, True]]


def test_gains_agree_with_the_reach_of_what_is_left(mushroom) -> None:  # type: ignore[no-untyped-def]
    mesh, parts = mushroom
    part = part_of_vertices(mesh, parts)
    table = visibility_table(mesh)
    rows = np.arange(len(table))
    counted = table.max(axis=0) > 0
    found = gains(
        mesh,
        part,
        parts,
        table=table,
        rows=rows,
        directions=fibonacci_directions(),
        counted=counted,
    )
    assert [g.on_part + g.on_rest for g in found] == sorted(
        (g.on_part + g.on_rest for g in found), reverse=True
    )
    missed = unreached(table, rows) & counted
    assert missed.any()
    for g in found:
        rest = part != g.part
        alone = visibility_table(mesh, members=rest)
        reached = ~unreached(alone, rows)
        area = mesh.vertex_area[rest]
        assert g.on_rest == pytest.approx(float(area[reached & missed[rest]].sum()), rel=1e-4)
    # the largest part is the one the others are left off from
    largest = int(np.argmax([mesh.vertex_area[part == i].sum() for i in range(3)]))
    assert largest not in {g.part for g in found}


def test_one_part_alone_has_nothing_to_leave_off(ball, ball_table) -> None:  # type: ignore[no-untyped-def]
    whole = [PartShape((0,), (), "attached")]
    part = np.zeros(len(ball.vertices), dtype=np.int32)
    found = gains(
        ball,
        part,
        whole,
        table=ball_table,
        rows=np.arange(len(ball_table)),
        directions=fibonacci_directions(),
        counted=np.ones(len(part), dtype=bool),
    )
    assert found == []
    assert unreached(ball_table, np.array([], dtype=np.int64)).all()


@pytest.fixture(scope="module")
def box() -> Surface:
    return Surface(shapes.prepared(trimesh.creation.box((20, 14, 10))))


def test_blur_keeps_the_amount_and_widens_as_asked() -> None:
    plate = Surface(shapes.prepared(trimesh.creation.box((40, 40, 0.5))))
    v = plate.mesh.vertices
    top = plate.mesh.normals[:, 2] > 0.9
    spot = np.exp(-0.5 * ((v[:, 0] / 3) ** 2 + (v[:, 1] / 3) ** 2)) * top
    out = plate.blurred(spot.astype(np.float32), sigma=4.0)
    area = plate.mesh.vertex_area
    assert float((out * area).sum()) == pytest.approx(float((spot * area).sum()), rel=2e-3)
    spread = float((out * area * v[:, 0] ** 2)[top].sum() / (out * area)[top].sum())
    # variances add: 3² + 4²
    assert np.sqrt(spread) == pytest.approx(5.0, rel=0.06)
    assert np.array_equal(
        plate.blurred(spot.astype(np.float32), sigma=0.0), spot.astype(np.float32)
    )


def test_distance_runs_along_the_surface() -> None:
    ball = Surface(shapes.prepared(trimesh.creation.icosphere(subdivisions=5)))
    z = ball.mesh.vertices[:, 2]
    far = ball.distance(z == z.max())
    radius = float(np.linalg.norm(ball.mesh.vertices, axis=1).mean())
    polar = np.arccos(np.clip(z / radius, -1, 1)) * radius
    assert float(np.median(np.abs(far / np.maximum(polar, 1) - 1))) < 0.08
    assert ball.distance(z > 2 * radius, limit=7.0).max() == 7.0


def test_a_ball_bends_by_one_over_its_radius() -> None:
    ball = Surface(shapes.prepared(trimesh.creation.icosphere(subdivisions=5)))
    radius = float(np.linalg.norm(ball.mesh.vertices, axis=1).mean())
    assert float(np.median(ball.bend)) == pytest.approx(1 / radius, rel=0.02)


def test_a_box_has_six_panels_that_are_full_in_their_middles(box: Surface) -> None:
    middles = fields.panel_middles(box, margin=3.0)
    scale = 100 / np.linalg.norm([20, 14, 10])
    top = box.mesh.normals[:, 2] > 0.99
    centre = top & (np.abs(box.mesh.vertices[:, :2]).max(axis=1) < 2 * scale)
    assert middles[centre].min() == pytest.approx(1.0)
    assert middles[box.inset < 0.2].max() < 0.2
    fit = fields.panel_fit(box, mm_per_unit=1 / scale, sigma_mm=2.0)
    # widths 10 (four sides) and 14 (top and bottom) against a spot of 8
    assert (fit.panels, fit.too_small, fit.spot_mm) == (6, 0, 8.0)
    assert fit.narrowest_mm == pytest.approx(10, rel=0.1)
    wide = fields.panel_fit(box, mm_per_unit=1 / scale, sigma_mm=3.0)
    assert wide.too_small == 4


def test_edges_that_face_up_are_found_and_no_others(box: Surface) -> None:
    edges = fields.upper_edges(box)
    z = box.mesh.vertices[:, 2]
    upper = (z > z.max() - 0.01) & (box.inset < 0.01)
    lower = (z < z.min() + 0.01) & (box.inset < 0.01)
    assert edges[upper].mean() > 0.5
    assert edges[lower].max() < 0.05
    assert edges[box.inset > 8].max() < 0.1


def test_recesses_are_where_little_is_seen() -> None:
    mesh, table = shapes.seen(shapes.cross())
    field = fields.recesses(ambient(table))
    outer = np.abs(mesh.vertices).max(axis=1) > 0.99 * np.abs(mesh.vertices).max()
    inner = np.linalg.norm(mesh.vertices, axis=1) < 15
    seen = table.max(axis=0) > 0
    assert field[outer].max() < 0.05
    assert field[inner & seen].mean() > field[outer].mean() + 0.05


def test_a_ramp_rises_evenly_between_its_ends() -> None:
    points = np.array([[0, 0, -1], [0, 0, 0], [5, 0, 1], [0, 3, 2], [0, 0, 9]], dtype=np.float32)
    field = fields.ramp(points, start=np.array([0.0, 0, 0]), end=np.array([0.0, 0, 2]))
    assert field.tolist() == [0, 0, 0.5, 1, 1]
    back = fields.ramp(points, start=np.array([0.0, 0, 2]), end=np.array([0.0, 0, 0]))
    assert back == pytest.approx(1 - field)
    assert fields.ramp(points, start=np.zeros(3), end=np.zeros(3)).max() == 0


def test_near_a_part_fades_along_the_surface(box: Surface) -> None:
    z = box.mesh.vertices[:, 2]
    inside = z > z.max() - 0.01
    field = fields.near_part(box, inside, fade=6.0)
    assert field[inside].min() == 1.0
    below = z < z.max() - 8
    assert field[below].max() == 0.0
    assert 0 < field[~inside & ~below].mean() < 1
    assert np.array_equal(fields.near_part(box, inside, fade=0.0), inside.astype(np.float32))


def test_what_lands_is_limited_by_reach_and_by_the_part_that_is_there(box: Surface) -> None:
    n = len(box.mesh.vertices)
    sees = np.linspace(0, 1, n).astype(np.float32)
    only = np.arange(n) % 2 == 0
    got = fields.landed(box, np.ones(n, np.float32), sigma=2.0, sees=sees, members=only)
    assert got[~only].max() == 0
    assert np.all(got <= sees + 1e-6)


def test_a_coat_round_a_glow_leaves_dark_what_is_hardly_lit() -> None:
    glow = np.array([0.0, 0.05, 0.08, 0.25, 1.0, 4.0], dtype=np.float32)
    field = fields.round_glow(glow)
    assert field[:3].tolist() == [0, 0, 0]
    assert 0 < field[3] < glow[3]
    assert field[4:].tolist() == [1, 1]
