"""The day in order."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import trimesh

from haze.core.day.amounts import (
    coat_amounts,
)
from haze.core.day.runsheet import RINSE_S, Sprayed, run_sheet, total_seconds
from haze.core.day.waits import coat_waits
from helpers import coat, outcome_of, plan

BOX = np.asarray(trimesh.creation.box((20, 30, 60)).vertices, dtype=np.float32)


def test_the_day_runs_in_order_and_rinses_while_it_dries() -> None:
    coats = [coat("a"), coat("b")]
    outs = [outcome_of(c) for c in coats]
    needs = {
        c.id: Sprayed(
            coat_amounts(c, outcome=o, strokes_s=40.0, copies=2, cup_ml=7), coat_waits(c, o)
        )
        for c, o in zip(coats, outs, strict=True)
    }
    steps = run_sheet(plan(*coats, copies=2), sprayed=needs, parts={})
    hands = [s for s in steps if not s.beside]
    assert [s.kind for s in hands] == ["pour", "trial", "spray", "rinse"] * 2
    for one, two in itertools.pairwise(hands):
        assert two.start_s >= one.start_s + one.seconds - 1e-6
    dries = next(s for s in steps if s.kind == "dry")
    assert steps[steps.index(dries) + 1].start_s == dries.start_s
    second = next(s for s in steps if s.coat == "b")
    assert second.start_s == pytest.approx(dries.start_s + max(dries.seconds, RINSE_S))
    assert total_seconds(steps) >= steps[-1].start_s
    assert "2 passes" in next(s.text for s in steps if s.kind == "spray")
