"""What drafts and fixes take from the shelf."""

from __future__ import annotations

from dataclasses import replace

import pytest

from haze.core.drafting.stock import Stock, own_thinner, pick, suited, varnish_of
from haze.core.errors import NothingFitsError
from haze.core.plan.paint import PaintUsed
from helpers import coat


def test_a_paint_is_thinned_with_its_own_kind_first(
    stock: Stock, paint: dict[str, PaintUsed]
) -> None:
    assert own_thinner(paint["Wrack Green"], stock).kind == "acrylic_thinner"
    assert own_thinner(paint["Bilge Wash"], stock).kind == "spirit"
    watery = replace(stock, thinners=tuple(t for t in stock.thinners if t.kind == "water"))
    assert own_thinner(paint["Wrack Green"], watery).kind == "water"
    with pytest.raises(NothingFitsError, match="suits Bilge Wash; add spirit"):
        own_thinner(paint["Bilge Wash"], watery)


def test_only_a_thinner_that_spoils_is_changed(stock: Stock, paint: dict[str, PaintUsed]) -> None:
    fine = coat()
    assert suited(fine, stock) is fine
    spoiled = fine.model_copy(update={"paint": paint["Bilge Wash"]})
    assert suited(spoiled, stock).thinner.kind == "spirit"


def test_the_paint_that_fits_and_lies_least_off_is_taken(stock: Stock) -> None:
    def off(p: PaintUsed) -> float:
        return abs(p.tone - 60)

    found = pick(stock, lambda p: p.kind == "airbrush_acrylic", off, "grey")
    fitting = [p for p in stock.paints if p.kind == "airbrush_acrylic"]
    assert found in fitting
    assert off(found) == min(off(p) for p in fitting)
    assert pick(stock, lambda p: p.kind == "varnish", lambda _: 0.0, "").name == "Quay Gloss"
    with pytest.raises(NothingFitsError, match="no lilac; add one first") as told:
        pick(stock, lambda _: False, off, "lilac")
    assert told.value.field == "paint"


def test_a_varnish_is_of_the_first_finish_there_is(stock: Stock) -> None:
    assert varnish_of(stock, ("satin", "matt")).name == "Quay Satin"
    assert varnish_of(stock, ("ultra_matt", "gloss", "satin")).name == "Quay Gloss"
    with pytest.raises(NothingFitsError, match="ultra_matt varnish"):
        varnish_of(stock, ("ultra_matt",))
