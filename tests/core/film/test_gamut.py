"""Colours brought into a display's gamut."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.film.difference import lch_of
from haze.core.film.gamut import in_gamut, into_gamut, most_chroma, rgb_of_oklch
from haze.core.film.srgb import decode_srgb, parse_hex


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


@given(st.floats(0.2, 0.95), st.floats(0, 360))
@settings(max_examples=40, deadline=None)
def test_the_most_chroma_lies_on_the_edge_of_the_gamut(lightness: float, hue: float) -> None:
    most = most_chroma(lightness, hue)
    assert in_gamut(rgb_of_oklch([lightness, max(most - 1e-3, 0), hue]))
    assert not in_gamut(rgb_of_oklch([lightness, most + 2e-3, hue]))


def test_colours_come_into_gamut_at_equal_lightness_and_hue() -> None:
    tamed = into_gamut(rgb_of_oklch([0.7, 0.35, 145.0]))
    level, chroma, hue = lch_of(tamed)
    assert level == pytest.approx(0.7, abs=0.01)
    assert hue == pytest.approx(145.0, abs=1.0)
    assert chroma == pytest.approx(most_chroma(0.7, 145.0), abs=2e-3)
    assert into_gamut(rgb("#4b5a35")) == pytest.approx(rgb("#4b5a35"))


def test_many_colours_move_as_one_does_and_the_others_stay() -> None:
    rng = np.random.default_rng(3)
    wild = np.stack(
        [rgb_of_oklch([level, 0.3 * rng.random(), 360 * rng.random()]) for level in rng.random(300)]
    ).T
    before = wild.copy()
    moved = into_gamut(wild)
    assert np.array_equal(wild, before), "the colours given are left alone"
    assert in_gamut(moved.T).all()
    inside = in_gamut(wild.T)
    assert 50 < inside.sum() < 250
    assert np.array_equal(moved[:, inside], np.clip(wild[:, inside], 0, 1))
    single = np.stack([into_gamut(c) for c in wild.T], axis=1)
    assert moved == pytest.approx(single, abs=1e-12)
    narrow = into_gamut(wild.astype(np.float32))
    assert narrow.dtype == np.float32
    assert narrow == pytest.approx(moved, abs=2e-4)


def test_brighter_than_white_is_white_and_darker_than_black_black() -> None:
    assert into_gamut(np.array([1.4, 1.4, 1.4])) == pytest.approx([1, 1, 1], abs=1e-6)
    assert into_gamut(np.array([-0.2, -0.2, -0.2])) == pytest.approx([0, 0, 0], abs=1e-6)
