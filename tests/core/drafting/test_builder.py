"""Paints nearest to what a step wants, and steps on steps."""

from __future__ import annotations

import pytest

from haze.core.drafting.builder import StepBuilder, chip_lab, closest, grey, nearest
from haze.core.drafting.stock import Stock
from haze.core.errors import NothingFitsError
from helpers import coat, plan


def test_the_closest_paint_is_taken_and_none_of_none(stock: Stock) -> None:
    hides = [p for p in stock.paints if p.hides]
    white, dark = closest(hides, grey(0.97)), closest(hides, grey(0.2))
    assert white is not None
    assert dark is not None
    assert (white.name, dark.name) == ("Tern White", "Bilge Black")
    assert closest([], grey(0.5)) is None


def test_a_clear_is_chosen_by_its_hue(stock: Stock) -> None:
    green = chip_lab(next(p for p in stock.paints if p.name == "Wrack Green"))
    assert nearest(stock, lambda p: p.tints, green, "clear").name == "Bottle Green"
    with pytest.raises(NothingFitsError, match="no clear"):
        nearest(stock, lambda _: False, green, "clear")


def test_steps_lie_on_each_other_and_leave_the_plan_alone(stock: Stock) -> None:
    before = plan(coat())
    build = StepBuilder(before, stock)
    assert build.plan.coats == []
    assert build.ground == before.piece.surface
    black = next(p for p in stock.paints if p.name == "Bilge Black")
    build.spray("prime", black, [before.key_light.station])
    assert build.ground == black.masstone
    build.rest(15, "Dries")
    assert build.ground == black.masstone
    assert [c.name for c in build.plan.coats] == ["Bilge Black", "Dries"]
    assert len(before.coats) == 1


def test_a_stand_in_is_said_and_what_fits_is_not(stock: Stock) -> None:
    build = StepBuilder(plan(), stock)
    white = build.ground_paint(lambda p: p.tone > 80, lambda p: p.hides, 0.96, "white")
    assert white is not None
    assert build.notes == []
    other = build.ground_paint(lambda _: False, lambda p: p.tone > 80, 0.96, "white")
    assert other == white
    assert build.notes == [f"The shelf has no white; {white.name} stands in for it."]
    assert build.ground_paint(lambda _: False, lambda _: False, 0.9, "white") is None
    assert build.varnish(("gloss",), "to finish with") is not None
