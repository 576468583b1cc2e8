"""Ladders in even steps."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import HazeError, OutOfRangeError
from haze.core.film.difference import oklab_of
from haze.core.film.finish import inside_film
from haze.core.film.ladder import EVEN, find_ladder
from haze.core.film.ladder_ends import along, anchors_from_one, chalk_of, rungs_needed
from haze.core.film.paint import paint_optics
from haze.core.film.palette import Palette
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import decode_srgb, parse_hex

DARK = inside_film(spectrum_of_hex("#17181a"), "matt")


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


def test_points_along_the_way_are_equally_far_apart() -> None:
    way = np.array([[0.2, 0, 0], [0.5, 0.1, 0], [0.9, 0, 0.1]])
    points = along(way, 6)
    assert points[0] == pytest.approx(way[0])
    assert points[-1] == pytest.approx(way[-1])
    straight = along(way[:2], 5)
    steps = np.linalg.norm(np.diff(straight, axis=0), axis=1)
    assert steps == pytest.approx(np.full(4, steps[0]))
    assert rungs_needed(way) > rungs_needed(way[:2])


def test_a_ladder_of_two_paints_climbs_in_even_steps() -> None:
    shelf = Palette.of(
        [paint_optics(c, opacity="opaque") for c in ("#3b2a20", "#b79a68", "#e6d7ae")]
    )
    found = find_ladder([rgb("#3b2a20"), rgb("#e6d7ae")], shelf, rungs=6, ground=DARK, film_um=20.0)
    lights = [r.lightness for r in found.rungs]
    assert lights == sorted(lights)
    assert found.evenness <= EVEN
    assert found.rungs[0].step == 0
    assert all(sum(r.drops.values()) <= 8 for r in found.rungs)
    assert max(found.ends_off) < 0.03


def test_one_colour_gets_its_own_dark_and_light_of_the_same_hue() -> None:
    dark, own, light = (oklab_of(c) for c in anchors_from_one(rgb("#4b7a35")))
    assert dark[0] < own[0] < light[0]
    hues = [np.degrees(np.arctan2(c[2], c[1])) for c in (dark, own, light)]
    assert max(hues) - min(hues) < 2


def test_white_makes_a_highlight_chalky_and_a_light_paint_does_not() -> None:
    middle = rgb("#8f1f24")
    assert chalk_of(rgb("#d3bcba"), middle=middle) > 0.35
    assert chalk_of(rgb("#f0655a"), middle=middle) < 0.35
    assert chalk_of(middle, middle=middle) == 0
    assert chalk_of(rgb("#909090"), middle=rgb("#606060")) == 0, "greys have no colour to lose"


def test_too_few_mixes_for_so_many_rungs_is_told() -> None:
    shelf = Palette.of([paint_optics("#3b2a20", opacity="opaque")])
    with pytest.raises(HazeError, match="too few different mixes"):
        find_ladder([rgb("#3b2a20"), rgb("#e6d7ae")], shelf, rungs=4, ground=DARK, film_um=6)
    with pytest.raises(OutOfRangeError, match="2 to 12"):
        find_ladder([rgb("#3b2a20"), rgb("#e6d7ae")], shelf, rungs=1, ground=DARK, film_um=6)
    with pytest.raises(HazeError, match="two or three"):
        find_ladder([rgb("#3b2a20")], shelf, rungs=4, ground=DARK, film_um=6)
