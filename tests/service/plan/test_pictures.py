"""Pictures of plans."""

from __future__ import annotations

import pytest

from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.pictures import PictureBody, plan_picture
from haze.service.plan.plans import PlanView


@pytest.fixture
def plan(globe: Plan) -> Plan:
    return globe


@pytest.fixture
def on(on_globe: OnPiece) -> OnPiece:
    return on_globe


def test_pictures_are_drawn_once_and_show_the_piece(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    one = bench.thumbnail(cone.plan)
    assert one.startswith(b"\x89PNG")
    assert bench.thumbnail(cone.plan) == one
    other = cone.plan.model_copy(deep=True)
    other.coats = other.coats[:1]
    assert bench.thumbnail(other) != one


def test_pictures_are_png(plan: Plan, on: OnPiece) -> None:
    one = plan_picture(PictureBody(plan=plan), on)
    other = plan_picture(PictureBody(plan=plan, look="value", azimuth_deg=200), on)
    assert one[:4] == other[:4] == b"\x89PNG"
    assert one != other
