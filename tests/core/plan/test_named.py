"""What a paint's name says about it."""

from __future__ import annotations

import pytest

from haze.core.film.difference import delta_e, lch_of
from haze.core.film.srgb import linear_of_hex
from haze.core.film.words import hue_word
from haze.core.plan.named import COLOURS, colour_named, finish_named, kind_named, usual_opacity


def lch(name: str) -> tuple[float, float, float]:
    colour = colour_named(name)
    assert colour is not None
    return lch_of(linear_of_hex(colour))


@pytest.mark.parametrize("word", COLOURS)
def test_a_colour_word_alone_is_its_colour(word: str) -> None:
    assert colour_named(word) == colour_named(word.title()) == COLOURS[word]


@pytest.mark.parametrize("word", ["red", "orange", "yellow", "green", "blue", "violet", "pink"])
def test_hues_are_what_they_are_called(word: str) -> None:
    assert hue_word(lch(word)[2]) == word


@pytest.mark.parametrize("word", ["blue", "rust", "green", "grey", "buff"])
def test_shades_move_the_way_their_word_says(word: str) -> None:
    lightness, chroma, _ = lch(word)
    assert lch(f"Deep {word}")[0] < lightness - 0.03
    assert lch(f"Dark {word}")[0] < lightness - 0.03
    assert lch(f"Light {word}")[0] > lightness + 0.03
    assert lch(f"Pale Wrack {word}")[0] > lch(f"Light {word}")[0]
    assert lch(f"Muted {word}")[1] <= 0.7 * chroma
    assert lch(f"Vivid {word}")[1] >= chroma


def test_of_two_colours_the_last_counts_most() -> None:
    blue_grey, grey, blue = lch("Harbour Blue Grey"), lch("grey"), lch("blue")
    assert grey[1] < blue_grey[1] < blue[1] / 2
    between = linear_of_hex(str(colour_named("blue grey")))
    towards_grey = delta_e(between, linear_of_hex(COLOURS["grey"]))
    assert towards_grey < delta_e(between, linear_of_hex(COLOURS["blue"]))


@pytest.mark.parametrize("name", ["Moonlit", "", "Kelp Ink", "Redoubt", "17"])
def test_a_name_without_a_colour_word_says_none(name: str) -> None:
    assert colour_named(name) is None


def test_spellings_are_one_colour() -> None:
    assert colour_named("Gray") == colour_named("grey")
    assert colour_named("Golden Hour") == colour_named("gold")


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("Hull Grey Primer", "primer"),
        ("Brass Primer", "primer"),
        ("Brass Rail", "metallic"),
        ("Kelp Ink", "ink"),
        ("Lamp Amber Clear", "transparent"),
        ("Quay Matt Varnish", "varnish"),
        ("Keel Lacquer", "lacquer"),
        ("Wrack Green", None),
        ("Inkling", None),
    ],
)
def test_kinds_are_told_by_their_word(name: str, kind: str | None) -> None:
    assert kind_named(name) == kind


def test_varnish_is_clear_and_has_its_finish() -> None:
    assert lch("Quay Satin Varnish")[0] > 0.95
    assert finish_named("Quay Satin Varnish") == "satin"
    assert finish_named("Wrack Green") is None
    assert usual_opacity("varnish") == usual_opacity("transparent") == "transparent"
    assert usual_opacity("ink") == "semi_transparent"
    assert usual_opacity("metallic") == "opaque"
