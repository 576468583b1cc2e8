"""A day in sum: hands, waits, sittings and nights apart."""

from __future__ import annotations

import pytest

from haze.core.day.runsheet import Step
from haze.core.day.totals import (
    NIGHT_FROM_S,
    DayTotals,
    day_totals,
    long_words,
    range_words,
    totals_words,
)


def test_hands_waits_and_nights_are_apart() -> None:
    steps = [
        Step("a", "spray", "", 0.0, 600.0, idle_s=120.0),
        Step("a", "dry", "", 600.0, 900.0, beside=True),
        Step("a", "rinse", "", 600.0, 120.0),
        Step("b", "rest", "", 1500.0, NIGHT_FROM_S, beside=True),
        Step("b", "hand", "", 1500.0 + NIGHT_FROM_S, 300.0),
    ]
    sums = day_totals(steps)
    assert sums.hands_s == pytest.approx(480 + 120 + 300)
    # idle between rounds, and what drying takes longer than rinsing
    assert sums.waits_s == pytest.approx(120 + 780)
    assert sums.elapsed_s == pytest.approx(1800 + NIGHT_FROM_S)
    assert (sums.sittings, sums.nights) == (2, 1)
    assert sums.hands_s + sums.waits_s + NIGHT_FROM_S == pytest.approx(sums.elapsed_s)


def test_a_wait_just_short_of_a_night_is_a_wait() -> None:
    steps = [Step("b", "rest", "", 0.0, NIGHT_FROM_S - 1, beside=True)]
    assert day_totals(steps) == DayTotals(0.0, NIGHT_FROM_S - 1, NIGHT_FROM_S - 1, 1)


def test_an_empty_day_has_nothing() -> None:
    assert day_totals([]) == DayTotals(0.0, 0.0, 0.0, 0)
    assert totals_words(day_totals([])) == "Hands 0 min, waits 0 min, in one sitting."


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (20, "1 min"),
        (440, "7 min"),
        (760, "15 min"),
        (3600, "1 h"),
        (8400, "2 h 15"),
        (7300, "2 h"),
    ],
)
def test_long_times_are_rounded_as_they_are_said(seconds: float, words: str) -> None:
    assert long_words(seconds) == words


def test_the_sums_in_words() -> None:
    assert (
        totals_words(DayTotals(8400, 4200, 200_000, 3))
        == "Hands 1 h 50 to 3 h, waits 1 h 10; three sittings, two nights between."
    )
    assert range_words(460, 600) == "8 to 10 min"
    assert range_words(3000, 4200) == "50 min to 1 h 10"
    assert range_words(7300, 7400) == "2 h"
    assert totals_words(DayTotals(600, 300, 9e4, 2)).endswith("two sittings, one night between.")
    assert totals_words(DayTotals(600, 300, 900, 1)).endswith(", in one sitting.")
    assert "12 sittings, 11 nights" in totals_words(DayTotals(1, 1, 1, 12))
