"""A whole scheme from three answers, on a shelf of fifteen paints."""

from __future__ import annotations

from dataclasses import replace

import pytest

from haze.core.drafting.sequence import Answers, start_ground, start_sequence
from haze.core.drafting.stock import Stock
from haze.core.errors import NothingFitsError
from haze.core.plan.document import Plan
from haze.core.plan.schools import Schools
from helpers import coat, plan

GREEN = Answers("figure", ("#4b5a35",))


def by(schools: dict[str, str], **piece: str) -> Plan:
    before = plan(coat())
    return before.model_copy(
        update={
            "schools": Schools.model_validate(schools),
            "piece": before.piece.model_copy(update=piece),
        }
    )


def tasks(laid: Plan) -> list[str]:
    return [step.task if step.kind == "spray" else step.role for step in laid.coats]


@pytest.mark.parametrize(
    ("order", "begins"),
    [
        ("climb", ["prime", "light", "light", "cover", "rung", "rung", "rung"]),
        ("span", ["prime", "light", "light", "rung", "rung", "rung", "rung"]),
        ("veil", ["prime", "light", "light", "veil"]),
        ("descend", ["prime", "light", "light", "veil", "tint", "tint"]),
    ],
)
def test_each_order_lays_its_own_steps(stock: Stock, order: str, begins: list[str]) -> None:
    laid = start_sequence(by({"order": order}), GREEN, stock).plan
    assert tasks(laid)[: len(begins)] == begins
    assert tasks(laid)[-1] == "matt"
    ids = [step.id for step in laid.coats]
    assert len(set(ids)) == len(ids)


def test_a_climb_gets_lighter_and_a_span_begins_in_the_middle(stock: Stock) -> None:
    def tones(order: str) -> list[float]:
        laid = start_sequence(by({"order": order}), GREEN, stock).plan
        return [c.mix.tone for c in laid.sprayed if c.task in ("cover", "rung")]

    climb, span = tones("climb"), tones("span")
    assert climb == sorted(climb)
    assert span == [*climb[1:], climb[0]]


def test_grounds_follow_their_school(stock: Stock) -> None:
    def grey(ground: str) -> list[str]:
        return [c.paint.name for c in start_ground(by({"ground": ground}), stock).sprayed]

    assert grey("two_tone") == ["Bilge Black", "Tern White"]
    three = grey("three_tone")
    assert (three[0], three[-1], len(three)) == ("Bilge Black", "Tern White", 3)
    hue = start_sequence(by({"ground": "hue_ground"}), GREEN, stock).plan
    assert tasks(hue)[:2] == ["prime", "cover"]
    assert hue.sprayed[1].paint.name in ("Deep Weed", "Wrack Green")
    assert tasks(hue)[2] == "cover", "the climb begins at once: a hue ground needs no grey light"


def test_light_comes_from_the_key_and_white_from_higher(stock: Stock) -> None:
    ground = start_ground(by({"ground": "three_tone"}), stock)
    key = ground.key_light
    mid, white = ground.sprayed[1].stations[0], ground.sprayed[2].stations[0]
    assert (mid.azimuth_deg, mid.elevation_deg) == (key.azimuth_deg, key.elevation_deg)
    assert white.elevation_deg == pytest.approx(min(88, key.elevation_deg + 25))


def test_what_it_is_decides_the_finish_and_soft_groundwork_is_sealed(stock: Stock) -> None:
    assert tasks(start_sequence(by({}), replace(GREEN, what="vehicle"), stock).plan)[-1] == "satin"
    soft = start_sequence(by({}, groundwork="plaster"), GREEN, stock).plan
    assert tasks(soft)[0] == "seal"
    assert soft.sprayed[0].paint.name == "Quay Matt"


def test_a_shelf_without_the_hue_says_so(stock: Stock) -> None:
    blue = start_sequence(by({"order": "veil"}), Answers("figure", ("#2050c0",)), stock)
    assert any("of this hue" in note for note in blue.notes)
    green = start_sequence(by({"order": "veil"}), GREEN, stock)
    assert green.notes == ()


def test_an_empty_shelf_says_what_is_missing_first(stock: Stock) -> None:
    bare = replace(stock, paints=())
    with pytest.raises(NothingFitsError, match="dark primer"):
        start_sequence(by({}), GREEN, bare)
    grounds = replace(stock, paints=tuple(p for p in stock.paints if p.kind in ("primer", "white")))
    with pytest.raises(NothingFitsError, match="mid grey"):
        start_sequence(by({}), GREEN, grounds)


def test_a_vehicle_fades_its_panels_and_is_weathered(stock: Stock) -> None:
    laid = start_sequence(by({}), replace(GREEN, what="vehicle"), stock).plan
    aimed = [c for c in laid.sprayed if c.aim and c.aim.field == "panels"]
    assert [c.task for c in aimed] == ["rung"]
    green = next(p for p in stock.paints if p.name == "Wrack Green")
    assert aimed[0].paint.hides
    assert aimed[0].paint.tone > green.tone + 4
    roles = [step.role for step in laid.coats if step.kind == "hand"]
    assert roles == ["rest", "wash", "streaks", "chips"]
    chips = next(s for s in laid.coats if s.kind == "hand" and s.role == "chips")
    assert chips.paint is not None
    assert chips.paint.tone < 30


def test_a_figure_is_washed_and_terrain_brushed_pale(stock: Stock) -> None:
    def roles(what: str) -> list[str]:
        laid = start_sequence(by({}), replace(GREEN, what=what), stock).plan  # type: ignore[arg-type]
        assert not any(c.aim and c.aim.field == "panels" for c in laid.sprayed)
        return [step.role for step in laid.coats if step.kind == "hand"]

    assert roles("figure") == ["rest", "wash"]
    assert roles("terrain") == ["rest", "wash", "dry_brush"]
    brushed = start_sequence(by({}), replace(GREEN, what="terrain"), stock).plan.coats
    (pale,) = (s.paint for s in brushed if s.kind == "hand" and s.role == "dry_brush")
    assert pale is not None
    assert pale.tone > 65
    dry = replace(stock, paints=tuple(p for p in stock.paints if p.kind != "enamel_wash"))
    assert "wash" not in tasks(start_sequence(by({}), GREEN, dry).plan)


def test_a_shade_comes_from_the_far_side_and_an_accent_along_edges(stock: Stock) -> None:
    laid = start_sequence(by({}), Answers("figure", ("#4b5a35", "#2f6b3a", "#e6d7ae")), stock).plan
    shade = next(c for c in laid.sprayed if c.task == "tint")
    key = laid.key_light
    assert abs(shade.stations[0].azimuth_deg - key.azimuth_deg) == pytest.approx(180)
    assert "edge_lines" in tasks(laid)


def test_the_first_rung_comes_from_every_side_and_the_last_from_the_light(stock: Stock) -> None:
    rungs = [c for c in start_sequence(by({}), GREEN, stock).plan.sprayed if c.task == "rung"]
    first = next(c for c in start_sequence(by({}), GREEN, stock).plan.sprayed if c.task == "cover")
    assert [(s.elevation_deg, s.spread_deg) for s in first.stations] == [(25, 28)] * 3
    assert all(len(c.stations) == 1 for c in rungs)
    assert [c.stations[0].elevation_deg for c in rungs] == sorted(
        c.stations[0].elevation_deg for c in rungs
    )
    spreads = [c.stations[0].spread_deg for c in rungs]
    assert spreads == sorted(spreads, reverse=True)
