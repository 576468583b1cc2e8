"""Calendars and cups worked by hand."""

from __future__ import annotations

import pytest

from days import spray
from haze.core.day.schedule.problem import CUP_ML, REFILL_MIN, Calendar, timing

NIGHT = 24 * 60.0


def test_a_day_begins_at_two_and_without_a_stop_goes_through_the_night() -> None:
    assert Calendar().start_min == 14 * 60
    assert Calendar().windows(2) == [(0.0, 2 * NIGHT)]


def test_breaks_cut_the_working_time_of_every_day() -> None:
    evening = Calendar(14 * 60.0, 21 * 60.0, ((16 * 60.0, 16 * 60.0 + 15),))
    assert evening.windows(2) == [
        (0.0, 120.0),
        (135.0, 420.0),
        (NIGHT, NIGHT + 120.0),
        (NIGHT + 135.0, NIGHT + 420.0),
    ]


def test_breaks_over_one_another_count_once_and_one_at_the_end_ends_the_day() -> None:
    breaks = ((15 * 60.0, 15 * 60.0 + 30), (15 * 60.0 + 20, 16 * 60.0), (17 * 60.0, 19 * 60.0))
    assert Calendar(14 * 60.0, 18 * 60.0, breaks).windows(1) == [(0.0, 60.0), (120.0, 180.0)]


@pytest.mark.parametrize(("ml", "pours"), [(CUP_ML / 2, 0), (CUP_ML / 2 + 0.01, 1), (CUP_ML, 1)])
def test_a_cup_that_is_just_used_up_is_not_poured_again(ml: float, pours: int) -> None:
    found = timing(spray("a", "k", 2.0, ml_per_copy=ml), 2, blown=False)
    assert len(found.pours) == pours
    assert found.minutes == 2 * 2.0 + pours * REFILL_MIN
    # the second copy waits for the cup
    assert found.starts == (0.0, 2.0 + pours * REFILL_MIN)


def test_a_copy_that_takes_more_than_a_cup_is_poured_within() -> None:
    found = timing(spray("a", "k", 10.0, ml_per_copy=2.5 * CUP_ML), 1, blown=False)
    # two and a half cups: the first is full, two are poured
    assert found.minutes == 10.0 + 2 * REFILL_MIN


def test_a_cup_past_its_life_is_poured_again() -> None:
    found = timing(spray("a", "k", 20.0, ml_per_copy=0.1, life_min=45.0), 3, blown=False)
    # 20, 40, and the third would end at 60
    assert found.starts == (0.0, 20.0, 40.0 + REFILL_MIN)
    assert found.pours == (40.0 + REFILL_MIN,)
