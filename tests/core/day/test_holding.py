"""How to hold the piece, in words."""

from __future__ import annotations

import pytest

from haze.core.day.holding import holding_words


@pytest.mark.parametrize(
    ("azimuth", "elevation", "words"),
    [
        (0, 0, "hold the show side toward you, keep it upright"),
        (40, 45, "turn the show side 40° to your right, tip the head 45° toward the airbrush"),
        (320, -20, "turn the show side 40° to your left, tip the head 20° away from the airbrush"),
        (180, 0, "turn the show side away from you, keep it upright"),
    ],
)
def test_how_to_hold_it(azimuth: float, elevation: float, words: str) -> None:
    assert holding_words(azimuth, elevation) == words


def test_from_straight_above_the_turn_no_longer_matters() -> None:
    assert holding_words(10, 90) == holding_words(200, 90)
    assert "90° toward the airbrush" in holding_words(0, 90)
