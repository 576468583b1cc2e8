"""What stands on a recipe sheet is what the plan says."""

from __future__ import annotations

import re
from datetime import date

import pytest

from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.document import Plan
from haze.service.files.recipe import recipe_page
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.run_sheet import sheet_of

TODAY = date(2026, 11, 27)


def test_every_step_that_is_done_has_its_line(lantern: Plan, on_lantern: OnPiece) -> None:
    first, *others = lantern.coats
    plan = lantern.model_copy(update={"coats": [first.model_copy(update={"off": True}), *others]})
    page = recipe_page(plan, on_lantern, picture=None, after={}, unit="psi", today=TODAY)
    assert [r.number for r in page.rows] == list(range(1, len(others) + 1))
    assert [r.name for r in page.rows] == [c.mix.name for c in others if c.mix]
    sheet = {s.name: s for s in sheet_of(plan, on_lantern).steps}
    for row in page.rows:
        for poured in sheet[row.name].cup:
            assert poured.what in row.cup
            assert str(poured.drops) in row.cup or f"{poured.ml:.1f} ml" in row.cup
    assert page.foot == "Haze, 2026-11-27."


def test_what_is_too_much_to_count_is_told_in_millilitres(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    many = lantern.model_copy(update={"piece": lantern.piece.model_copy(update={"copies": 60})})
    page = recipe_page(many, on_lantern, picture=None, after={}, unit="psi", today=TODAY)
    assert re.search(r"\b\d+\.\d ml ", page.rows[0].cup)
    assert "60 copies" in page.foot


@pytest.mark.parametrize(("unit", "first"), [("psi", " psi ("), ("bar", " bar (")])
def test_pressure_is_told_in_both_units(
    lantern: Plan, on_lantern: OnPiece, unit: str, first: str
) -> None:
    page = recipe_page(lantern, on_lantern, picture=None, after={}, unit=unit, today=TODAY)
    psi = lantern.sprayed[0].spray.pressure_psi
    setting = page.rows[0].setting
    assert first in setting
    assert f"{psi:.3g} psi" in setting
    assert f"{psi * 0.0689476:.2g} bar" in setting


def test_sides_that_go_round_at_one_height_are_told_together(
    lantern: Plan, on_lantern: OnPiece
) -> None:
    page = recipe_page(lantern, on_lantern, picture=None, after={}, unit="psi", today=TODAY)
    coat = lantern.sprayed[0]
    words = page.rows[0].sides
    assert "all round, 20° up (4 sides)" in words
    assert "all round, 30° down (4 sides)" in words
    assert "from overhead" in words
    assert words.startswith(f"{coat.stations[0].passes} rounds")


def test_parts_and_masks_are_told_by_name(lantern: Plan, on_lantern: OnPiece) -> None:
    part = on_lantern.piece.parts_in(lantern)[0]
    mask = HandStep(id="m", name="Mask on", role="mask_on", part=part.id, mask="putty")
    coat = lantern.sprayed[1].model_copy(
        update={"stations": [], "aim": Aim(field="part", part=part.id, reversed=True)}
    )
    plan = lantern.model_copy(update={"coats": [lantern.coats[0], mask, coat]})
    page = recipe_page(plan, on_lantern, picture=None, after={}, unit="psi", today=TODAY)
    assert page.rows[1].sides == f"on {part.name}"
    assert "fades" in page.rows[1].setting
    assert page.rows[2].sides == f"2 rounds everywhere but {part.name}"
    assert page.cautions
