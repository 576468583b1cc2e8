"""Cleaning between cups."""

from __future__ import annotations

import pytest

from haze.core.day.cleaning import RINSE_S, THOROUGH_S, TO_LIGHT_S, cleaning
from haze.core.day.runsheet import next_sprayed
from haze.core.plan.coat import Coat
from helpers import coat, plan


def of(kind: str, masstone: str = "#808080") -> Coat:
    made = coat(kind=kind)
    return made.model_copy(
        update={"paint": made.paint.model_copy(update={"masstone": masstone})}, deep=True
    )


def test_dark_before_light_takes_longer_than_light_before_dark() -> None:
    dark, light = of("airbrush_acrylic", "#202020"), of("airbrush_acrylic", "#e0e0e0")
    up, down = cleaning(dark, light), cleaning(light, dark)
    assert (up.level, up.seconds) == ("rinse", TO_LIGHT_S)
    assert (down.level, down.seconds) == ("rinse", RINSE_S)
    assert "white paper" in up.words
    assert "white paper" not in down.words
    near = cleaning(of("airbrush_acrylic", "#707070"), of("airbrush_acrylic", "#808080"))
    assert near.seconds == RINSE_S


@pytest.mark.parametrize("kind", ["metallic", "varnish", "primer"])
def test_what_clings_is_cleaned_thoroughly_and_a_card_comes_first(kind: str) -> None:
    told = cleaning(of(kind), of("airbrush_acrylic"))
    assert (told.level, told.seconds, told.card) == ("thorough", THOROUGH_S, True)
    assert kind in told.why
    assert "card first" in told.words
    assert "airbrush cleaner" in told.words


def test_another_chemistry_and_putting_away_are_thorough_with_the_right_liquid() -> None:
    last = cleaning(of("airbrush_acrylic"), None)
    assert (last.level, last.card) == ("thorough", False)
    turned = cleaning(of("enamel_wash"), of("airbrush_acrylic"))
    assert turned.level == "thorough"
    assert turned.liquid == "white spirit"
    assert cleaning(of("lacquer"), of("lacquer")).liquid == "lacquer thinner"


def test_the_next_coat_is_the_next_one_that_is_sprayed() -> None:
    first, second = coat("a"), coat("b")
    made = plan(first, second)
    assert next_sprayed(made, made.sprayed[0]) == made.sprayed[1]
    assert next_sprayed(made, made.sprayed[1]) is None
    made.sprayed[1].off = True
    assert next_sprayed(made, made.sprayed[0]) is None
