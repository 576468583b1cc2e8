"""Parts as one click does them."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import HazeError
from haze.core.plan.document import Plan
from haze.core.plan.piece import BlockedSector
from haze.service.bench import Bench
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.parts import SplitBody, advice, part_views, split
from haze.service.plan.whole import worked_out
from helpers import going


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_advice_names_the_part_and_the_surface_it_frees(plan: Plan, on: OnPiece) -> None:
    found = advice(plan, on, going).advice
    assert found == sorted(found, key=lambda a: -a.gain_cm2)
    for one in found:
        assert one.gain_cm2 == pytest.approx(one.on_part_cm2 + one.on_rest_cm2)
        assert one.words.startswith(f"Leave {one.name} off: ")


def test_blocked_sectors_take_reach_away_and_are_named_at_stations(plan: Plan, on: OnPiece) -> None:
    free = plan.model_copy(deep=True)
    free.piece.blocked = []
    benched = plan.model_copy(deep=True)
    benched.piece.blocked = [BlockedSector(id="bench", name="Bench", half_angle_deg=88)]
    reach = [worked_out(p, on).reachable_share for p in (free, plan, benched)]
    assert reach[0] >= reach[1] > reach[2]
    told = worked_out(benched, on).coats[0].stations
    assert {s.blocked_by for s in told} == {None, "Bench"}


def test_parts_split_by_a_level_cut_and_by_bodies(plan: Plan, on: OnPiece, club: Bench) -> None:
    post = part_views(plan, on)[1].part
    found = split(SplitBody(plan=plan, part=post.id, way="level", at=0.25), on).parts
    assert [p.name for p in found][1:3] == ["Part 2, upper", "Part 2, lower"]
    cut = plan.model_copy(deep=True)
    cut.piece.parts = found
    club.cache.make(cut.piece, going)
    piece = club.on(cut).piece
    z = piece.mesh.to_file(piece.mesh.vertices.astype(float))[:, 2]
    level = 1.5 + 0.25 * 30
    post_now = np.isin(piece.part, (1, 2))
    assert np.array_equal(piece.part[post_now] == 1, z[post_now] > level)
    assert 0 < (piece.part == 1).sum() < post_now.sum()
    with pytest.raises(HazeError, match="is one body"):
        split(SplitBody(plan=plan, part=post.id, way="bodies"), on)
    with pytest.raises(HazeError, match="its parts are"):
        split(SplitBody(plan=plan, part="hat", way="level"), on)
    views = [v.part for v in part_views(plan, on)]
    joined = plan.model_copy(deep=True)
    both = views[2].model_copy(update={"bodies": [*views[2].bodies, *views[3].bodies]})
    joined.piece.parts = [views[0], views[1], both]
    club.cache.make(joined.piece, going)
    apart = split(SplitBody(plan=joined, part=both.id, way="bodies"), club.on(joined)).parts
    assert len(apart) == 4


def test_left_and_right_differ_when_one_side_was_forgotten(plan: Plan, on: OnPiece) -> None:
    pairs = on.pairs
    assert len(pairs) == 1
    even = worked_out(plan, on).coats[0]
    assert even.layer.uneven == []
    forgot = plan.model_copy(deep=True)
    forgot.coats[0].stations = [
        s.model_copy(update={"azimuth_deg": 90.0, "elevation_deg": 0.0, "spread_deg": 5.0})
        for s in forgot.coats[0].stations[:1]
    ]
    told = worked_out(forgot, on).coats[0].layer.uneven
    assert len(told) == 1
    assert "Left and right differ" in told[0].words
    by_part = {p.part: p for p in worked_out(forgot, on).coats[0].layer.parts}
    assert by_part[told[0].less].bare_cm2 > by_part[told[0].more].bare_cm2
