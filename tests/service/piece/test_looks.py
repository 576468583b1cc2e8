"""Looks of the piece."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.plan.document import Plan
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_looks_show_what_they_say(plan: Plan, on: OnPiece) -> None:
    bare = colours(on, plan, after=0, look="as_painted")
    assert np.ptp(bare.astype(int), axis=0).max() == 0
    value = colours(on, plan, after=4, look="value")
    assert np.array_equal(value[:, 0], value[:, 2])
    film = on.layers(plan, 3)[-1].film_um
    shown = colours(on, plan, after=3, look="this_coat").astype(int).sum(axis=1)
    order = np.argsort(film)
    assert np.all(np.diff(shown[order]) >= 0)
    assert on.square_on_um(plan, plan.coats[2]) > 0


def test_looks_answer_what_they_ask(plan: Plan, on: OnPiece) -> None:
    reach = colours(on, plan, after=4, look="reach")[:, 0]
    reached = on.reach.reachable(plan.piece.cones)
    assert reach[reached].min() > reach[~reached].max()
    bare = colours(on, plan, after=0, look="still_bare")
    assert np.ptp(bare) == 0
    coated = colours(on, plan, after=1, look="still_bare")[:, 0]
    film = on.total_film(plan, 1)
    assert coated[film >= 1].min() > coated[film < 1].max()
    off = on.off_plan(plan)
    grey = colours(on, plan, after=4, look="off_plan")[:, 0].astype(int)
    order = np.argsort(off)
    assert np.all(np.diff(grey[order]) >= 0)
    # judged as the plan ends, whichever step is looked at
    early = colours(on, plan, after=1, look="off_plan")[:, 0].astype(int)
    assert np.array_equal(early, grey)
