"""Facts of films that must hold (docs/models.md C9), seen the way every colour on screen is."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.difference import delta_e, lch_of
from haze.core.film.finish import inside_film
from haze.core.film.paint import masstone_rgb, paint_optics
from haze.core.film.skin import one_film
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import tone_of_rgb

BLACK = inside_film(spectrum_of_hex("#0c0c0d"), "matt")


@pytest.mark.parametrize("colour", ["#f2c200", "#e0b23a"])
def test_thin_yellow_over_black_turns_green_and_comes_back(colour: str) -> None:
    yellow = paint_optics(colour, opacity="semi_opaque")
    own = masstone_rgb(yellow)
    assert lch_of(one_film(yellow, BLACK, 3.0))[2] - lch_of(own)[2] >= 8
    assert delta_e(one_film(yellow, BLACK, 1000.0), own) < 0.5


@pytest.mark.parametrize("colour", ["#f4f4f0", "#f3f2ec"])
def test_thin_white_over_black_stays_grey(colour: str) -> None:
    white = paint_optics(colour, opacity="opaque")
    tones = [tone_of_rgb(one_film(white, BLACK, um)) for um in (3.0, 9.0)]
    assert 50 <= tones[0] <= 70
    assert 72 <= tones[1] <= 86


def test_a_coat_of_nothing_shows_what_lies_below() -> None:
    green = paint_optics("#4b5a35", opacity="opaque")
    grey = inside_film(spectrum_of_hex("#7a7a7a"), "matt")
    assert one_film(green, grey, 0.0) == pytest.approx(np.full(3, 0.1946), abs=2e-3)
