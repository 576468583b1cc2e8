from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from haze.core.errors import HazeError, UnknownNameError
from haze.core.film.finish import FINISHES, inside_film, outside_film
from haze.core.film.kubelka_munk import absorption_ratio, enter, film, ground_below, leave, thick
from haze.core.film.paint import (
    BLACK_CARD,
    LEAST_HIDING_UM,
    covering_um,
    hiding_um,
    paint_optics,
    scatter_factor,
)
from haze.core.film.spectra import decode_srgb, parse_hex, rgb_of, spectrum_of_hex, to_hex

positive = st.floats(1e-3, 2.0)
share = st.floats(0.01, 0.95)


def test_published_thick_film() -> None:
    # K/S = .5: R∞ = 1 + .5 − √(.25 + 1) = .38197
    assert float(thick(0.5, 1.0)) == pytest.approx(0.38197, abs=1e-5)
    assert float(absorption_ratio(0.38197)) == pytest.approx(0.5, abs=1e-4)


def test_no_absorption_over_black() -> None:
    # R = SX/(1 + SX)
    assert float(film(0.0, 0.5, 0.0, 2.0)) == pytest.approx(0.5, abs=1e-4)
    assert float(film(1e-9, 0.5, 0.0, 2.0)) == pytest.approx(0.5, abs=1e-4)


def test_no_scatter_is_a_filter() -> None:
    assert float(film(0.3, 0.0, 0.8, 2.0)) == pytest.approx(0.8 * np.exp(-2 * 0.3 * 2), abs=1e-4)
    assert float(film(0.0, 0.0, 0.8, 2.0)) == pytest.approx(0.8, abs=1e-6)


@given(positive, positive, share, st.floats(0.1, 20), st.floats(0.05, 0.95))
def test_a_coat_split_in_two_equals_one_coat(
    k: float, s: float, ground: float, x: float, cut: float
) -> None:
    whole = film(k, s, ground, x)
    split = film(k, s, film(k, s, ground, cut * x), (1 - cut) * x)
    assert float(whole) == pytest.approx(float(split), abs=1e-6)


@pytest.mark.parametrize(("k", "s", "x"), [(0.1, 0.3, 3.0), (0.5, 0.05, 1.5), (0.02, 0.28, 9.0)])
@pytest.mark.parametrize("ground", [0.02, 0.4, 0.9])
def test_the_film_solves_its_differential_equation(
    k: float, s: float, x: float, ground: float
) -> None:
    solved = solve_ivp(
        lambda _, r: s - 2 * (k + s) * r + s * r * r, (0, x), [ground], rtol=1e-9, atol=1e-11
    )
    assert float(film(k, s, ground, x)) == pytest.approx(float(solved.y[0, -1]), abs=1e-4)


@given(positive, positive, share, st.floats(0.01, 1.0))
def test_the_ground_is_found_back(k: float, s: float, ground: float, x: float) -> None:
    seen = film(k, s, ground, x)
    assert float(ground_below(k, s, seen, x)) == pytest.approx(ground, abs=1e-4)


@given(st.floats(0.001, 0.999))
def test_the_interface_has_an_inverse(r: float) -> None:
    assert float(enter(leave(r))) == pytest.approx(r)


@given(st.floats(0.0, 0.99), st.sampled_from(FINISHES))
def test_the_surface_has_an_inverse(seen: float, finish: str) -> None:
    assert float(outside_film(inside_film(seen, finish), finish)) == pytest.approx(seen, abs=1e-6)


def test_matt_to_gloss_darkens_by_what_painters_see() -> None:
    from haze.core.film.difference import lightness_of

    for hex_colour, least, most in (("#777777", 1.0, 4.0), ("#f0f0f0", 0.0, 1.5)):
        inside = inside_film(spectrum_of_hex(hex_colour), "matt")
        matt, gloss = (
            float(lightness_of(rgb_of(outside_film(inside, f))[1])) for f in ("matt", "gloss")
        )
        assert least <= matt - gloss <= most


def test_gloss_never_lightens() -> None:
    for level in np.linspace(0.001, 0.99, 50):
        inside = inside_film(level, "matt")
        assert outside_film(inside, "gloss") <= outside_film(inside, "matt") + 1e-9


def test_masstone_comes_back_when_the_film_is_thick() -> None:
    for colour in ("#f2c200", "#3f6f8c", "#17181a", "#b79a68", "#f3f2ec"):
        for opacity in ("opaque", "semi_opaque"):
            optics = paint_optics(colour, opacity=opacity)
            seen = rgb_of(outside_film(thick(optics.absorb_per_um, optics.scatter_per_um), "matt"))
            # a channel of 0 is lifted to the floor of the spectrum, one byte step
            back = parse_hex(to_hex(seen)) - parse_hex(colour)
            assert np.abs(back).max() <= 1.01 / 255


def test_transparent_masstone_is_ten_micrometres_over_white() -> None:
    optics = paint_optics("#b8862b", opacity="transparent")
    white = inside_film(spectrum_of_hex("#f6f6f2"), "matt")
    seen = rgb_of(
        outside_film(film(optics.absorb_per_um, optics.scatter_per_um, white, 10.0), "matt")
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
