from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core import units
from haze.core.errors import OutOfRangeError, require_range


def test_published_conversions() -> None:
    assert units.psi_to_bar(14.5038) == pytest.approx(1.0, rel=1e-5)
    assert units.psi_to_kpa(1.0) == pytest.approx(6.894757)
    assert units.mm_to_inch(25.4) == 1.0
    assert units.celsius_to_fahrenheit(20.0) == 68.0
    assert units.celsius_to_kelvin(0.0) == 273.15
    assert units.drops_to_ml(20, drop_ul=50) == 1.0


@given(st.floats(0, 1000))
def test_ways_there_and_back(value: float) -> None:
    assert units.bar_to_psi(units.psi_to_bar(value)) == pytest.approx(value, abs=1e-9)
    assert units.ml_to_drops(units.drops_to_ml(value, drop_ul=37), drop_ul=37) == pytest.approx(
        value
    )


def test_ranges_name_field_value_and_unit() -> None:
    with pytest.raises(OutOfRangeError, match=r"depth is 3 mm; accepted is 0 to 2 mm\."):
        require_range("depth", 3, 0, 2, "mm")
    with pytest.raises(OutOfRangeError):
        require_range("depth", float("nan"), 0, 2)
