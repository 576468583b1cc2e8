"""Colours in words."""

from __future__ import annotations

import pytest

from haze.core.film.words import hue_word


@pytest.mark.parametrize(
    ("hue", "word"), [(29, "red"), (108, "yellow"), (142, "green"), (262, "blue"), (350, "pink")]
)
def test_hues_have_names(hue: float, word: str) -> None:
    assert hue_word(hue) == word
