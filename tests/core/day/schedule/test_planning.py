"""Laid days against their bound, the usual ways, and what an exhaustive search finds."""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from days import drawn_day, quickly, spray
from haze.core.day.schedule.annealing import Search
from haze.core.day.schedule.bound import bound_min, meets
from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.exact import polish
from haze.core.day.schedule.laying import Choice, lay
from haze.core.day.schedule.planning import plan_day, require_in_time, reversed_neighbours
from haze.core.day.schedule.problem import Calendar, Day, Lane, Task, single_copies
from haze.core.day.schedule.reference import coat_by_coat_min, one_by_one_min
from haze.core.day.schedule.tables import Tables
from haze.core.errors import NoOrderError

OPEN = Calendar(14 * 60.0)


def _best_of_all(day: Day) -> float:
    """The earliest finish of every order, blown or not, of a very small day."""
    tables = Tables(day)
    lanes = [lane for lane, tasks in enumerate(tables.of_lane) for _ in tasks]
    count = len(tables.active)
    best = float("inf")
    for order in set(permutations(lanes)):
        for dried in range(2**count):
            blown = [bool(dried >> t & 1) for t in range(count)]
            sums = lay(tables, Choice(list(order), blown, [0] * count))
            if sums.late < 1e-6:
                best = min(best, sums.finish)
    return best


@pytest.mark.parametrize("seed", range(6))
def test_a_very_small_day_is_laid_as_well_as_any_order(seed: int) -> None:
    day = drawn_day(seed, plans=2, copies=4, steps=(2, 2), calendar=OPEN)
    best = _best_of_all(day)
    found = plan_day(day, seed=1, effort=Effort.of_orders(1500))
    # the second wish may give two minutes for fewer changes
    assert found.finish_min <= best + 2.0 + 1e-6
    assert found.bound_min <= best + 1e-6


@given(seed=st.integers(0, 400), airbrushes=st.integers(1, 2))
@settings(max_examples=25, deadline=None)
def test_no_order_beats_the_bound(seed: int, airbrushes: int) -> None:
    day = drawn_day(seed, plans=3, copies=5, steps=(2, 4), airbrushes=airbrushes)
    tables = Tables(day)
    found = Search(tables, seed=seed, effort=Effort.of_orders(60)).run()
    sums = lay(tables, found)
    if sums.late < 1e-6:
        assert bound_min(tables) <= sums.finish + 0.5


def test_the_bound_is_the_work_where_nothing_waits_and_nothing_is_shared() -> None:
    day = Day(tuple(Lane(f"p{n}", (Task("h", "hand", hands_min_per_copy=10.0),)) for n in range(5)))
    assert bound_min(Tables(day)) == pytest.approx(50.0, abs=0.3)
    two = Day(
        (
            Lane(
                "p",
                (
                    Task("h", "hand", hands_min_per_copy=10.0, dry_min=100.0),
                    Task("i", "hand", hands_min_per_copy=10.0),
                ),
            ),
        )
    )
    assert bound_min(Tables(two)) == pytest.approx(120.0, abs=0.3)


def test_the_bound_counts_cups_by_what_follows_what() -> None:
    # three cups: each needs 1.5 to pour; dark to mid to light costs 4 and 4, light to dark 2 and 2
    cups = [spray("c", f"k{light}", 1.0, light=light, dry_min=0.0) for light in (10.0, 50.0, 90.0)]
    day = Day(tuple(Lane(f"p{n}", (cup,)) for n, cup in enumerate(cups)), OPEN)
    assert bound_min(Tables(day)) == pytest.approx(3 * 2.5 + 4.0, abs=0.3)


def test_a_machine_that_may_drop_work_meets_what_earliest_deadline_meets() -> None:
    tables = Tables(Day((Lane("p", (Task("h", "hand", hands_min_per_copy=1.0),)),), OPEN))
    assert meets([(0.0, 10.0, 5.0), (1.0, 4.0, 2.0)], tables)
    assert not meets([(0.0, 6.0, 5.0), (1.0, 4.0, 2.0)], tables)


def test_the_same_seed_and_orders_give_the_same_day() -> None:
    day = drawn_day(3)
    assert quickly(day, seed=5).entries == quickly(day, seed=5).entries


def test_more_effort_never_ends_later() -> None:
    day = drawn_day(11, plans=5, copies=12)
    quick = Search(Tables(day), seed=1, effort=Effort.of_orders(30))
    first = lay(quick.tables, quick.quick())
    assert quickly(day, orders=2500).finish_min <= first.finish + 2.0


@pytest.mark.parametrize("seed", range(4))
def test_a_laid_day_is_no_longer_than_the_usual_ways(seed: int) -> None:
    day = drawn_day(seed, calendar=OPEN)
    found = quickly(day, orders=1200)
    by_coat, by_copy = coat_by_coat_min(day), one_by_one_min(day)
    if by_coat is not None:
        assert found.finish_min <= by_coat + 1e-6
    if by_copy is not None and by_coat is not None:
        assert by_coat <= by_copy + 1e-6


def test_one_by_one_is_every_copy_with_all_its_waits() -> None:
    day = Day((Lane("p", (spray("a", "k", 2.0), spray("b", "m", 1.0)), 3),), OPEN)
    # each copy: pour 1.5, 2 min, 10 dry (rinse and pour meanwhile), 1; between copies 2 + 1.5
    assert one_by_one_min(day) == pytest.approx(1.5 + 3 * 13.0 + 2 * 3.5)
    assert len(single_copies(day).lanes) == 3


def test_two_airbrushes_are_never_worse_than_one() -> None:
    day = drawn_day(5)
    assert quickly(replace(day, airbrushes=2), orders=2500).finish_min <= (
        quickly(day, orders=2500).finish_min + 4.0  # the tolerance of the second wish, twice
    )


def test_the_exact_solver_betters_a_poor_order_and_keeps_every_rule() -> None:
    day = drawn_day(2, plans=3, copies=4, steps=(2, 3), calendar=OPEN)
    tables = Tables(day)
    poor = Search(tables, seed=1, effort=Effort.of_orders(4)).quick()
    lanes = [lane for lane, tasks in enumerate(tables.of_lane) for _ in tasks]
    worst = Choice(lanes, [False] * len(poor.blown), [0] * len(poor.airbrush))
    better = polish(tables, worst, seed=1, effort=Effort(lambda _: 0.0, exact_work=3.0))
    before, after = lay(tables, worst), lay(tables, better)
    assert after.late < 1e-6
    assert after.finish < before.finish


def test_a_search_that_is_stopped_gives_its_best_so_far() -> None:
    day = drawn_day(4)
    asked = iter([False] * 20 + [True] * 10_000)
    found = plan_day(day, seed=1, effort=Effort(lambda _: 0.0, stopped=lambda: next(asked)))
    assert found.entries
    assert found.tried < 2000


def test_a_step_left_for_later_and_one_that_is_pinned_are_where_they_were_put() -> None:
    day = drawn_day(6)
    lane = day.lanes[0]
    task = replace(lane.tasks[0], not_before_min=1440.0)
    moved = replace(day, lanes=(replace(lane, tasks=(task, *lane.tasks[1:])), *day.lanes[1:]))
    first = next(e for e in quickly(moved).entries if (e.lane, e.step) == (0, 0))
    assert first.start_min >= 1440.0


def test_what_no_order_keeps_is_refused_by_name() -> None:
    pinned = Task("Glow", "hand", hands_min_per_copy=30.0, not_after_min=5.0)
    day = Day((Lane("p", (pinned,)), Lane("q", (pinned,))), OPEN)
    found = quickly(day, orders=100)
    with pytest.raises(NoOrderError, match="Glow on"):
        require_in_time(day, found)


def test_neighbours_that_were_turned_round_are_counted() -> None:
    entries = quickly(drawn_day(1)).entries
    assert reversed_neighbours(entries, entries) == 0
    assert reversed_neighbours(entries, entries[::-1]) == len(entries) - 1
