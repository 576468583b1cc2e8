"""Spectra and the band matrix."""

from __future__ import annotations

import importlib.util
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError
from haze.core.film.spectra import BAND_TO_RGB, rgb_of, spectrum_of_hex
from haze.core.film.srgb import (
    encode_srgb,
    parse_hex,
)

hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


def test_the_band_matrix_is_the_one_its_script_derives() -> None:
    path = Path(__file__).parents[3] / "tools" / "derive_bands.py"
    spec = importlib.util.spec_from_file_location("derive_bands", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    assert pytest.approx(module.band_matrix(), abs=5e-9) == BAND_TO_RGB


@settings(max_examples=60, deadline=None)
@given(hexes)
def test_a_hex_survives_its_spectrum(colour: str) -> None:
    spectrum = spectrum_of_hex(colour)
    assert np.all((spectrum > 0) & (spectrum < 1))
    back = encode_srgb(rgb_of(spectrum))
    assert np.abs(back - parse_hex(colour)).max() <= 0.01


def test_a_spectrum_of_the_wrong_length_is_refused() -> None:
    with pytest.raises(HazeError, match="12 bands"):
        rgb_of(np.ones(11))
