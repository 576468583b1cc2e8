"""Where aimed coats go."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.drafting.stock import Stock
from haze.core.onpiece.aiming import AimedAt, AimedDeposit
from haze.core.plan.coat import Aim, Coat
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.start import NewCoatBody, draft
from haze.service.plan.whole import worked_out


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


AIMS = {
    "recesses": Aim(field="recesses"),
    "panels": Aim(field="panels", margin_mm=2),
    "edges": Aim(field="edges"),
    "ramp": Aim(field="ramp", start=(0, 0, 0), end=(0, 0, 30)),
    "glow": Aim(field="glow", light="glow"),
    "part": Aim(field="part", part="part-2", margin_mm=1),
}


def deposit_of(plan: Plan, coat: Coat, on: OnPiece) -> AimedDeposit:
    assert coat.aim is not None
    at = AimedAt.of(coat.aim, plan, on.piece.parts_in(plan))
    return AimedDeposit(at, coat.spray.distance_mm, plan.piece.cones)


@pytest.mark.parametrize("field", AIMS)
def test_aimed_coats_land_where_they_are_aimed(
    plan: Plan, on: OnPiece, stock: Stock, field: str
) -> None:
    lit = plan.model_copy(update={"lights": [GlowLight(at=(0, -9, 10), reach_mm=8)]}, deep=True)
    coat = draft(
        NewCoatBody(
            plan=lit,
            id="aimed",
            task="rung",
            paint=lit.coats[1].paint,
            thinner=lit.coats[1].thinner,
            after=len(lit.coats),
            aim=AIMS[field],
        ),
        stock,
    )
    assert coat.stations == []
    assert coat.aim is not None
    lit.coats.append(coat)
    film = on.step_film(lit, len(lit.coats) - 1)
    landed = on.fields.aimed(deposit_of(lit, coat, on))
    assert landed.min() >= 0
    assert 0.05 < landed.max() <= 1.0
    assert np.corrcoef(film, landed)[0, 1] > 0.9
    told = worked_out(lit, on)
    work = told.coats[-1]
    assert work.aim_words
    assert work.stations == []
    assert (work.panels is not None) == (field == "panels")
    assert any(s.coat == "aimed" and s.kind == "spray" for s in told.steps)
    assert work.cup.spray_ml > 0
    backwards = coat.model_copy(update={"aim": coat.aim.model_copy(update={"reversed": True})})
    other = on.fields.aimed(deposit_of(lit, backwards, on))
    # the two together go over everything once, as far as spray reaches
    reached = on.piece.counted & on.reach.reachable(plan.piece.cones)
    if field != "part":
        sees = on.piece.table[on.reach.free_rows(plan.piece.cones)].max(axis=0) / 255
        assert (landed + other)[reached] == pytest.approx(sees[reached], abs=0.03)
