"""How pictures are taken, and what goes wrong with them."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.inspect.shot import FAULTS, Shot, usual, with_fault


def test_the_same_draw_takes_the_same_picture() -> None:
    shots = [usual(np.random.default_rng(5)) for _ in range(2)]
    assert shots[0] == shots[1] != usual(np.random.default_rng(6))


@pytest.mark.parametrize("fault", FAULTS)
def test_each_fault_changes_one_thing_for_the_worse(fault: str) -> None:
    rng = np.random.default_rng(2)
    good = usual(rng)
    bad = with_fault(good, fault, rng)  # type: ignore[arg-type]
    changed = [n for n in Shot.__dataclass_fields__ if getattr(good, n) != getattr(bad, n)]
    assert 1 <= len(changed) <= 2, changed
