"""Mixes, swatches, metals, fluorescence, washes, the wet look: figures and properties."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError
from haze.core.film.kubelka_munk import thick
from haze.core.film.mixing import Share, mixed, tinting_strength
from haze.core.film.paint import (
    paint_optics,
)

GREEN = paint_optics("#4b5a35", opacity="opaque")


WHITE = paint_optics("#f3f2ec", opacity="opaque", finish="satin")


hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


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
