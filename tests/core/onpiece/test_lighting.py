"""Lights that add up, the shares they leave, and where two of them meet: by hand on four points."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.onpiece.lighting import (
    FULL_LIGHT,
    UNLIT,
    meeting,
    preset,
    shares,
    total_colour,
    total_value,
    with_opposite,
)
from haze.core.plan.lights import KeyLight, SkyLight

AREA = np.array([1, 2, 3, 4], dtype=np.float32)
ALL = np.ones(4, dtype=bool)


def test_lights_add_by_strength_and_are_full_at_one() -> None:
    key, sky = KeyLight(strength=0.5), SkyLight(id="sky", strength=2.0)
    values = {
        "key": np.array([0, 0.4, 1, 1], dtype=np.float32),
        "sky": np.array([0.1, 0.2, 0.3, 0.5], dtype=np.float32),
    }
    assert total_value([key, sky], values) == pytest.approx([0.2, 0.6, 1.0, 1.0])
    assert total_value([key], values) == pytest.approx([0, 0.2, 0.5, 0.5])


def test_lights_keep_their_colours() -> None:
    red = KeyLight(colour="#ff0000", strength=0.5)
    value = {"key": np.array([0, 1], dtype=np.float32)}
    found = total_colour([red], value)
    assert found.shape == (3, 2)
    assert found[:, 0] == pytest.approx([UNLIT] * 3)
    assert found[:, 1] == pytest.approx([UNLIT + 0.5 * (FULL_LIGHT - UNLIT), UNLIT, UNLIT])
    blue = KeyLight(id="k2", colour="#0000ff")
    both = total_colour([red, blue], value | {"k2": np.array([0.25, 1], dtype=np.float32)})
    assert both[2, 0] == pytest.approx(UNLIT + 0.25 * (FULL_LIGHT - UNLIT))
    assert both[0, 1] == found[0, 1]
    with pytest.raises(ValueError, match="no lights"):
        total_colour([], {})


def test_shares_count_by_surface() -> None:
    value = np.array([0.5, 0.49, 0.15, 0.14], dtype=np.float32)
    found = shares(value, area=AREA, counted=ALL)
    assert (found.lit, found.half, found.dark) == pytest.approx((0.1, 0.5, 0.4))
    few = shares(value, area=AREA, counted=np.array([True, False, False, True]))
    assert (few.lit, few.half, few.dark) == pytest.approx((0.2, 0.0, 0.8))


def test_two_lights_meet_where_both_are_felt() -> None:
    one = np.array([1, 0.25, 0.2, 0], dtype=np.float32)
    other = np.array([0.3, 0.1, 0.9, 0.24], dtype=np.float32)
    found = meeting(one, other, area=AREA, counted=ALL)
    assert (found.both, found.first, found.second, found.neither) == pytest.approx(
        (0.1, 0.2, 0.3, 0.4)
    )


def test_an_opposite_key_stands_as_high_on_the_other_side_with_an_id_of_its_own() -> None:
    key = KeyLight(azimuth_deg=40, elevation_deg=30)
    taken = KeyLight(id="key-2", azimuth_deg=0)
    lights = with_opposite([key, taken], key)
    other = lights[-1]
    assert lights[:2] == [key, taken]
    assert (other.id, other.azimuth_deg, other.elevation_deg) == ("key-3", -140, 30)  # type: ignore[union-attr]
    assert other.strength < key.strength


def test_presets_are_called_by_name() -> None:
    assert preset("noon").lights[0].elevation_deg == pytest.approx(90, abs=10)  # type: ignore[union-attr]
