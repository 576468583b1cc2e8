"""Mixing backwards and ladders: the pruned search against plain enumeration, and even steps."""

from __future__ import annotations

from math import gcd

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import CancelledError, HazeError, OutOfRangeError
from haze.core.film.difference import oklab_of
from haze.core.film.finish import Finish, inside_film
from haze.core.film.ladder import (
    EVEN,
    along,
    anchors_from_one,
    chalk_of,
    find_ladder,
    rungs_needed,
    with_rest,
)
from haze.core.film.match import every_mix, nearest_mixes
from haze.core.film.paint import OPACITIES, masstone_rgb, metallic, paint_optics
from haze.core.film.palette import Over, Palette, compositions, mix_rgb
from haze.core.film.spectra import decode_srgb, parse_hex, spectrum_of_hex

SHELF = (
    *("#17181a", "#f3f2ec", "#4b5a35", "#3f6f8c", "#a8322c", "#e0b23a"),
    *("#b79a68", "#3b2a20", "#c77f93", "#6d5a78", "#8aa24f"),
)
DARK = inside_film(spectrum_of_hex("#17181a"), "matt")
hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


def palette(
    colours: list[str] | tuple[str, ...] = SHELF,
    finishes: tuple[Finish, ...] = ("matt", "satin", "gloss"),
) -> Palette:
    optics = [
        paint_optics(c, opacity=OPACITIES[i % 4], finish=finishes[i % len(finishes)])
        for i, c in enumerate(colours)
    ]
    drop = [50.0 if i % 3 else 45.0 for i in range(len(optics))]
    return Palette.of(optics, drop=drop, strength=[1.0 + 0.3 * (i % 2) for i in range(len(optics))])


def test_compositions_are_all_and_none_twice() -> None:
    found = compositions(3, 8)
    assert len(found) == len(set(found)) == 52
    assert all(sum(c) <= 8 and min(c) >= 1 and gcd(*c) == 1 for c in found)
    assert compositions(1, 8) == ((1,),)
    assert (2, 2) not in compositions(2, 8)


@given(
    st.lists(hexes, min_size=3, max_size=18, unique=True),
    st.sampled_from([("matt", "satin", "gloss"), ("matt",)]),
    hexes,
    st.sampled_from([None, 2.0, 7.0]),
    st.integers(2, 8),
)
@settings(max_examples=40, deadline=None)
def test_the_pruned_search_equals_enumeration(
    colours: list[str],
    finishes: tuple[Finish, ...],
    target: str,
    film_um: float | None,
    most_drops: int,
) -> None:
    shelf = palette(colours, finishes)
    over = None if film_um is None else Over(DARK, film_um)
    fast = nearest_mixes(rgb(target), shelf, over=over, most_drops=most_drops, keep=6)
    slow = every_mix(rgb(target), shelf, over=over, most_drops=most_drops)[:6]
    assert [f.distance for f in fast] == pytest.approx([s.distance for s in slow], abs=1e-6)


def test_a_mix_of_three_is_found_again() -> None:
    shelf = palette()
    for over in (None, Over(DARK, 6.0)):
        goal = mix_rgb(shelf.mix((2, 5, 9), (3, 2, 1)), over)
        best = nearest_mixes(goal, shelf, over=over)[0]
        assert best.distance < 1e-6
        assert dict(zip(best.paints, best.drops, strict=True)) == {2: 3, 5: 2, 9: 1}


def test_enumeration_sees_a_mix_as_the_film_model_does() -> None:
    shelf = palette()
    target = rgb("#7a8f5c")
    for over in (None, Over(DARK, 4.0)):
        for found in every_mix(target, shelf, over=over)[::997]:
            lab = oklab_of(mix_rgb(shelf.mix(found.paints, found.drops), over))
            assert float(np.linalg.norm(lab - oklab_of(target))) == pytest.approx(
                found.distance, abs=1e-9
            )


def test_limits_of_paints_and_drops_are_kept_and_told() -> None:
    shelf = palette()
    for found in nearest_mixes(rgb("#99775e"), shelf, most_paints=2, most_drops=3):
        assert len(found.paints) <= 2
        assert sum(found.drops) <= 3
    with pytest.raises(OutOfRangeError, match="1 to 8"):
        nearest_mixes(rgb("#99775e"), shelf, most_drops=9)
    with pytest.raises(OutOfRangeError, match="1 to 3"):
        nearest_mixes(rgb("#99775e"), shelf, most_paints=4)
    with pytest.raises(HazeError, match="no paint"):
        nearest_mixes(rgb("#99775e"), Palette((), (), ()))
    with pytest.raises(HazeError, match="Metal"):
        Palette.of([metallic("#a98545")])


def test_the_search_can_be_stopped() -> None:
    with pytest.raises(CancelledError):
        nearest_mixes(rgb("#99775e"), palette(), progress=lambda _: False)


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


def test_what_is_left_in_the_cup_joins_the_next_rung() -> None:
    shelf = Palette.of([paint_optics(c, opacity="opaque") for c in ("#3b2a20", "#e6d7ae")])
    goal = {0: 1, 1: 3}
    add, made = with_rest(shelf, goal, {0: 1.0}, rest_volume=1.0, paints=[0, 1])
    # one drop of the dark is there already: three of the light make one to three
    assert add == {1: 3}
    assert made == pytest.approx(masstone_rgb(shelf.mix((0, 1), (1, 3))), abs=1e-9)


def test_too_few_mixes_for_so_many_rungs_is_told() -> None:
    shelf = Palette.of([paint_optics("#3b2a20", opacity="opaque")])
    with pytest.raises(HazeError, match="too few different mixes"):
        find_ladder([rgb("#3b2a20"), rgb("#e6d7ae")], shelf, rungs=4, ground=DARK, film_um=6)
    with pytest.raises(OutOfRangeError, match="2 to 12"):
        find_ladder([rgb("#3b2a20"), rgb("#e6d7ae")], shelf, rungs=1, ground=DARK, film_um=6)
    with pytest.raises(HazeError, match="two or three"):
        find_ladder([rgb("#3b2a20")], shelf, rungs=4, ground=DARK, film_um=6)
