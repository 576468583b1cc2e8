"""A paint from two swatches."""

from __future__ import annotations

import pytest

from haze.core.errors import HazeError, OutOfRangeError
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import (
    inside_film,
    outside_film,
)
from haze.core.film.paint import (
    film_over,
    paint_optics,
)
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import to_hex
from haze.core.film.swatches import TwoSwatches, optics_from_swatches


def test_two_swatches_give_back_the_paint_they_were_made_with() -> None:
    um, dark, light = 8.0, "#141414", "#f0f0ea"
    made = paint_optics("#b79a68", opacity="semi_opaque")
    grounds = [inside_film(spectrum_of_hex(g), "matt") for g in (dark, light)]
    told = [to_hex(rgb_of(outside_film(film_over(made, g, um), "matt"))) for g in grounds]
    found = optics_from_swatches(TwoSwatches(*told, dark, light, um))
    assert found.certain
    for ground in (dark, "#7a7a7a", light):
        inside = inside_film(spectrum_of_hex(ground), "matt")
        for thickness in (4.0, 8.0, 30.0):
            colours = [
                lab_of(rgb_of(outside_film(film_over(p, inside, thickness), "matt")))
                for p in (made, found.optics)
            ]
            assert float(ciede2000(*colours)) < 1.5


def test_swatches_that_hide_or_are_swapped_are_told() -> None:
    with pytest.raises(HazeError, match="look alike"):
        optics_from_swatches(TwoSwatches("#804020", "#804020", "#0c0c0d", "#f6f6f2", 40.0))
    with pytest.raises(HazeError, match="swapped"):
        optics_from_swatches(TwoSwatches("#a08060", "#604020", "#0c0c0d", "#f6f6f2", 10.0))
    with pytest.raises(OutOfRangeError, match=r"0\.5 to 500"):
        optics_from_swatches(TwoSwatches("#202020", "#909090", "#000000", "#ffffff", 0))
