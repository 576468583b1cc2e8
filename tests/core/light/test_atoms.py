"""Samples and stations to choose from."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.light.atoms import samples


def test_samples_stand_for_equal_areas() -> None:
    area = np.array([1, 0, 2, 5, 2], dtype=np.float32)
    counted = np.array([True, True, True, False, True])
    chosen = samples(area, counted, count=500)
    share = np.bincount(chosen, minlength=5) / 500
    assert share == pytest.approx([0.2, 0, 0.4, 0, 0.4], abs=0.01)
