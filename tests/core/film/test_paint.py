"""A paint's optics from one hex and an opacity grade."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import HazeError, UnknownNameError
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import (
    inside_film,
    outside_film,
)
from haze.core.film.kubelka_munk import film, thick
from haze.core.film.paint import (
    BLACK_CARD,
    FLAKE_UM,
    LEAST_HIDING_UM,
    covering_um,
    film_over,
    hiding_um,
    masstone_rgb,
    metallic,
    paint_optics,
    scatter_factor,
    swatch_rgb,
)
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import decode_srgb, parse_hex, to_hex


def test_masstone_comes_back_when_the_film_is_thick() -> None:
    for colour in ("#f2c200", "#3f6f8c", "#17181a", "#b79a68", "#f3f2ec"):
        for opacity in ("opaque", "semi_opaque"):
            optics = paint_optics(colour, opacity=opacity)
            seen = rgb_of(outside_film(thick(optics.absorb_per_um, optics.scatter_per_um), "matt"))
            # a channel of 0 is lifted to the floor of the spectrum, one byte step
            back = parse_hex(to_hex(seen)) - parse_hex(colour)
            assert np.abs(back).max() <= 1.01 / 255


def test_transparent_masstone_is_five_micrometres_over_white() -> None:
    optics = paint_optics("#b8862b", opacity="transparent")
    white = inside_film(spectrum_of_hex("#f6f6f2"), "matt")
    seen = rgb_of(
        outside_film(film(optics.absorb_per_um, optics.scatter_per_um, white, 5.0), "matt")
    )
    assert np.abs(seen - decode_srgb(parse_hex("#b8862b"))).max() < 0.01


def test_hiding_follows_the_table_of_the_trade() -> None:
    thickness = {
        name: hiding_um(paint_optics(colour, opacity="opaque"))
        for name, colour in {
            "grey": "#7a7a7a",
            "green": "#3d6b3a",
            "ochre": "#b8862b",
            "red": "#b02020",
            "yellow": "#f2c200",
            "white": "#f4f4f0",
        }.items()
    }
    order = ["green", "ochre", "red", "yellow", "white"]
    assert [thickness[n] for n in order] == sorted(thickness[n] for n in order)
    assert thickness["grey"] == pytest.approx(7.5, rel=0.35)
    assert thickness["white"] == pytest.approx(91, rel=0.35)
    assert all(x >= LEAST_HIDING_UM["opaque"] * 0.999 for x in thickness.values())


def test_scatter_factors_of_the_extremes() -> None:
    assert scatter_factor(decode_srgb(parse_hex("#ffffff"))) == pytest.approx(1.0)
    assert scatter_factor(decode_srgb(parse_hex("#050505"))) < 0.35


def test_passes_to_cover_grow_when_the_ground_is_farther_away() -> None:
    white = paint_optics("#f3f2ec", opacity="opaque")
    over_grey, over_black = (
        covering_um(white, ground=inside_film(spectrum_of_hex(g), "matt"))
        for g in ("#9a9a9a", BLACK_CARD)
    )
    assert over_grey < over_black


def test_wrong_paints_are_refused_by_name() -> None:
    with pytest.raises(HazeError, match=r"masstone is 'red'; accepted is #rrggbb"):
        paint_optics("red", opacity="opaque")
    with pytest.raises(UnknownNameError, match="accepted are opaque"):
        paint_optics("#ff0000", opacity="milky")


GREEN = paint_optics("#4b5a35", opacity="opaque")


AMBER = paint_optics("#f2a01c", opacity="transparent", finish="satin")


BLACK_GROUND = inside_film(spectrum_of_hex("#0c0c0d"), "matt")


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


def test_metal_closes_with_thickness_and_keeps_its_colour() -> None:
    brass = metallic("#a98545")
    # 1 − e^(−1) at one and a half micrometres of pure flake
    half = film_over(brass, BLACK_GROUND, FLAKE_UM)
    share = (half - BLACK_GROUND) / (brass.flake_inside - BLACK_GROUND)
    assert share == pytest.approx(1 - np.exp(-1))
    assert to_hex(masstone_rgb(brass)) == "#a98545"
    assert covering_um(brass, ground=BLACK_GROUND) < 10


def test_chips_of_transparent_paints_show_a_thin_film() -> None:
    assert hiding_um(AMBER) > 120
    assert float(ciede2000(lab_of(swatch_rgb(AMBER)), lab_of(rgb("#f2a01c")))) < 1.0
    assert to_hex(swatch_rgb(GREEN)) == "#4b5a35"


def test_film_over_takes_grounds_and_films_of_any_shape() -> None:
    grounds = np.stack([BLACK_GROUND, 2 * BLACK_GROUND], axis=1)
    both = film_over(GREEN, grounds, np.array([3.0, 5.0]))
    for i, um in enumerate((3.0, 5.0)):
        assert both[:, i] == pytest.approx(film_over(GREEN, grounds[:, i], um))
        assert both[:, i] == pytest.approx(
            film(GREEN.absorb_per_um, GREEN.scatter_per_um, grounds[:, i], um)
        )
