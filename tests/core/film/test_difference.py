"""Colour differences: published pairs."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.film.difference import ciede2000, hue_turn

# Sharma, Wu & Dalal 2005, table 1: L*a*b* pairs and ΔE00
SHARMA = [
    ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
    ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
    ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
    ((50, -1.3802, -84.2814), (50, 0, -82.7485), 1.0000),
    ((50, -1.1848, -84.8006), (50, 0, -82.7485), 1.0000),
    ((50, -0.9009, -85.5211), (50, 0, -82.7485), 1.0000),
    ((50, 0, 0), (50, -1, 2), 2.3669),
    ((50, -1, 2), (50, 0, 0), 2.3669),
    ((50, 2.49, -0.001), (50, -2.49, 0.0009), 7.1792),
    ((50, 2.49, -0.001), (50, -2.49, 0.0010), 7.1792),
    ((50, 2.49, -0.001), (50, -2.49, 0.0011), 7.2195),
    ((50, 2.49, -0.001), (50, -2.49, 0.0012), 7.2195),
    ((50, -0.001, 2.49), (50, 0.0009, -2.49), 4.8045),
    ((50, -0.001, 2.49), (50, 0.0011, -2.49), 4.7461),
    ((50, 2.5, 0), (50, 0, -2.5), 4.3065),
    ((50, 2.5, 0), (73, 25, -18), 27.1492),
    ((50, 2.5, 0), (61, -5, 29), 22.8977),
    ((50, 2.5, 0), (56, -27, -3), 31.9030),
    ((50, 2.5, 0), (58, 24, 15), 19.4535),
    ((50, 2.5, 0), (50, 3.1736, 0.5854), 1.0000),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((63.0109, -31.0961, -5.8663), (62.8187, -29.7946, -4.0864), 1.2630),
    ((35.0831, -44.1164, 3.7933), (35.0232, -40.0716, 1.5901), 1.8645),
    ((22.7233, 20.0904, -46.6940), (23.0331, 14.9730, -42.5619), 2.0373),
    ((90.8027, -2.0831, 1.4410), (91.1528, -1.6435, 0.0447), 1.4441),
    ((6.7747, -0.2908, -2.4247), (5.8714, -0.0985, -2.2286), 0.6377),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]


@pytest.mark.parametrize(("one", "two", "expected"), SHARMA)
def test_ciede2000_published_pairs(
    one: tuple[float, ...], two: tuple[float, ...], expected: float
) -> None:
    assert float(ciede2000(one, two)) == pytest.approx(expected, abs=1e-4)


def test_ciede2000_of_many_equals_one_by_one() -> None:
    one = np.array([p[0] for p in SHARMA], dtype=float)
    two = np.array([p[1] for p in SHARMA], dtype=float)
    assert ciede2000(one, two) == pytest.approx([p[2] for p in SHARMA], abs=1e-4)


@given(st.floats(0, 360), st.floats(-180, 180))
def test_a_hue_turn_is_the_short_way_round(hue: float, turn: float) -> None:
    found = float(hue_turn(hue + turn, hue))
    assert -180 <= found <= 180
    assert abs(found - turn) < 1e-9 or abs(abs(found) - 180) < 1e-9
    assert hue_turn(350, 20) == -30
    assert hue_turn(20, 350) == 30
