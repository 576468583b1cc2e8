"""Asked colours: targets by hand, and what random shelves make of them."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.drafting.colouring import (
    BASE,
    FILMS_UM,
    MIDDLE,
    PLACES,
    coloured,
    sweeps_for,
    wanted_colours,
)
from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import NothingFitsError
from haze.core.film.difference import delta_e, hue_turn, lab_of, oklch_of
from haze.core.film.finish import SURFACE, inside_film, outside_film
from haze.core.film.layering import Later
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import film_over
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.lights import KeyLight
from haze.core.plan.paint import PaintUsed
from helpers import plain_places

MATT = SURFACE["matt"]
OPACITIES = ("opaque", "semi_opaque", "opaque", "transparent")


def dark_ground() -> np.ndarray:
    return np.repeat(inside_film(spectrum_of_hex("#17181a"), "matt")[:, None], len(PLACES), axis=1)


def random_shelf(rng: np.random.Generator) -> Stock:
    count = int(rng.integers(12, 41))
    made = [("#f3f2ec", "opaque"), ("#17181a", "opaque")]
    made += [
        (f"#{rng.integers(0, 1 << 24):06x}", OPACITIES[int(rng.integers(4))]) for _ in range(count)
    ]
    return Stock(
        paints=tuple(
            PaintUsed.model_validate(
                {
                    "id": f"p{n}",
                    "name": f"Paint {n}",
                    "kind": "transparent" if opacity == "transparent" else "airbrush_acrylic",
                    "masstone": masstone,
                    "opacity": opacity,
                }
            )
            for n, (masstone, opacity) in enumerate(made)
        )
    )


@pytest.mark.parametrize(
    "asked", ["#a81c1c", "#1f4fa0", "#2f7a3a", "#d8c49a", "#2a2c30", "#ffffff", "#000000"]
)
def test_wanted_colours_rise_about_the_asked_one(asked: str) -> None:
    rgb = linear_of_hex(asked)
    wanted = wanted_colours(rgb)
    tones = lab_of(wanted)[:, 0]
    assert wanted[MIDDLE] == pytest.approx(rgb)
    assert (np.diff(tones) >= -0.5).all()
    assert ((wanted >= 0) & (wanted <= 1)).all()
    if float(oklch_of(rgb)[1]) > 0.1:
        turned = np.abs(hue_turn(oklch_of(wanted)[:, 2], oklch_of(rgb)[2]))
        assert turned.max() <= 12


def test_lights_go_along_the_hues_own_way() -> None:
    def turn(asked: str) -> float:
        wanted = oklch_of(wanted_colours(linear_of_hex(asked)))[:, 2]
        return float(hue_turn(wanted[-1], wanted[MIDDLE]))

    assert turn("#a81c1c") > 3, "red over orange"
    assert turn("#1f4fa0") < -3, "blue toward cyan"
    assert turn("#2f7a3a") < -3, "green toward yellow"
    assert turn("#5b2f7a") > 3, "violet toward rose"


def test_sweeps_follow_the_light_and_the_shade_lies_toward_the_front() -> None:
    left = sweeps_for(KeyLight(azimuth_deg=60))
    right = sweeps_for(KeyLight(azimuth_deg=-60))
    assert left[3][0].azimuth_deg == 60
    assert left[-1][0].azimuth_deg == pytest.approx(305)
    assert right[-1][0].azimuth_deg == pytest.approx(55)


@pytest.mark.parametrize("seed", range(10))
def test_random_shelves_never_do_worse_than_one_mix_all_over(seed: int) -> None:
    rng = np.random.default_rng(seed)
    stock, places = random_shelf(rng), plain_places()
    asked = linear_of_hex(f"#{rng.integers(0, 1 << 24):06x}")
    later = [Later(stock.paints[1].optics, 0.1 * places.wash)]
    found = coloured(
        asked,
        order="climb",
        stock=stock,
        places=places,
        ground=dark_ground(),
        later=later,
        surface=MATT,
    )
    plain = [p for p in stock.paints if p.hides]
    palette = palette_of(plain)
    best = nearest_mixes(asked, palette, keep=1)[0]
    optics = palette.mix(best.paints, best.drops)
    one = film_over(
        optics, dark_ground()[:, MIDDLE], FILMS_UM[-1] * places.sweeps[BASE].film[MIDDLE]
    )
    one = film_over(later[0].optics, one, later[0].film_um[MIDDLE])
    naive = delta_e(rgb_of(outside_film(one, "matt")), asked)
    assert delta_e(found.rgb[MIDDLE], asked) <= naive + 3.0
    assert 2 <= len(found.layers) <= 6
    tones = lab_of(found.rgb)[:, 0]
    assert tones[-1] >= tones[0] - 1, "light is not darker than shade"


def test_without_clears_a_veil_says_what_is_missing() -> None:
    opaque = random_shelf(np.random.default_rng(1))
    stock = Stock(paints=tuple(p for p in opaque.paints if p.kind != "transparent"))
    with pytest.raises(NothingFitsError, match="no transparent paint"):
        coloured(
            linear_of_hex("#a81c1c"),
            order="veil",
            stock=stock,
            places=plain_places(),
            ground=dark_ground(),
            later=[],
            surface=MATT,
        )
