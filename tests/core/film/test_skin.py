"""Coats on many vertices, and on one."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.film.difference import oklch_of
from haze.core.film.paint import (
    PaintOptics,
    fluorescent,
    metallic,
    paint_optics,
)
from haze.core.film.skin import (
    add_coat,
    bare_skin,
    coated,
    from_below,
    linear_rgb,
    seen,
    two_way,
)

hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


@settings(max_examples=40, deadline=None)
@given(hexes, st.floats(0.5, 30))
def test_a_transparent_colour_keeps_the_order_of_values(colour: str, um: float) -> None:
    veil = paint_optics(colour, opacity="transparent")
    ramp = np.linspace(0.02, 0.9, 30)
    ground = np.repeat(ramp[None, :], 12, axis=0).astype(np.float32)
    after = add_coat(ground, veil, np.full(30, um, dtype=np.float32))
    luminance = np.array([0.2126, 0.7152, 0.0722]) @ linear_rgb(after, 0.03)
    assert np.all(np.diff(luminance) > -1e-5)


def test_vertices_agree_with_one_point_in_double_precision() -> None:
    paints = [
        (paint_optics("#17181a", opacity="opaque"), 4.0),
        (paint_optics("#f3f2ec", opacity="opaque"), 6.0),
        (metallic("#a98545"), 0.8),
        (fluorescent(GREEN, masstone="#57e6b0", strength=0.5), 3.0),
        (paint_optics("#f2a01c", opacity="transparent", finish="satin"), 5.0),
    ]
    many, single = bare_skin("#8d8e8c", 5000), bare_skin("#8d8e8c", 1, single=False)
    for optics, um in paints:
        many = coated(many, optics, np.full(5000, um, dtype=np.float32))
        single = coated(single, optics, np.array([um]))
    assert many.inside.dtype == np.float32
    assert single.inside.dtype == np.float64
    assert np.ptp(seen(many), axis=1).max() == 0
    assert seen(many)[:, 0] == pytest.approx(seen(single)[:, 0], abs=2e-5)
    assert many.metal[0] == pytest.approx(single.metal[0], abs=1e-5)


def test_no_film_changes_nothing_and_inputs_stay() -> None:
    ground = bare_skin("#604020", 100).inside
    before = ground.copy()
    after = add_coat(ground, paint_optics("#ffffff", opacity="opaque"), np.zeros(100, np.float32))
    assert np.array_equal(ground, before)
    assert after == pytest.approx(ground, abs=1e-5)


GREEN = paint_optics("#4b5a35", opacity="opaque")


WHITE = paint_optics("#f3f2ec", opacity="opaque", finish="satin")


AMBER = paint_optics("#f2a01c", opacity="transparent", finish="satin")


def one(um: float) -> np.ndarray:
    return np.full(1, um, dtype=np.float32)


def test_transparent_colour_filters_the_metal_below_it() -> None:
    steel = coated(bare_skin("#17181a", 1), metallic("#b4b8bb"), one(8))
    tinted = coated(steel, AMBER, one(3))
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


def test_few_droplets_are_no_film_and_many_are() -> None:
    ground = bare_skin("#17181a", 1).inside
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


def test_patches_are_the_mean_of_coated_and_bare() -> None:
    ground = bare_skin("#3a4a2a", 3)
    chip = paint_optics("#3f4042", opacity="opaque")
    whole = coated(ground, chip, np.full(3, 7.0, dtype=np.float32))
    film = np.array([0.0, 2.8, 7.0], dtype=np.float32)
    patched = coated(ground, chip, film, patch_um=7.0)
    share = film / 7.0
    mean = ground.inside + (whole.inside - ground.inside) * share
    assert patched.inside == pytest.approx(mean, abs=1e-6)
    assert np.array_equal(patched.inside[:, 0], ground.inside[:, 0])
    # thinned out evenly instead, the same paint would hide far more of the green
    even = coated(ground, chip, film)
    assert np.abs(even.inside - whole.inside)[:, 1].sum() < np.abs(mean - whole.inside)[:, 1].sum()


def test_clear_colour_leaves_metal_what_it_is_and_an_opaque_coat_buries_it() -> None:
    steel = metallic("#b4b8bb")
    metal = coated(bare_skin("#202020", 1), steel, np.full(1, 6.0, dtype=np.float32))
    clear = paint_optics("#d9a860", opacity="transparent")
    film = np.full(1, 3.0, dtype=np.float32)
    tinted = coated(metal, clear, film)
    assert metal.metal[0] > 0.95
    assert tinted.metal[0] > 0.85
    assert seen(tinted)[2, 0] < 0.8 * seen(metal)[2, 0], "but it is not the colour it was"
    white = paint_optics("#f4f4f0", opacity="opaque")
    buried = coated(metal, white, np.full(1, 40.0, dtype=np.float32))
    assert buried.metal[0] < 0.1
    assert from_below(metal.inside, clear, np.zeros(1, dtype=np.float32))[0] == pytest.approx(1)


def test_patches_of_a_paint_that_shines_shine_by_their_share() -> None:
    ground = bare_skin("#f0f0f0", 3)
    glowing = fluorescent(GREEN, masstone="#57e6b0", strength=0.5)
    whole = coated(ground, glowing, np.full(3, 4.0, dtype=np.float32))
    film = np.array([0.0, 1.0, 4.0], dtype=np.float32)
    patched = coated(ground, glowing, film, patch_um=4.0)
    assert whole.emission is not None
    assert patched.emission is not None
    assert patched.emission == pytest.approx(whole.emission * film / 4.0, abs=1e-6)
    # and chips over it take its light away by theirs
    chip = paint_optics("#3f4042", opacity="opaque")
    chipped = coated(whole, chip, np.array([0.0, 3.5, 7.0], dtype=np.float32), patch_um=7.0)
    assert chipped.emission is not None
    assert chipped.emission[:, 0] == pytest.approx(whole.emission[:, 0])
    assert np.all(np.diff(chipped.emission.sum(axis=0)) < 0)
