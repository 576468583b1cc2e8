"""Parts, and what leaving one off gains."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

import shapes
from haze.core.directions import fibonacci_directions
from haze.core.light.parts import (
    CutPlane,
    PartShape,
    gains,
    members_together,
    part_of_vertices,
    unreached,
)
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
        PartShape(stem, (CutPlane((0.0, 0.0, 1.0), 4.0, above),), "attached")
        for above in (False, True)
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
