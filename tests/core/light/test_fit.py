"""Few columns that add up to a wanted one."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.light.fit import nonnegative


def test_nonnegative_on_a_case_worked_by_hand() -> None:
    # G = I, so x = max(b, 0)
    assert nonnegative(np.eye(3), np.array([2.0, -1.0, 0.5])) == pytest.approx([2, 0, 0.5])
    # the second atom alone explains most; the first would need a negative weight beside it
    gram = np.array([[1.0, 0.9], [0.9, 1.0]])
    assert nonnegative(gram, np.array([0.8, 1.0])) == pytest.approx([0.0, 1.0])
