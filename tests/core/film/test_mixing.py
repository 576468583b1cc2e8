"""Mixes, swatches, metals, fluorescence, washes, the wet look: figures and properties."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError, OutOfRangeError
from haze.core.film.difference import ciede2000, lab_of, lightness_of, oklch_of
from haze.core.film.finish import (
    FINISHES,
    SURFACE,
    inside_film,
    mixed_surface,
    nearest_finish,
    outside_film,
)
from haze.core.film.gamut import in_gamut, into_gamut, most_chroma, rgb_of_oklch
from haze.core.film.kubelka_munk import film, thick
from haze.core.film.mixing import Share, mixed, tinting_strength
from haze.core.film.overshoot import Film, after_films, aim_before, varnish_film
from haze.core.film.paint import (
    FLAKE_UM,
    PaintOptics,
    covering_um,
    film_over,
    fluorescent,
    hiding_um,
    masstone_rgb,
    metallic,
    paint_optics,
    swatch_rgb,
)
from haze.core.film.skin import bare_skin, coated, seen, two_way
from haze.core.film.spectra import decode_srgb, parse_hex, rgb_of, spectrum_of_hex, to_hex
from haze.core.film.stack import add_coat, start_ground
from haze.core.film.swatches import optics_from_swatches
from haze.core.film.wet import wet_rgb
from haze.core.light.brush import settled

GREEN = paint_optics("#4b5a35", opacity="opaque")
WHITE = paint_optics("#f3f2ec", opacity="opaque", finish="satin")
AMBER = paint_optics("#f2a01c", opacity="transparent", finish="satin")
BLACK_GROUND = inside_film(spectrum_of_hex("#0c0c0d"), "matt")
hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


def one(um: float) -> np.ndarray:
    return np.full(1, um, dtype=np.float32)


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


def test_a_mix_weighs_k_and_s_by_volume_and_strength() -> None:
    plain = mixed([Share(GREEN, 3.0), Share(WHITE, 1.0)])
    assert plain.absorb_per_um == pytest.approx((3 * GREEN.absorb_per_um + WHITE.absorb_per_um) / 4)
    assert plain.surface == pytest.approx((3 * GREEN.surface + WHITE.surface) / 4)
    strong = mixed([Share(GREEN, 3.0, 2.0), Share(WHITE, 1.0, 1.0)])
    assert strong.scatter_per_um == pytest.approx(
        (6 * GREEN.scatter_per_um + WHITE.scatter_per_um) / 7
    )
    assert strong.surface == plain.surface, "finish goes by volume, not by strength"


@given(hexes, hexes, st.floats(0.1, 20), st.floats(0.1, 20))
@settings(max_examples=40, deadline=None)
def test_a_mix_lies_between_its_paints_in_every_band(
    one_hex: str, other: str, a: float, b: float
) -> None:
    first, second = (paint_optics(h, opacity="opaque") for h in (one_hex, other))
    mix = mixed([Share(first, a), Share(second, b)])
    ends = [thick(p.absorb_per_um, p.scatter_per_um) for p in (first, second)]
    now = thick(mix.absorb_per_um, mix.scatter_per_um)
    assert np.all(now >= np.minimum(*ends) - 1e-9)
    assert np.all(now <= np.maximum(*ends) + 1e-9)
    swapped = mixed([Share(second, b), Share(first, a)])
    assert swapped.absorb_per_um == pytest.approx(mix.absorb_per_um)


def test_no_drops_are_no_mix_and_one_paint_is_itself() -> None:
    assert mixed([Share(GREEN, 2.0), Share(WHITE, 0.0)]) is GREEN
    with pytest.raises(HazeError, match="at least one drop"):
        mixed([Share(GREEN, 0.0)])


@pytest.mark.parametrize("strength", [0.4, 1.0, 2.5])
def test_one_mix_with_white_gives_a_paint_its_strength(strength: float) -> None:
    mix = mixed([Share(GREEN, 1.0, strength), Share(WHITE, 3.0)])
    found = tinting_strength(
        GREEN,
        WHITE,
        paint_share=0.25,
        seen_inside=thick(mix.absorb_per_um, mix.scatter_per_um),
    )
    assert found == pytest.approx(strength, rel=1e-6)
    with pytest.raises(HazeError, match="between 0 and 1"):
        tinting_strength(GREEN, WHITE, paint_share=1.0, seen_inside=np.full(12, 0.4))


def test_two_swatches_give_back_the_paint_they_were_made_with() -> None:
    um, dark, light = 8.0, "#141414", "#f0f0ea"
    made = paint_optics("#b79a68", opacity="semi_opaque")
    grounds = [inside_film(spectrum_of_hex(g), "matt") for g in (dark, light)]
    told = [to_hex(rgb_of(outside_film(film_over(made, g, um), "matt"))) for g in grounds]
    found = optics_from_swatches(*told, dark=dark, light=light, film_um=um)
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
        optics_from_swatches("#804020", "#804020", dark="#0c0c0d", light="#f6f6f2", film_um=40.0)
    with pytest.raises(HazeError, match="swapped"):
        optics_from_swatches("#a08060", "#604020", dark="#0c0c0d", light="#f6f6f2", film_um=10.0)
    with pytest.raises(OutOfRangeError, match=r"0\.5 to 500"):
        optics_from_swatches("#202020", "#909090", dark="#000000", light="#ffffff", film_um=0)


def test_metal_closes_with_thickness_and_keeps_its_colour() -> None:
    brass = metallic("#a98545")
    # 1 − e^(−1) at one and a half micrometres of pure flake
    half = film_over(brass, BLACK_GROUND, FLAKE_UM)
    share = (half - BLACK_GROUND) / (brass.flake_inside - BLACK_GROUND)
    assert share == pytest.approx(1 - np.exp(-1))
    assert to_hex(masstone_rgb(brass)) == "#a98545"
    assert covering_um(brass, ground=BLACK_GROUND) < 10


def test_transparent_colour_filters_the_metal_below_it() -> None:
    steel = coated(bare_skin("#17181a", 1), metallic("#b4b8bb"), one(8))
    tinted = coated(steel, AMBER, one(6))
    hue = float(oklch_of(seen(tinted)[:, 0].astype(float))[2])
    assert 40 < hue < 110
    assert 0.5 < float(tinted.metal[0]) < float(steel.metal[0])
    hidden = coated(steel, GREEN, one(20))
    assert float(hidden.metal[0]) < 0.01


def test_what_comes_through_a_clear_film_is_all_and_through_a_thick_one_nothing() -> None:
    clear = PaintOptics(np.zeros(12), np.zeros(12), 0.003)
    assert float(two_way(clear, one(50))[0]) == pytest.approx(1.0, abs=1e-4)
    assert float(two_way(GREEN, one(60))[0]) < 1e-4


def test_fluorescence_adds_light_most_over_a_light_ground() -> None:
    plain = paint_optics("#57e6b0", opacity="semi_transparent")
    glowing = fluorescent(plain, masstone="#57e6b0", strength=0.8)

    def luminance(ground: str, optics: PaintOptics) -> float:
        skin = coated(bare_skin(ground, 1), optics, one(6))
        return float(np.array([0.2126, 0.7152, 0.0722]) @ seen(skin)[:, 0])

    gain = {g: luminance(g, glowing) - luminance(g, plain) for g in ("#111111", "#f3f2ec")}
    assert gain["#f3f2ec"] > 2 * gain["#111111"] > 0
    covered = coated(coated(bare_skin("#f3f2ec", 1), glowing, one(6)), GREEN, one(30))
    assert covered.emission is not None
    assert float(covered.emission.max()) < 1e-3


def test_a_wash_keeps_its_volume_and_gathers_where_it_is_deep() -> None:
    rng = np.random.default_rng(2)
    um = np.full(500, 4.0, dtype=np.float32)
    cavity, area = (rng.uniform(0.1, 1, 500).astype(np.float32) for _ in range(2))
    before = um.copy()
    ran = settled(um, cavity=cavity, area=area, gathers=3.0)
    assert float((area * ran).sum()) == pytest.approx(float((area * um).sum()), rel=1e-5)
    assert ran[np.argmax(cavity)] > 4.0 > ran[np.argmin(cavity)]
    # twice as deep: 1 + 3 against 1 + 0
    pair = settled(
        np.full(2, 1.0, np.float32),
        cavity=np.array([0, 1], np.float32),
        area=np.ones(2, np.float32),
        gathers=3.0,
    )
    assert pair[1] / pair[0] == pytest.approx(4.0)
    assert np.array_equal(um, before)


def test_few_droplets_are_no_film_and_many_are() -> None:
    ground = start_ground("#17181a", 1)
    um = one(3)
    closed = add_coat(ground, WHITE, um)
    fine = add_coat(ground, WHITE, um, droplet_um=1e-4)
    coarse = add_coat(ground, WHITE, um, droplet_um=4.0)
    assert fine == pytest.approx(closed, abs=1e-4)
    # droplets leave gaps: white over black stays darker than a closed film of the same mean
    assert np.all(coarse < closed)
    # mean of e^(−2γkh) over Poisson counts, summed by hand
    gamma = np.sqrt(WHITE.absorb_per_um * (WHITE.absorb_per_um + 2 * WHITE.scatter_per_um))
    counts = np.arange(60)
    weights = np.exp(-0.75) * 0.75**counts / np.cumprod(np.maximum(counts, 1)).astype(float)
    mean = np.array([(weights * np.exp(-2 * g * counts * 4.0)).sum() for g in gamma])
    assert mean == pytest.approx(np.exp(-3.0 * (1 - np.exp(-2 * gamma * 4.0)) / 4.0), rel=1e-9)


@pytest.mark.parametrize("grey", ["#0e0e0e", "#3a3a3a", "#777777", "#b5b5b5", "#ececec"])
def test_gloss_over_matt_never_lightens(grey: str) -> None:
    paint = paint_optics(grey, opacity="opaque", finish="matt")
    glossed = replace(paint, surface=SURFACE["gloss"])
    drop = float(lab_of(masstone_rgb(paint))[0] - lab_of(masstone_rgb(glossed))[0])
    assert drop >= -1e-9
    if grey == "#777777":
        assert 1 <= drop <= 4
    if grey == "#ececec":
        assert drop < 1.5


def test_finishes_mix_by_parts_and_are_named_by_the_nearest() -> None:
    assert mixed_surface({"matt": 1, "gloss": 1}) == pytest.approx((0.03 + 0.003) / 2)
    assert mixed_surface({"satin": 5}) == SURFACE["satin"]
    for name in FINISHES:
        assert nearest_finish(SURFACE[name] * 1.05) == name


def test_wet_paint_is_deeper_than_dry_and_milky_paint_lighter_than_clear() -> None:
    ground = inside_film(spectrum_of_hex("#202020"), "matt")
    dry = rgb_of(outside_film(film_over(GREEN, ground, 8.0), "matt"))
    wet = wet_rgb(GREEN, ground=ground, film_um=8.0, milky=False)
    assert float(lab_of(wet)[0]) < float(lab_of(dry)[0])
    milky = wet_rgb(AMBER, ground=ground, film_um=8.0)
    clear = wet_rgb(AMBER, ground=ground, film_um=8.0, milky=False)
    assert float(lab_of(milky)[0]) > float(lab_of(clear)[0])


def test_yellow_over_black_turns_green_and_comes_back() -> None:
    yellow = paint_optics("#f2c200", opacity="semi_opaque")

    def over_black(um: float) -> np.ndarray:
        return rgb_of(outside_film(film_over(yellow, BLACK_GROUND, um), "matt"))

    own = masstone_rgb(yellow)
    thin_hue, own_hue = (float(oklch_of(c)[2]) for c in (over_black(3.0), own))
    assert thin_hue - own_hue >= 8
    assert float(ciede2000(lab_of(over_black(400.0)), lab_of(own))) < 0.5


def test_thin_white_over_black_stays_grey() -> None:
    white = paint_optics("#f3f2ec", opacity="opaque")

    def lightness(um: float) -> float:
        return float(lab_of(rgb_of(outside_film(film_over(white, BLACK_GROUND, um), "matt")))[0])

    light = {um: lightness(um) for um in (3.0, 9.0)}
    assert 50 <= light[3.0] <= 70
    assert 72 <= light[9.0] <= 86


def test_aiming_before_a_tint_lands_on_the_target_when_a_paint_can() -> None:
    target = rgb("#b98a2e")
    later = [Film(AMBER, 4.0), varnish_film("matt")]
    aimed = aim_before(target, later)
    assert aimed.left_over < 0.3
    landed = after_films(aimed.inside, later)
    assert float(ciede2000(lab_of(landed), lab_of(target))) < 0.3
    assert float(lab_of(aimed.rgb)[0]) > float(lab_of(target)[0]), "overshoot is lighter"


def test_what_no_paint_can_make_up_for_is_told() -> None:
    aimed = aim_before(rgb("#f0f4ff"), [Film(AMBER, 12.0)])
    assert aimed.left_over > 5
    assert float(lightness_of(np.clip(aimed.rgb, 0, 1) @ [0.2126, 0.7152, 0.0722])) < 99.5
    nothing = aim_before(rgb("#4b5a35"), [])
    assert nothing.rgb == pytest.approx(rgb("#4b5a35"), abs=2e-3)


@given(st.floats(0.2, 0.95), st.floats(0, 360))
@settings(max_examples=40, deadline=None)
def test_the_most_chroma_lies_on_the_edge_of_the_gamut(lightness: float, hue: float) -> None:
    most = most_chroma(lightness, hue)
    assert in_gamut(rgb_of_oklch([lightness, max(most - 1e-3, 0), hue]))
    assert not in_gamut(rgb_of_oklch([lightness, most + 2e-3, hue]))


def test_colours_come_into_gamut_at_equal_lightness_and_hue() -> None:
    wild = rgb_of_oklch([0.7, 0.35, 145.0])
    tamed, changed = into_gamut(wild)
    assert changed
    level, _, hue = (float(v) for v in oklch_of(tamed))
    assert level == pytest.approx(0.7, abs=0.01)
    assert hue == pytest.approx(145.0, abs=1.0)
    same, changed = into_gamut(rgb("#4b5a35"))
    assert not changed
    assert same == pytest.approx(rgb("#4b5a35"))


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
