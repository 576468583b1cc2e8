"""The rest of a day from now: nothing done is moved, few neighbours are, what is lost is proven."""

from __future__ import annotations

from dataclasses import replace

import pytest

from days import drawn_day, quickly, spray
from haze.core.day.schedule.again import begun_at, kept_order, plan_again, what_is_missed
from haze.core.day.schedule.checking import faults
from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.planning import reversed_neighbours
from haze.core.day.schedule.problem import Calendar, Day, Entry, InCup, Lane, Task
from haze.core.day.schedule.tables import Tables
from haze.core.errors import OutOfRangeError

OPEN = Calendar(14 * 60.0)


def _done(day: Day, entries: tuple[Entry, ...], count: int) -> list[Entry]:
    """The first steps of the hands, and the rests that lay between."""
    work = [e for e in entries if day.lanes[e.lane].tasks[e.step].kind != "rest"]
    end = work[count - 1].end_min
    last = {
        lane: max((e.step for e in work[:count] if e.lane == lane), default=-1)
        for lane in range(len(day.lanes))
    }
    return [e for e in entries if e.step <= last[e.lane] and e.start_min <= end]


@pytest.mark.parametrize("seed", range(6))
def test_seventeen_minutes_late(seed: int) -> None:
    day = drawn_day(seed, calendar=OPEN)
    before = quickly(day)
    done = _done(day, before.entries, 6)
    now = max(e.end_min for e in done if day.lanes[e.lane].tasks[e.step].kind != "rest") + 17
    found, missed = plan_again(
        day, before=before.entries, done=done, now_min=now, seed=1, effort=Effort.of_orders(400)
    )
    laid = {(e.lane, e.step) for e in found.entries}
    assert laid.isdisjoint({(e.lane, e.step) for e in done})
    assert len(laid) + len(done) == sum(len(lane.tasks) for lane in day.lanes)
    work = [e for e in found.entries if day.lanes[e.lane].tasks[e.step].kind != "rest"]
    assert min(e.start_min - e.setup_min for e in work) >= now - 1e-6
    if not missed and not found.late:
        assert faults(day, [*done, *found.entries]) == []
    assert reversed_neighbours(before.entries, found.entries) <= 0.3 * len(laid)


def test_the_old_order_is_kept_at_once_and_a_search_only_betters_it() -> None:
    day = drawn_day(2, calendar=OPEN)
    before = quickly(day)
    done = _done(day, before.entries, 4)
    now = max(e.end_min for e in done) + 40
    kept = kept_order(day, before=before.entries, done=done, now_min=now)
    found, _ = plan_again(
        day, before=before.entries, done=done, now_min=now, seed=1, effort=Effort.of_orders(600)
    )
    assert reversed_neighbours(before.entries, kept.entries) == 0
    assert found.finish_min <= kept.finish_min + 1e-6 or kept.late


def _washing() -> tuple[Day, list[Entry]]:
    wash = Task("Wash", "hand", hands_min_per_copy=10.0, dry_min=20.0, latest_min=40.0)
    lift = Task("Lift", "hand", hands_min_per_copy=10.0)
    day = Day((Lane("p", (wash, lift)), Lane("q", (wash, lift))), OPEN)
    return day, [Entry(0, 0, None, 0.0, 10.0), Entry(1, 0, None, 10.0, 20.0)]


def test_what_is_too_late_is_proven_and_what_can_be_saved_is() -> None:
    day, done = _washing()
    # lift by 50 and by 60; each takes 10, so at 45 both are kept, at 52 only the second
    assert what_is_missed(Tables(replace(day, begun=begun_at(day, done, 45.0)))) == []
    missed = what_is_missed(Tables(replace(day, begun=begun_at(day, done, 52.0))))
    assert [(m.lane, m.step) for m in missed] == [(0, 1)]
    assert missed[0].minutes == pytest.approx(2.0)


def test_a_step_that_took_longer_counts_from_its_real_end() -> None:
    day, _ = _washing()
    begun = begun_at(day, [Entry(0, 0, None, 0.0, 25.0)], 25.0)
    assert begun.ready[0] == pytest.approx(45.0)
    assert begun.due[0] == pytest.approx(65.0)


def test_a_step_before_the_one_it_needs_is_refused() -> None:
    day, _ = _washing()
    with pytest.raises(OutOfRangeError, match="before the one it needs"):
        begun_at(day, [Entry(0, 1, None, 0.0, 10.0)], 20.0)


def test_a_lane_and_a_day_that_are_over_leave_nothing_to_lay() -> None:
    day, done = _washing()
    lifted = [*done, Entry(0, 1, None, 35.0, 45.0)]
    kept = kept_order(day, before=lifted, done=lifted, now_min=45.0)
    assert [(e.lane, e.step) for e in kept.entries] == [(1, 1)]
    whole = [*lifted, Entry(1, 1, None, 45.0, 55.0)]
    found, missed = plan_again(
        day, before=whole, done=whole, now_min=55.0, seed=1, effort=Effort.of_orders(10)
    )
    assert (found.entries, missed) == ((), [])


def test_the_cup_in_the_airbrush_goes_on() -> None:
    day = drawn_day(3, calendar=OPEN)
    before = quickly(day)
    first = next(e for e in before.entries if e.airbrush == 1)
    done = [e for e in before.entries if e.start_min <= first.start_min]
    begun = begun_at(day, done, first.end_min)
    held = begun.cups[0]
    assert held is not None
    assert (held.lane, held.step) == (first.lane, first.step)


def test_a_cup_that_goes_on_to_another_lane_was_poured_when_it_was_poured() -> None:
    one = spray("a", "k", 5.0, ml_per_copy=2.0)
    day = Day((Lane("p", (one,)), Lane("q", (one,))), OPEN)
    done = [Entry(0, 0, 1, 3.0, 8.0, pours=(3.0,)), Entry(1, 0, 1, 8.0, 13.0)]
    held = begun_at(day, done, 13.0).cups[0]
    assert held == InCup(1, 0, 4.0, 3.0)  # 2 ml for each; poured at 3, not at 8
