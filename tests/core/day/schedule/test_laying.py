"""Small days worked by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from days import in_turn, spray
from haze.core.day.schedule.checking import faults
from haze.core.day.schedule.problem import (
    Calendar,
    Day,
    Lane,
    Task,
    cut,
    lags,
    require_feasible,
    timing,
)
from haze.core.errors import OutOfRangeError

OPEN = Calendar(14 * 60.0)


def test_lags_are_those_of_the_slowest_and_the_most_urgent_copy() -> None:
    # copies done at 2, 4, 6 and dry 10 later; the next takes 1 each, so the third copy decides
    first = spray("a", "k", 2.0, latest_min=14.0)
    after = spray("b", "m", 1.0)
    # 2+10-0 = 12, 4+10-1 = 13, 6+10-2 = 14; latest 2+14-0 = 16
    assert lags(first, after, 3, blown=(False, False)) == (14.0, 16.0)


def test_what_is_blown_dry_costs_hands_and_no_wait() -> None:
    first, after = spray("a", "k", 2.0, blow_min=0.5), spray("b", "m", 1.0)
    assert timing(first, 3, blown=True).ends == (2.5, 5.0, 7.5)
    # 2.5-0, 5-1, 7.5-2
    assert lags(first, after, 3, blown=(True, False))[0] == 5.5


def test_a_cup_is_filled_again_before_the_copy_it_would_not_serve() -> None:
    # 3 ml a copy, 7 ml in the cup: again before the third and the fifth
    found = timing(spray("a", "k", 2.0, ml_per_copy=3.0), 5, blown=False)
    assert found.pours == (5.0, 10.0)
    assert found.starts == (0.0, 2.0, 5.0, 7.0, 10.0)
    assert found.minutes == 12.0
    assert found.used_ml == pytest.approx(3.0)


def test_a_copy_that_drinks_more_than_a_cup_waits_for_each_refill() -> None:
    found = timing(spray("a", "k", 4.0, ml_per_copy=16.0), 1, blown=False)
    assert found.minutes == 4.0 + 2.0  # three cups, two of them poured on the way
    assert found.used_ml == pytest.approx(2.0)


def test_rounds_in_turn_begin_every_copy_early_and_end_it_late() -> None:
    found = timing(spray("a", "k", 3.0, turns=3), 2, blown=False)
    assert found.starts == (0.0, 1.0)
    assert found.ends == (5.0, 6.0)


def test_the_rinse_depends_on_what_was_in_the_cup() -> None:
    dark, light = spray("a", "dark", 1.0, light=10.0), spray("b", "light", 1.0, light=90.0)
    day = Day((Lane("p", (dark,)), Lane("q", (light,))), OPEN)
    there, back = in_turn(day, [0, 1])[1], in_turn(day, [1, 0])[1]
    assert there.setup_min == 4.0 + 1.5
    assert back.setup_min == 2.0 + 1.5
    sticky = replace(dark, sticky=True)
    cleaned = in_turn(Day((Lane("p", (sticky,)), Lane("q", (light,))), OPEN), [0, 1])[1]
    assert cleaned.setup_min == 8.0 + 1.5


def test_the_rest_of_a_rung_goes_into_the_next_cup_of_its_lane_only() -> None:
    rung = spray("a", "dark", 1.0, light=20.0, carry=True, dry_min=0.0)
    step = spray("b", "mid", 1.0, light=50.0)
    day = Day((Lane("p", (rung, step)), Lane("q", (step,))), OPEN)
    carried = next(e for e in in_turn(day, [0, 0, 1]) if (e.lane, e.step) == (0, 1))
    assert carried.setup_min == 0.5 + 1.5
    rinsed = next(e for e in in_turn(day, [0, 1, 0]) if e.lane == 1)
    assert rinsed.setup_min == 4.0 + 1.5


def test_one_cup_serves_plan_after_plan_until_it_is_empty_or_old() -> None:
    white = spray("w", "white", 2.0, ml_per_copy=3.0)
    day = Day(tuple(Lane(f"p{n}", (white,)) for n in range(3)), OPEN)
    first, second, third = in_turn(day, [0, 1, 2])
    assert (first.setup_min, second.setup_min, third.setup_min) == (1.5, 0.0, 1.0)
    assert second.pours == ()
    assert third.pours == (third.start_min,)
    old = replace(white, life_min=3.0)
    day = Day(tuple(Lane(f"p{n}", (old,)) for n in range(2)), OPEN)
    assert in_turn(day, [0, 1])[1].setup_min == 2.0 + 1.5


def test_work_does_not_pause_over_a_break_or_a_night() -> None:
    long = Task("l", "hand", hands_min_per_copy=50.0)
    day = Day(
        (Lane("p", (long,)), Lane("q", (long,)), Lane("r", (long,))),
        Calendar(840.0, 1020.0, ((930.0, 945.0),)),
    )
    assert [e.start_min for e in in_turn(day, [0, 1, 2])] == [0.0, 105.0, 1440.0]


def test_a_wash_is_put_on_only_when_it_can_still_be_lifted() -> None:
    wash = Task("on", "hand", hands_min_per_copy=10.0, dry_min=20.0, latest_min=40.0)
    lift = Task("off", "hand", hands_min_per_copy=10.0)
    other = Task("other", "hand", hands_min_per_copy=60.0)
    day = Day((Lane("o", (other,)), Lane("p", (wash, lift))), Calendar(840.0, 840.0 + 95))
    on = next(e for e in in_turn(day, [0, 1, 1]) if (e.lane, e.step) == (1, 0))
    assert on.start_min == 1440.0  # begun at 60 it could not be lifted before the bench closes


def test_rests_pass_without_hands_and_over_night() -> None:
    brush = Task("b", "hand", hands_min_per_copy=10.0)
    rest = Task("r", "rest", dry_min=600.0)
    day = Day((Lane("p", (brush, rest, brush)),), Calendar(840.0, 1260.0))
    first, resting, last = in_turn(day, [0, 0])
    assert (resting.start_min, resting.end_min) == (first.end_min, 610.0)
    assert last.start_min == 1440.0


def test_an_airbrush_that_was_cleaned_in_the_evening_needs_no_rinse() -> None:
    a, b = spray("a", "k", 30.0, sticky=True, dry_min=0.0), spray("b", "m", 30.0)
    evening = Calendar(840.0, 840.0 + 50, cleaned=True)
    assert in_turn(Day((Lane("p", (a, b)),), evening), [0, 0])[1].setup_min == 1.5
    kept = replace(evening, cleaned=False)
    assert in_turn(Day((Lane("p", (a, b)),), kept), [0, 0])[1].setup_min == 9.5


@pytest.mark.parametrize("copies", [1, 2, 6, 7, 40])
def test_lanes_are_cut_evenly_and_lose_no_copy(copies: int) -> None:
    lane = Lane("p", (spray("a", "k", 5.0),), copies)
    sizes = [one.copies for one in cut(lane)]
    assert sum(sizes) == copies
    assert max(sizes) - min(sizes) <= 1
    assert max(sizes) * 5.0 <= 1.5 * 18.0 or copies == 1


def test_what_cannot_be_is_refused_with_what_to_change() -> None:
    long = Task("Streaks", "hand", hands_min_per_copy=200.0)
    with pytest.raises(OutOfRangeError, match="Streaks on p takes"):
        require_feasible(Day((Lane("p", (long,)),), Calendar(840.0, 1000.0)))
    wash = Task("Wash", "hand", hands_min_per_copy=1.0, dry_min=20.0, latest_min=25.0)
    lift = Task("Lift", "hand", hands_min_per_copy=3.0)
    with pytest.raises(OutOfRangeError, match="fewer at once"):
        require_feasible(Day((Lane("p", (wash, lift), 6),), OPEN))
    require_feasible(Day((Lane("p", (wash, lift), 2),), OPEN))
    with pytest.raises(OutOfRangeError, match="stops before"):
        require_feasible(Day((Lane("p", (lift,)),), Calendar(840.0, 800.0)))


def test_days_laid_by_hand_pass_the_check() -> None:
    white = spray("w", "white", 2.0, ml_per_copy=3.0, blow_min=0.5)
    rest = Task("r", "rest", dry_min=30.0)
    day = Day((Lane("p", (white, rest, white), 3), Lane("q", (white, white), 2)), OPEN)
    assert faults(day, in_turn(day, [0, 1, 0, 1], blown=(0, 2))) == []


def test_a_later_step_of_a_lane_waits_for_its_own_earliest_time() -> None:
    first = Task("Wash", "hand", hands_min_per_copy=10.0)
    later = Task("Lift", "hand", hands_min_per_copy=10.0, not_before_min=100.0)
    entries = in_turn(Day((Lane("p", (first, later)),), OPEN), [0, 0])
    assert [e.start_min for e in entries] == [0.0, 100.0]
