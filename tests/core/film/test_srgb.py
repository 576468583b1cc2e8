"""sRGB as text, encoded and linear."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.film.difference import lab_of
from haze.core.film.srgb import (
    decode_srgb,
    encode_srgb,
    lightness_of,
    luminance_of_lightness,
)


def test_lightness_of_published_greys() -> None:
    assert float(lightness_of(0.184187)) == pytest.approx(50.0, abs=1e-3)
    assert float(luminance_of_lightness(50.0)) == pytest.approx(0.184187, abs=1e-5)
    assert lab_of([1.0, 1.0, 1.0]) == pytest.approx([100, 0, 0], abs=1e-6)


@given(st.floats(0, 1))
def test_srgb_encoding_has_an_inverse(v: float) -> None:
    assert float(decode_srgb(encode_srgb(v))) == pytest.approx(v, abs=1e-6)
