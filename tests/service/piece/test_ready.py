"""Ready pieces."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.parts import part_views
from haze.service.piece.ready import geometry_bytes
from helpers import going


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_geometry_travels_whole(on: OnPiece) -> None:
    data = geometry_bytes(on.piece)
    n, m = np.frombuffer(data, "<u4", 2)
    mesh = on.piece.mesh
    assert (n, m) == (len(mesh.vertices), len(mesh.faces))
    assert np.frombuffer(data, "<f4", n * 3, 8).reshape(-1, 3) == pytest.approx(mesh.vertices)
    corners = np.frombuffer(data, "<u4", m * 3, len(data) - m * 12).reshape(-1, 3)
    assert np.array_equal(corners, mesh.faces)


def test_bodies_become_parts_that_can_be_named(club: Bench, plan: Plan, on: OnPiece) -> None:
    views = part_views(plan, on)
    assert [v.part.name for v in views] == ["Part 1", "Part 2", "Part 3", "Part 4"]
    assert [v.part.state for v in views] == ["attached"] * 4
    # a base of 40 × 30 × 4 mm
    assert views[0].area_cm2 == pytest.approx(29.6, rel=0.03)
    named = plan.model_copy(deep=True)
    named.piece.parts = [v.part.model_copy(update={"name": f"N{i}"}) for i, v in enumerate(views)]
    club.cache.make(named.piece, going)
    again = club.on(named)
    assert np.array_equal(again.piece.part, on.piece.part)
    assert np.array_equal(again.piece.table, on.piece.table)


def test_holding_a_part_off_frees_what_it_hid(club: Bench, plan: Plan, on: OnPiece) -> None:
    off = plan.model_copy(deep=True)
    off.piece.parts = [v.part for v in part_views(plan, on)]
    off.piece.parts[1].state = "held_off"
    club.cache.make(off.piece, going)
    alone = club.on(off)
    assert len(alone.piece.spray_groups) == 2
    under = (alone.piece.part == 0) & (on.piece.table.max(axis=0) == 0)
    assert under.any()
    assert alone.piece.table[:, under].max() > 200
    # what will be hidden when all is together stays out of every sum
    assert not alone.piece.counted[under].any()
    tacked = off.model_copy(deep=True)
    tacked.piece.parts[1].state = "tacked"
    club.cache.make(tacked.piece, going)
    shadow = club.on(tacked).piece
    assert np.array_equal(shadow.table, alone.piece.table)
    assert np.array_equal(shadow.light_table, on.piece.table)
