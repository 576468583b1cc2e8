"""How to hold the piece, in words."""

from __future__ import annotations

import pytest

from haze.core.day.holding import holding_words, rounds_words, side_words
from haze.core.plan.coat import Aim, StationAt
from helpers import coat


@pytest.mark.parametrize(
    ("azimuth", "elevation", "words"),
    [
        (0, 0, "hold the front toward you, keep it upright"),
        (40, 45, "turn the front 40° to your right, tip the head 45° toward the airbrush"),
        (320, -20, "turn the front 40° to your left, tip the head 20° away from the airbrush"),
        (180, 0, "turn the front away from you, keep it upright"),
    ],
)
def test_how_to_hold_it(azimuth: float, elevation: float, words: str) -> None:
    assert holding_words(azimuth, elevation) == words


def test_from_straight_above_the_turn_no_longer_matters() -> None:
    assert holding_words(10, 90) == holding_words(200, 90)
    assert "90° toward the airbrush" in holding_words(0, 90)


@pytest.mark.parametrize(
    ("azimuth", "elevation", "words"),
    [
        (0, 0, "from the front, level"),
        (10, 30, "from the front, 30° up"),
        (45, 45, "from the left shoulder, 45° up"),
        (-45, 45, "from the right shoulder, 45° up"),
        (45, -20, "from the front left, 20° down"),
        (90, 20, "from the left, 20° up"),
        (270, 2, "from the right, level"),
        (135, 50, "from the back left, 50° up"),
        (180, -30, "from the back, 30° down"),
        (33, 85, "from overhead"),
        (33, -80, "from below"),
    ],
)
def test_sides_have_the_names_painters_give_them(
    azimuth: float, elevation: float, words: str
) -> None:
    assert side_words(azimuth, elevation) == words


def test_rounds_and_sides_are_told_together() -> None:
    c = coat()
    c.stations = [
        StationAt(id=f"s{n}", azimuth_deg=45 * n, elevation_deg=30, passes=2) for n in range(8)
    ]
    assert rounds_words(c) == "2 rounds from each of 8 sides"
    c.stations[3] = c.stations[3].model_copy(update={"passes": 5})
    assert rounds_words(c) == "2 to 5 rounds from 8 sides"
    c.stations = [c.stations[1]]
    assert rounds_words(c) == "2 rounds from the left shoulder, 30° up"
    c.stations = [c.stations[0].model_copy(update={"passes": 1})]
    assert rounds_words(c).startswith("1 round from")
    c.stations = []
    assert rounds_words(c) == "no sides yet"
    c.aim = Aim(field="edges", passes=4)
    assert rounds_words(c) == "4 rounds"
