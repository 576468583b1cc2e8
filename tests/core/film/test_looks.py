"""From linear light to bytes and text."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.looks import value_bytes
from haze.core.film.srgb import (
    encode_srgb,
)


def test_values_are_the_grey_of_equal_lightness() -> None:
    linear = np.array([[0.5], [0.1], [0.3]], dtype=np.float32)
    grey = value_bytes(linear)[0]
    assert grey[0] == grey[1] == grey[2]
    y = 0.212639 * 0.5 + 0.7151687 * 0.1 + 0.0721923 * 0.3
    assert grey[0] == pytest.approx(float(encode_srgb(y)) * 255, abs=1)
