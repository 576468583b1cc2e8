"""Working out angles for a plan."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import CancelledError, HazeError
from haze.core.onpiece.wanted import nearness
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight, SkyLight
from haze.service.light.angles import AnglesBody, work_out
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.whole import worked_out
from helpers import going


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def lit_from_the_side(plan: Plan) -> Plan:
    lit = plan.model_copy(deep=True)
    lit.lights = [
        KeyLight(azimuth_deg=-70, elevation_deg=15, softness_deg=14),
        SkyLight(strength=0.2),
    ]
    return lit


def with_stations(plan: Plan, found) -> Plan:  # type: ignore[no-untyped-def]
    better = plan.model_copy(deep=True)
    for one in found.coats:
        next(c for c in better.coats if c.id == one.coat).stations = one.stations
    return Plan.model_validate(better.model_dump())


def near(plan: Plan, on: OnPiece):  # type: ignore[no-untyped-def]
    off, weight = on.off_plan(plan), on.place_weights(plan)
    return nearness(off, weight=weight, area=on.piece.mesh.vertex_area)


def test_all_light_coats_together_come_near_to_the_light(plan: Plan, on: OnPiece) -> None:
    lit = lit_from_the_side(plan)
    found = work_out(AnglesBody(plan=lit, stations=3), on, going)
    assert [c.coat for c in found.coats] == ["mid", "light"]
    for one in found.coats:
        assert 1 <= len(one.stations) <= 3
        assert one.words.split()[1] in ("round", "rounds")
    better = with_stations(lit, found)
    before, after = near(lit, on), near(better, on)
    assert after.mean < 0.5 * before.mean
    assert after.show_share > 0.9
    # what it says is what the whole piece shows, up to the samples and the fresh rays
    assert found.before is not None
    assert found.after is not None
    assert found.after.show_share == pytest.approx(after.show_share, abs=0.08)
    assert found.before.show_share == pytest.approx(before.show_share, abs=0.08)
    assert f"{found.after.show_share:.0%} of the front" in found.words
    assert found.unsteady_low is not None
    assert found.unsteady_high is not None
    assert 0 <= found.unsteady_low <= found.unsteady_high <= 1


def test_working_it_out_again_never_comes_less_near(plan: Plan, on: OnPiece) -> None:
    lit = lit_from_the_side(plan)
    once = with_stations(lit, work_out(AnglesBody(plan=lit), on, going))
    again = work_out(AnglesBody(plan=once), on, going)
    assert again.before is not None
    assert again.after is not None
    rounds = [sum(s.passes for c in p.sprayed[1:] for s in c.stations) for p in (once,)]
    found = sum(s.passes for c in again.coats for s in c.stations)
    assert again.after.mean <= again.before.mean + 0.3 or found < rounds[0]


def test_one_coat_alone_leaves_the_others(plan: Plan, on: OnPiece) -> None:
    lit = lit_from_the_side(plan)
    found = work_out(AnglesBody(plan=lit, coats=["light"]), on, going)
    assert [c.coat for c in found.coats] == ["light"]
    assert near(with_stations(lit, found), on).mean < near(lit, on).mean
    both = work_out(AnglesBody(plan=lit), on, going)
    assert both.after is not None
    assert found.after is not None
    assert both.after.show_share >= found.after.show_share - 0.01


def test_no_light_is_sprayed_from_far_below_it(plan: Plan, on: OnPiece) -> None:
    found = work_out(AnglesBody(plan=lit_from_the_side(plan)), on, going)
    assert all(s.elevation_deg >= -5 for one in found.coats for s in one.stations)


def test_off_plan_says_how_near_and_why(plan: Plan, on: OnPiece) -> None:
    lit = lit_from_the_side(plan)
    told = worked_out(lit, on).off_plan
    assert told is not None
    assert told.coats == ["mid", "light"]
    assert told.dark_end < told.light_end
    assert told.words.startswith("Within 8 L* of the light you drew on ")
    assert told.too_dark + told.too_light == pytest.approx(1 - told.share, abs=0.1)
    bare = lit.model_copy(update={"coats": lit.coats[:1]})
    assert worked_out(bare, on).off_plan is None


def test_moving_a_light_station_does_not_move_the_wish(plan: Plan, on: OnPiece) -> None:
    wish = on.wish(plan)
    moved = plan.model_copy(deep=True)
    coat = moved.sprayed[1]
    coat.stations = [s.model_copy(update={"azimuth_deg": 10.0}) for s in coat.stations]
    assert on.wish(moved) is wish
    lit = lit_from_the_side(plan)
    assert not np.array_equal(on.wish(lit).lightness, wish.lightness)


def test_angles_cover_a_share_and_refuse_what_cannot_be(plan: Plan, on: OnPiece) -> None:
    found = work_out(AnglesBody(plan=plan, coats=["light"], cover_share=0.2), on, going)
    assert found.coats[0].covered_share == pytest.approx(0.2, abs=0.06)
    with pytest.raises(HazeError, match="not in the plan"):
        work_out(AnglesBody(plan=plan, coats=["gold"]), on, going)
    bare = plan.model_copy(update={"coats": plan.coats[:1]})
    with pytest.raises(HazeError, match="no light coat"):
        work_out(AnglesBody(plan=bare), on, going)
    with pytest.raises(CancelledError):
        work_out(AnglesBody(plan=plan), on, lambda *_: False)
