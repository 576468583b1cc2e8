"""Where brush steps and washes leave paint."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.light.brush import settled


def test_a_wash_keeps_its_volume_and_gathers_where_it_is_deep() -> None:
    rng = np.random.default_rng(2)
    um = np.full(500, 4.0, dtype=np.float32)
    cavity, area = (rng.uniform(0.1, 1, 500).astype(np.float32) for _ in range(2))
    before = um.copy()
    ran = settled(um, cavity=cavity, area=area, gathers=3.0)
    assert float((area * ran).sum()) == pytest.approx(float((area * um).sum()), rel=1e-5)
    assert ran[np.argmax(cavity)] > 4.0 > ran[np.argmin(cavity)]
    # twice as deep: 1 + 3 against 1 + 0
    pair = settled(
        np.full(2, 1.0, np.float32),
        cavity=np.array([0, 1], np.float32),
        area=np.ones(2, np.float32),
        gathers=3.0,
    )
    assert pair[1] / pair[0] == pytest.approx(4.0)
    assert np.array_equal(um, before)
