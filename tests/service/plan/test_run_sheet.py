"""The run sheet of a plan for a program."""

from __future__ import annotations

import pytest

from haze.core.drafting.coats import GROUND
from haze.core.errors import NotInPlanError
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.cups.cups import needs_of
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import plan_named
from haze.service.plan.run_sheet import run_steps, sheet_of, totals_of


def with_hand(plan: Plan, *, part: str | None) -> Plan:
    step = HandStep(id="h", name="Chips", role="chips", paint=plan.sprayed[0].paint, part=part)
    return plan.model_copy(update={"coats": [*plan.coats, step]})


def test_every_step_of_a_plan_is_told_in_sum(lantern: Plan, on_lantern: OnPiece) -> None:
    rest = HandStep(id="r", name="Overnight", role="rest", minutes=8 * 60)
    plan = lantern.model_copy(update={"coats": [lantern.coats[0], rest, *lantern.coats[1:]]})
    sheet = sheet_of(plan, on_lantern)
    assert [s.name for s in sheet.steps] == [c.name for c in plan.coats]
    ground, night = sheet.steps[:2]
    assert (ground.kind, ground.sides, ground.copies) == (
        "spray",
        len(GROUND),
        plan.piece.copies,
    )
    assert ground.words.startswith(ground_cup(ground.cup))
    assert (night.kind, night.hands_min, night.wait_min) == ("rest", 0, 480)
    needs = needs_of(plan, on_lantern)
    totals = totals_of(run_steps(plan, on_lantern, needs), needs)
    assert sheet.hands_min_low < sheet.hands_min / 1.3 + 0.5
    assert sheet.hands_min_high > sheet.hands_min * 1.3 - 0.5
    assert sheet.waits_min_low <= sheet.waits_min <= sheet.waits_min_high
    assert sheet.hands_min == pytest.approx(totals.hands_s / 60, abs=0.3)
    assert sheet.hands_min == pytest.approx(sum(s.hands_min for s in sheet.steps), abs=2)
    assert sheet.elapsed_min == pytest.approx(
        sheet.hands_min + sheet.waits_min + night.wait_min, abs=1
    )
    assert sheet.words.endswith("two sittings, one night between.")


def ground_cup(cup: list) -> str:  # type: ignore[type-arg]
    first = cup[0]
    return f"{first.drops} drop" if first.drops else f"{first.ml:.1f} ml"


def test_a_cup_is_counted_or_measured_never_both(lantern: Plan, on_lantern: OnPiece) -> None:
    many = lantern.model_copy(update={"piece": lantern.piece.model_copy(update={"copies": 400})})
    for plan in (lantern, many):
        for step in sheet_of(plan, on_lantern).steps:
            assert (step.drops is None) != (step.ml is None)
            assert all((p.drops is None) != (p.ml is None) for p in step.cup)
    assert all(s.ml for s in sheet_of(many, on_lantern).steps)
    assert any(s.drops for s in sheet_of(lantern, on_lantern).steps)


def test_a_step_by_hand_takes_as_long_as_its_part_is_large(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    parts = [part.id for part in on_lantern.piece.parts_in(lantern)]
    whole, *each = (
        sheet_of(with_hand(lantern, part=part), on_lantern).steps[-1].hands_min
        for part in (None, *parts)
    )
    assert len(parts) == 4
    assert all(one < whole for one in each)


def test_a_plan_is_found_by_name_or_as_the_one_last_changed(stocked: Bench, cone: object) -> None:
    assert plan_named(stocked.db, None).name == "Practice cone"
    assert plan_named(stocked.db, "Practice cone").name == "Practice cone"
    with pytest.raises(NotInPlanError, match="Practice cone"):
        plan_named(stocked.db, "Other")
    (one,) = plans.every(stocked.db)
    plans.put_away(stocked.db, one.id, version=one.version, trashed=True)
    with pytest.raises(NotInPlanError, match="no plan in this folder"):
        plan_named(stocked.db, None)
