"""All orders of colour tried for one wish."""

from __future__ import annotations

import pytest

from haze.core.errors import CancelledError
from haze.core.plan.document import Plan
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.landing import Landing
from haze.service.plan.orders import OrderTried, orders_tried, why
from haze.service.plan.scheme import shelf_given
from haze.service.plan.sequence import PlanCost, StartBody, StartedOut
from helpers import PAINTS


def tried(plan: Plan, name: str, *, off: float, kept: float, minutes: float) -> OrderTried:
    lands = Landing(
        shade="#000000",
        middle="#000000",
        light="#000000",
        delta_e=off,
        shade_delta_e=0,
        light_delta_e=0,
        best_delta_e=0,
        chroma_kept=kept,
        light_chroma_kept=kept,
        middle_spread=0,
        words="",
        notes=[],
    )
    cost = PlanCost(steps=1, cups=1, rounds=1, minutes=minutes, ml=1, findings=0)
    found = StartedOut(plan=plan, cost=cost, asked="#000000", lands=lands, notes=[])
    return OrderTried(order=name.lower(), name=name, found=found, refused=None)


def test_the_best_is_told_against_the_next(lantern: Plan) -> None:
    veil = tried(lantern, "Veil", off=2.1, kept=0.92, minutes=100)
    climb = tried(lantern, "Climb", off=4.0, kept=0.8, minutes=141)
    assert why([climb, veil], 1) == (
        "Veil suits this shelf best: it ends ΔE 2.1 from the asked colour (Climb 4.0), keeps 92% "
        "of the colour's strength (the other 80%) and takes 40 min less of hands."
    )
    alike = tried(lantern, "Climb", off=2.4, kept=0.9, minutes=104)
    assert why([veil, alike], 0) == (
        "Veil suits this shelf best: it ends ΔE 2.1 from the asked colour (Climb 2.4)."
    )
    refused = OrderTried(order="climb", name="Climb", found=None, refused="No.")
    assert why([veil, refused], 0) == "Veil is the only order this shelf allows."
    assert why([refused], None).startswith("None of the orders")


def test_every_order_is_tried_and_a_refused_one_says_why(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    opaque = [p for p in PAINTS if p.opacity != "transparent"]
    told: list[float] = []

    def report(done: float, doing: str) -> bool:
        told.append(done)
        return True

    body = StartBody(plan=lantern, what="figure", colours=["#2f7a3a"])
    out = orders_tried(body, on_lantern, shelf_given(opaque), report)
    by_order = {one.order: one for one in out.orders}
    assert list(by_order) == ["climb", "descend", "veil", "span"]
    assert by_order["veil"].refused is not None
    assert "no transparent paint" in by_order["veil"].refused
    assert out.best is not None
    best = out.orders[out.best]
    assert best.found is not None
    assert best.found.plan.schools.order == best.order
    assert out.why.startswith(f"{best.name} suits this shelf best")
    assert told == sorted(told)
    with pytest.raises(CancelledError):
        orders_tried(body, on_lantern, shelf_given(opaque), lambda *_: False)
