"""Mixing backwards and ladders: the pruned search against plain enumeration, and even steps."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from enumeration import every_mix
from haze.core.errors import CancelledError, HazeError, OutOfRangeError
from haze.core.film.difference import oklab_of
from haze.core.film.finish import Finish, inside_film
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import OPACITIES, metallic, paint_optics
from haze.core.film.palette import Over, Palette, mix_rgb
from haze.core.film.spectra import spectrum_of_hex
from haze.core.film.srgb import decode_srgb, parse_hex

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
