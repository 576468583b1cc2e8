"""Sweeps of asked colours."""

from __future__ import annotations

import pytest

from haze.core.drafting.sites import AWAY, LIGHT, PANELS, sweeps_for
from haze.core.plan.lights import KeyLight


def test_sweeps_follow_the_light_and_the_shade_lies_toward_the_front() -> None:
    left = sweeps_for(KeyLight(azimuth_deg=60))
    right = sweeps_for(KeyLight(azimuth_deg=-60))
    assert left[LIGHT][0].azimuth_deg == 60
    assert left[AWAY][0].azimuth_deg == pytest.approx(305)
    assert right[AWAY][0].azimuth_deg == pytest.approx(55)
    assert len(left) == PANELS
