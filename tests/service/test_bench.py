"""The club."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.srgb import lightness_of_rgb
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from helpers import ended


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_smoothing_is_asked_for_once_and_changes_only_what_is_coarse(
    club: Bench, plan: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    on = OnPiece(club.on(plan).piece)
    monkeypatch.setattr(club, "on", lambda _: on)
    wanted = on.deposits.coarse(plan)
    assert wanted
    before = colours(on, plan, after=4, look="as_painted")
    job = club.smooth(plan)
    assert job is not None
    assert ended(club.jobs, job).state == "done"
    assert on.deposits.coarse(plan) == []
    assert club.smooth(plan) is None
    after = colours(on, plan, after=4, look="as_painted")
    assert not np.array_equal(before, after)
    moved = lightness_of_rgb((after.T / 255.0).astype(np.float32)) - lightness_of_rgb(
        (before.T / 255.0).astype(np.float32)
    )
    assert float(np.sqrt(np.mean(moved**2))) < 6
