"""Where a plan stands."""

from __future__ import annotations

from pathlib import Path

import pytest

from haze.core.plan.document import Plan
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.plans import PlanSummary, Stands
from haze.service.plan.stands import keep_stands, known_stands, stands_of
from haze.service.plan.whole import worked_out


def test_hands_are_those_of_the_day_and_what_is_to_mind_is_counted(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    told = stands_of(lantern, on_lantern)
    work, found = worked_out(lantern, on_lantern), look_over(lantern, on_lantern).findings
    assert told.hands == work.totals.hands
    assert told.to_mind == len(found) + work.to_mind
    assert (told.first is None) == (told.to_mind == 0)


def test_a_cup_that_does_not_spray_clean_is_named_unless_it_is_left_out(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    plan = lantern.model_copy(deep=True)
    coat = plan.sprayed[0]
    coat.spray = coat.spray.model_copy(update={"pressure_psi": 40.0, "distance_mm": 15.0})
    wild = stands_of(plan, on_lantern)
    quiet = stands_of(lantern, on_lantern)
    assert wild.to_mind > quiet.to_mind
    if not look_over(plan, on_lantern).findings:
        assert wild.first == f"{coat.name} does not spray clean as it is set."
    only = plan.model_copy(update={"coats": [coat]})
    told = stands_of(only, on_lantern)
    coat.off = True
    assert stands_of(only, on_lantern).to_mind < told.to_mind


def test_where_a_plan_stands_is_kept_for_the_same_program_and_version(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    one = PlanSummary.model_construct(id="a" * 32, version=3, updated_at="2026-05-01T10:00:00Z")
    found = Stands(hands="1 h", to_mind=2, first="Tern White runs out.")
    assert known_stands(one, tmp_path, taught="") is None
    keep_stands(one, found, tmp_path, taught="")
    assert known_stands(one, tmp_path, taught="") == found
    assert known_stands(one.model_copy(update={"version": 4}), tmp_path, taught="") is None
    assert known_stands(one, tmp_path, taught="t1") is None
    kept = next(tmp_path.glob("*.json"))
    monkeypatch.setattr("haze.service.piece.files.made_by", lambda: "another")
    assert known_stands(one, tmp_path, taught="") is None
    monkeypatch.undo()
    kept.write_bytes(b'{"hands": 1')
    assert known_stands(one, tmp_path, taught="") is None
