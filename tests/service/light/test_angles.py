"""Working out angles for a plan."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import CancelledError, HazeError
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight, SkyLight
from haze.service.light.angles import AnglesBody, work_out
from haze.service.piece.onpiece import OnPiece
from helpers import going


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def test_angles_bring_the_light_coats_nearer_to_the_light(plan: Plan, on: OnPiece) -> None:
    lit = plan.model_copy(deep=True)
    lit.lights = [
        KeyLight(azimuth_deg=-70, elevation_deg=15, softness_deg=14),
        SkyLight(strength=0.2),
    ]
    found = work_out(AnglesBody(plan=lit, stations=3), on, going)
    assert [c.coat for c in found.coats] == ["mid", "light"]
    better = lit.model_copy(deep=True)
    for one in found.coats:
        assert 1 <= len(one.stations) <= 3
        assert one.residual is not None
        assert one.dense_residual is not None
        assert one.residual >= one.dense_residual - 1e-6
        next(c for c in better.coats if c.id == one.coat).stations = one.stations
    Plan.model_validate(better.model_dump())
    area = on.piece.mesh.vertex_area * on.piece.counted

    def off(p: Plan) -> float:
        return float(np.sqrt(np.average(on.off_plan(p, 3) ** 2, weights=area)))

    assert off(better) < off(lit)


def test_angles_cover_a_share_and_refuse_what_cannot_be(plan: Plan, on: OnPiece) -> None:
    found = work_out(AnglesBody(plan=plan, coats=["light"], cover_share=0.2), on, going)
    assert found.coats[0].covered_share == pytest.approx(0.2, abs=0.06)
    with pytest.raises(HazeError, match="not in the plan"):
        work_out(AnglesBody(plan=plan, coats=["gold"]), on, going)
    bare = plan.model_copy(update={"coats": plan.coats[:1]})
    with pytest.raises(HazeError, match="no light coat"):
        work_out(AnglesBody(plan=bare), on, going)
    with pytest.raises(CancelledError):
        work_out(AnglesBody(plan=plan), on, lambda *_: False)
