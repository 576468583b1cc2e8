"""Recipes for the coats of a plan."""

from __future__ import annotations

from dataclasses import replace
from math import ceil

import pytest

from haze.core.drafting.coats import (
    drafted,
)
from haze.core.drafting.recipes import (
    LAID_OF,
    Cup,
    _found_recipe,
    find_ahead,
    pass_left,
    passes_to_cover,
    recipe_for,
)
from haze.core.drafting.stock import Stock
from haze.core.errors import NoRecipeError
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim
from haze.core.plan.paint import AirbrushUsed, PaintUsed
from haze.core.plan.piece import Room
from haze.core.plan.schools import Schools
from haze.core.spray.unsure import NOMINAL
from helpers import coat, outcome_of, plan

BRUSH = AirbrushUsed(id="a", name="All-round", needle_mm=0.3)
ONE = [Station(40, 45, 15)]
SIDES = ((0, -1, 0), (-1, 0, 0), (0, 1, 0), (1, 0, 0))


def test_white_takes_more_passes_over_black_than_over_grey() -> None:
    white = coat(kind="white").paint.model_copy(update={"masstone": "#f3f2ec"})
    over_black = passes_to_cover(white, over="#101010", dry_film_um=3)
    assert over_black > passes_to_cover(white, over="#b0b0b0", dry_film_um=3)
    assert passes_to_cover(white, over="#101010", dry_film_um=6) == ceil(over_black / 2) or (
        passes_to_cover(white, over="#101010", dry_film_um=6) < over_black
    )


@pytest.mark.parametrize("aimed", [False, True])
def test_a_pass_leaves_what_the_drafted_coat_will(
    aimed: bool, stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    grey = next(iter(paint.values()))
    before = plan(coat())
    each = pass_left(before, stock, grey, "rung", over="#17181a", aimed=aimed)
    laid = drafted(
        before,
        stock,
        stem="rung",
        task="rung",
        paint=grey,
        stations=[Station(40, 45, 15)],
        over="#17181a",
        aim=Aim(field="panels", margin_mm=3) if aimed else None,
        each_um=3 * each.film_um,
    )
    outcome = outcome_of(laid)
    assert each.film_um == pytest.approx(float(outcome.dry_film_um))
    assert each.splat_um == pytest.approx(float(outcome.splat_dry_um))
    assert laid.most_passes == 3


def test_recipes_found_ahead_are_those_a_sequence_asks_for(stock: Stock) -> None:
    rainy = Room(temperature_c=17.0, humidity_pct=71.0)
    started = plan().model_copy(update={"room": rainy})
    find_ahead(started, stock)
    before = _found_recipe.cache_info().misses
    kinds = {p.kind: p for p in stock.paints}
    asked = [(kind, task) for kind, tasks in LAID_OF.items() for task in tasks if kind in kinds]
    assert len(asked) > 5
    for kind, task in asked:
        for over in ("#101010", "#808080", "#f0f0f0"):
            cup = Cup.of(started, stock, kinds[kind], task, over=over)
            recipe_for(replace(cup, latents=NOMINAL))
    assert _found_recipe.cache_info().misses == before


def test_finding_ahead_stops_when_told(stock: Stock) -> None:
    told: list[float] = []

    def stop(done: float) -> bool:
        told.append(done)
        return len(told) < 3

    find_ahead(plan().model_copy(update={"room": Room(temperature_c=16.0)}), stock, progress=stop)
    assert told == sorted(told)
    assert len(told) == 3


def test_what_cannot_be_sprayed_clean_says_what_would_help(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    fine = AirbrushUsed(id="f", name="Fine", needle_mm=0.1)
    cup = Cup(paint["Bright Steel"], "metal", stock.thinners[1], fine, Room(), Schools(), "#17181a")
    for aimed in (False, True):
        with pytest.raises(NoRecipeError, match="Try ") as refused:
            recipe_for(cup, aimed=aimed)
        assert refused.value.field == "spray"
