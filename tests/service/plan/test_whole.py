"""All that is worked out for a plan."""

from __future__ import annotations

import pytest

from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.service.piece.layers import layers_of
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.plans import PlanView
from haze.service.plan.whole import worked_out


def test_a_new_plan_has_four_clean_coats(cone: PlanView, on_cone: OnPiece) -> None:
    work = worked_out(cone.plan, on_cone)
    assert [c.task for c in cone.plan.coats] == ["prime", "light", "light", "veil"]
    assert all(c.spray.verdict == "clean" for c in work.coats)
    assert work.to_mind == 0
    # a cone of 10 mm radius and 25 mm height: π r (r + √(r² + h²)) = 11.6 cm²
    assert work.area_cm2 == pytest.approx(11.6, rel=0.02)
    assert all(c.cup.poured[0].role == "thinner" for c in work.coats)
    assert work.coats[0].layer.covered_share > work.coats[2].layer.covered_share
    for told in work.coats:
        whole, parts = told.layer, told.layer.parts
        assert 0 <= whole.covered_share <= 1
        assert 0 <= whole.landed_share <= 1
        assert min(p.landed_share for p in parts) <= whole.landed_share + 1e-6
        assert max(p.landed_share for p in parts) >= whole.landed_share - 1e-6
        assert whole.bare_cm2 == pytest.approx(sum(p.bare_cm2 for p in parts), abs=1e-3)
    assert work.coats[3].layer.transparent
    assert not work.coats[0].layer.transparent
    for shares in (work.light.show, work.light.around):
        assert shares.lit + shares.half + shares.dark == pytest.approx(1, abs=1e-6)
    assert work.light.show.lit > work.light.around.lit
    assert {s.coat for s in work.steps} == {c.id for c in cone.plan.coats}


def test_an_empty_plan_works_out_to_nothing(cone: PlanView, on_cone: OnPiece) -> None:
    empty = cone.plan.model_copy(update={"coats": []})
    work = worked_out(empty, on_cone)
    assert work.coats == []
    assert (work.totals.hands_s, work.totals.sittings) == (0, 0)
    assert colours(on_cone, empty, after=0, look="as_painted").shape[1] == 3


def test_what_lies_in_patches_lands_on_their_share(lantern: Plan, on_lantern: OnPiece) -> None:
    paint = lantern.sprayed[-1].paint
    given = {"id": "chips", "name": "Chips", "role": "chips", "paint": paint}
    chips = HandStep.model_validate(given)
    plan = lantern.model_copy(update={"coats": [*lantern.coats, chips]})
    layer = layers_of(plan, on_lantern)["chips"]
    share = on_lantern.fields.hand("chips")
    area = on_lantern.piece.area
    assert layer.landed_share == pytest.approx(float((area * share).sum() / area.sum()), rel=1e-3)
    assert layer.covered_share == layer.landed_share
    assert 0 < layer.landed_share < 0.5
