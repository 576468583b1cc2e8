"""Even draws."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.spray.draws import normals


def test_draws_are_standard_normals_in_every_dimension() -> None:
    z = normals(3, count=1024, seed=7)
    assert z.shape == (1024, 3)
    # even points come nearer to the moments than chance would: 1/√1024 is .031
    assert z.mean(axis=0) == pytest.approx([0, 0, 0], abs=0.005)
    assert z.std(axis=0) == pytest.approx([1, 1, 1], abs=0.01)
    assert np.corrcoef(z.T)[np.triu_indices(3, 1)] == pytest.approx([0, 0, 0], abs=0.02)
    # a quarter lies below the lower quartile
    assert (z < -0.67449).mean(axis=0) == pytest.approx([0.25] * 3, abs=0.003)


def test_draws_are_the_same_on_every_run_and_others_for_another_seed() -> None:
    once = normals(2, count=64, seed=1).copy()
    normals.cache_clear()
    assert np.array_equal(normals(2, count=64, seed=1), once)
    assert not np.allclose(normals(2, count=64, seed=2), once)


def test_no_draw_lies_beyond_belief() -> None:
    assert np.abs(normals(4, count=4096, seed=3)).max() < 4.8
