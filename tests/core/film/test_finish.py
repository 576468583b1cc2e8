"""Finishes: what matt and gloss add."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.film.difference import lab_of
from haze.core.film.finish import (
    FINISHES,
    SURFACE,
    inside_film,
    mixed_surface,
    nearest_finish,
    outside_film,
)
from haze.core.film.paint import (
    masstone_rgb,
    paint_optics,
)
from haze.core.film.spectra import rgb_of, spectrum_of_hex


@given(st.floats(0.0, 0.99), st.sampled_from(FINISHES))
def test_the_surface_has_an_inverse(seen: float, finish: str) -> None:
    assert float(outside_film(inside_film(seen, finish), finish)) == pytest.approx(seen, abs=1e-6)


def test_matt_to_gloss_darkens_by_what_painters_see() -> None:
    from haze.core.film.srgb import lightness_of

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
