"""A day in sum: hands, waits, sittings and nights apart."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.day.alike import Alike
from haze.core.day.cleaning import RINSE_S
from haze.core.day.runsheet import Step
from haze.core.day.totals import (
    NIGHT_FROM_S,
    DayTotals,
    day_totals,
    long_words,
    range_words,
    totals_words,
)

SURE = Alike(np.ones(3), np.full(3, 900.0))


def sums(hands: float, waits: float, elapsed: float, sittings: int) -> DayTotals:
    return DayTotals(hands, hands / 1.3, hands * 1.3, waits, waits, waits, elapsed, sittings)


def test_hands_waits_and_nights_are_apart() -> None:
    steps = [
        Step("a", "spray", "", 0.0, 600.0, idle_s=120.0),
        Step("a", "dry", "", 600.0, 900.0, beside=True),
        Step("a", "rinse", "", 600.0, 120.0),
        Step("b", "rest", "", 1500.0, NIGHT_FROM_S, beside=True),
        Step("b", "hand", "", 1500.0 + NIGHT_FROM_S, 300.0),
    ]
    day = day_totals(steps, {"a": SURE})
    assert day.hands_s == pytest.approx(480 + 120 + 300)
    # idle between rounds, and what drying takes longer than rinsing
    assert day.waits_s == pytest.approx(120 + 780)
    assert day.elapsed_s == pytest.approx(1800 + NIGHT_FROM_S)
    assert (day.sittings, day.nights) == (2, 1)
    assert day.hands_s + day.waits_s + NIGHT_FROM_S == pytest.approx(day.elapsed_s)


def test_the_band_of_hands_holds_the_airbrush_and_the_hand() -> None:
    steps = [
        Step("a", "pour", "", 0.0, 60.0),
        Step("a", "spray", "", 60.0, 240.0, idle_s=40.0),
        Step("a", "dry", "", 300.0, 900.0, beside=True),
        Step("a", "rinse", "", 300.0, RINSE_S),
    ]
    # nine of ten need twice the rounds at most, one of ten half of them
    draws = np.linspace(0.0, 1.0, 11)
    rounds = np.interp(draws, [0.0, 0.1, 0.5, 0.9, 1.0], [0.4, 0.5, 1.0, 2.0, 3.0])
    day = day_totals(steps, {"a": Alike(rounds, np.full(11, 900.0))})
    hands = 60 + 200 + RINSE_S
    assert day.hands_s == pytest.approx(hands)
    more, less = np.log((hands + 200) / hands), np.log((hands - 100) / hands)
    assert np.log(day.hands_high_s / hands) == pytest.approx(np.hypot(np.log(1.3), more))
    assert np.log(day.hands_low_s / hands) == pytest.approx(-np.hypot(np.log(1.3), less))
    waits = 40 + 900 - RINSE_S
    assert day.waits_s == pytest.approx(waits)
    assert day.waits_high_s == pytest.approx(waits + 40)
    assert day.waits_low_s == pytest.approx(waits - 20)


def test_drying_that_the_rinse_hides_is_no_wait() -> None:
    steps = [
        Step("a", "dry", "", 0.0, 30.0, beside=True),
        Step("a", "rinse", "", 0.0, RINSE_S),
    ]
    alike = {"a": Alike(np.ones(5), np.array([10.0, 20.0, 30.0, RINSE_S, RINSE_S]))}
    day = day_totals(steps, alike)
    assert (day.waits_low_s, day.waits_s, day.waits_high_s) == (0.0, 0.0, 0.0)
    # nor does it take anything off the waits there are
    rest = Step("b", "rest", "", RINSE_S, 300.0, beside=True)
    day = day_totals([*steps, rest], alike)
    assert (day.waits_low_s, day.waits_s, day.waits_high_s) == (300.0, 300.0, 300.0)


def test_a_wait_just_short_of_a_night_is_a_wait() -> None:
    steps = [Step("b", "rest", "", 0.0, NIGHT_FROM_S - 1, beside=True)]
    assert day_totals(steps, {}) == sums(0.0, NIGHT_FROM_S - 1, NIGHT_FROM_S - 1, 1)


def test_an_empty_day_has_nothing() -> None:
    assert day_totals([], {}) == sums(0.0, 0.0, 0.0, 0)
    assert totals_words(day_totals([], {})) == "Hands 0 min, waits 0 min, in one sitting."


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
        totals_words(sums(8400, 4200, 200_000, 3))
        == "Hands 1 h 50 to 3 h, waits 1 h 10; three sittings, two nights between."
    )
    assert range_words(460, 600) == "8 to 10 min"
    assert range_words(3000, 4200) == "50 min to 1 h 10"
    assert range_words(7300, 7400) == "2 h"
    assert totals_words(sums(600, 300, 9e4, 2)).endswith("two sittings, one night between.")
    assert totals_words(sums(600, 300, 900, 1)).endswith(", in one sitting.")
    assert "12 sittings, 11 nights" in totals_words(sums(1, 1, 1, 12))
