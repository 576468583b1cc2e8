"""A whole scheme from three answers, on a shelf of fifteen paints."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest

from haze.core.drafting.sequence import (
    LEAST_WASH,
    WASH_STRENGTH,
    Answers,
    Started,
    start_ground,
    start_sequence,
)
from haze.core.drafting.sites import MIDDLE
from haze.core.drafting.stock import Stock
from haze.core.errors import NothingFitsError
from haze.core.film.difference import delta_e
from haze.core.film.srgb import linear_of_hex, tone_of_rgb
from haze.core.plan.document import Plan
from haze.core.plan.schools import Schools
from helpers import coat, plain_sites, plan

GREEN = Answers("figure", ("#4b5a35",))
WASHED = replace(GREEN, wash=True)


def by(schools: dict[str, str], **piece: str) -> Plan:
    before = plan(coat())
    return before.model_copy(
        update={
            "schools": Schools.model_validate(schools),
            "piece": before.piece.model_copy(update=piece),
        }
    )


def begun(plan: Plan, answers: Answers, stock: Stock) -> Started:
    sites = plain_sites(plan.key_light, panels=answers.what == "vehicle")
    return start_sequence(plan, answers, stock, sites)


def tasks(laid: Plan) -> list[str]:
    return [step.task if step.kind == "spray" else step.role for step in laid.coats]


@pytest.mark.parametrize(
    ("order", "begins"),
    [
        ("climb", ["prime", "light", "light", "cover"]),
        ("span", ["prime", "light", "light", "cover"]),
        ("veil", ["prime", "light"]),
        ("descend", ["prime"]),
    ],
)
def test_each_order_lays_its_own_steps(stock: Stock, order: str, begins: list[str]) -> None:
    laid = begun(by({"order": order}), GREEN, stock).plan
    assert tasks(laid)[: len(begins)] == begins
    assert tasks(laid)[-1] == "matt"
    ids = [step.id for step in laid.coats]
    assert len(set(ids)) == len(ids)


def test_a_climb_gets_lighter_and_a_span_begins_in_the_middle(stock: Stock) -> None:
    def tones(order: str) -> list[float]:
        laid = begun(by({"order": order}), GREEN, stock).plan
        return [c.mix.tone for c in laid.sprayed if c.task in ("cover", "rung")]

    climb, span = tones("climb"), tones("span")
    assert len(climb) >= 2
    assert len(span) >= 2
    asked = tone_of_rgb(linear_of_hex(GREEN.colours[0]))
    assert abs(span[0] - asked) < 15


@pytest.mark.parametrize("order", ["climb", "veil", "descend"])
def test_the_asked_colour_is_the_middle(stock: Stock, order: str) -> None:
    found = begun(by({"order": order}), GREEN, stock).found
    asked = linear_of_hex(GREEN.colours[0])
    assert delta_e(found.rgb[MIDDLE], asked) < 8
    tones = [tone_of_rgb(c) for c in found.rgb]
    assert tones[0] < tones[MIDDLE] + 1
    assert tones[-1] > tones[0]


def test_grounds_follow_their_school(stock: Stock) -> None:
    def grey(ground: str) -> list[str]:
        return [c.paint.name for c in start_ground(by({"ground": ground}), stock).sprayed]

    assert grey("two_tone") == ["Bilge Black", "Tern White"]
    three = grey("three_tone")
    assert (three[0], three[-1], len(three)) == ("Bilge Black", "Tern White", 3)
    hue = begun(by({"ground": "hue_ground"}), GREEN, stock).plan
    assert tasks(hue)[:2] == ["prime", "cover"]
    assert hue.sprayed[1].paint.hides
    assert "light" not in tasks(hue), "a hue ground needs no grey light"
    pale = begun(by({"order": "descend"}), GREEN, stock).plan.sprayed[0]
    assert pale.paint.kind == "primer"


def test_light_comes_from_the_key_and_white_from_higher(stock: Stock) -> None:
    ground = start_ground(by({"ground": "three_tone"}), stock)
    key = ground.key_light
    mid, white = ground.sprayed[1].stations[0], ground.sprayed[2].stations[0]
    assert (mid.azimuth_deg, mid.elevation_deg) == (key.azimuth_deg, key.elevation_deg)
    assert white.elevation_deg == pytest.approx(min(88, key.elevation_deg + 25))


def test_what_it_is_decides_the_finish_and_soft_groundwork_is_sealed(stock: Stock) -> None:
    assert tasks(begun(by({}), replace(GREEN, what="vehicle"), stock).plan)[-1] == "satin"
    soft = begun(by({}, groundwork="plaster"), GREEN, stock).plan
    assert tasks(soft)[0] == "seal"
    assert soft.sprayed[0].paint.name == "Quay Matt"


def only(stock: Stock, *names: str) -> Stock:
    return replace(stock, paints=tuple(p for p in stock.paints if p.name in names))


def test_without_any_dark_or_any_colour_there_is_nothing_to_begin_with(stock: Stock) -> None:
    with pytest.raises(NothingFitsError, match="no dark primer and no dark paint"):
        begun(by({}), GREEN, replace(stock, paints=()))
    with pytest.raises(NothingFitsError, match="no opaque paint"):
        begun(by({"order": "climb"}), GREEN, only(stock, "Bilge Black"))


def test_on_a_small_shelf_paints_stand_in_and_it_is_said(stock: Stock) -> None:
    few = only(stock, "Deep Weed", "Wrack Green", "Spring Slick")
    found = begun(by({}), GREEN, few)
    assert tasks(found.plan)[:2] == ["prime", "light"]
    assert [c.paint.name for c in found.plan.sprayed[:2]] == ["Deep Weed", "Spring Slick"]
    notes = " ".join(found.notes)
    assert "no dark primer; Deep Weed stands in" in notes
    assert "no mid grey" in notes
    assert "no white; Spring Slick stands in" in notes
    assert "varnish to finish with" in notes
    assert not {"matt", "satin", "gloss"} & set(tasks(found.plan))


def test_wash_and_wear_that_cannot_be_are_left_out_and_said(stock: Stock) -> None:
    few = only(stock, "Deep Weed", "Wrack Green", "Bilge Wash")
    found = begun(by({}), replace(WASHED, worn=True), few)
    assert not {"wash", "dry_brush"} & set(tasks(found.plan))
    notes = " ".join(found.notes)
    assert "Bilge Wash would lift the colour" in notes
    assert "no pale paint to dry-brush with" in notes
    pale = only(stock, "Wrack Green", "Slate", "Spring Slick")
    dark = pale.paints[0].model_copy(update={"id": "d", "name": "Dusk", "masstone": "#5b5f63"})
    fleet = replace(pale, paints=(*pale.paints, dark))
    vehicle = begun(by({}), replace(GREEN, what="vehicle", worn=True), fleet)
    assert "chips" not in tasks(vehicle.plan)
    assert any("no dark paint for chips" in note for note in vehicle.notes)


def test_one_red_is_no_ground_and_no_light(stock: Stock) -> None:
    red = stock.paints[0].model_copy(
        update={"id": "red", "name": "Red", "kind": "airbrush_acrylic", "masstone": "#8e1f24"}
    )
    found = begun(by({}), Answers("figure", ("#8e1f24",)), replace(stock, paints=(red,)))
    assert tasks(found.plan)[0] == "prime"
    assert "light" not in tasks(found.plan)
    assert any("no white and no light paint" in note for note in found.notes)


def test_wash_and_wear_come_only_when_asked(stock: Stock) -> None:
    def roles(answers: Answers) -> list[str]:
        laid = begun(by({}), answers, stock).plan
        return [step.role for step in laid.coats if step.kind == "hand"]

    for what in ("figure", "vehicle", "terrain"):
        plain = replace(GREEN, what=what)
        assert roles(plain) == []
        assert roles(replace(plain, wash=True)) == ["rest", "wash"]
    assert roles(replace(GREEN, worn=True)) == ["dry_brush"]
    assert "gloss" not in tasks(begun(by({}), GREEN, stock).plan)
    dry = replace(
        stock, paints=tuple(p for p in stock.paints if p.kind not in ("enamel_wash", "ink"))
    )
    without = begun(by({}), WASHED, dry)
    assert "wash" not in tasks(without.plan)
    assert any("no wash and no ink" in note for note in without.notes)


def test_a_vehicle_fades_its_panels_and_wears_at_its_edges(stock: Stock) -> None:
    laid = begun(by({}), replace(WASHED, what="vehicle", worn=True), stock).plan
    aimed = [c for c in laid.sprayed if c.aim and c.aim.field == "panels"]
    assert [c.task for c in aimed] == ["rung"]
    assert aimed[0].mix.hides
    assert aimed[0].mix.tone > tone_of_rgb(linear_of_hex(GREEN.colours[0])) + 2
    assert aimed[0].aim is not None
    assert 1 <= aimed[0].aim.passes <= 3
    roles = [step.role for step in laid.coats if step.kind == "hand"]
    assert roles == ["rest", "wash", "streaks", "chips"]
    chips = next(s for s in laid.coats if s.kind == "hand" and s.role == "chips")
    assert chips.paint is not None
    assert chips.paint.tone < 30


def test_worn_terrain_is_brushed_pale(stock: Stock) -> None:
    laid = begun(by({}), replace(GREEN, what="terrain", worn=True), stock).plan
    assert not any(c.aim and c.aim.field == "panels" for c in laid.sprayed)
    (pale,) = (s.paint for s in laid.coats if s.kind == "hand" and s.role == "dry_brush")
    assert pale is not None
    assert pale.tone > 65


def test_a_shade_comes_from_the_far_side_and_an_accent_along_edges(stock: Stock) -> None:
    laid = begun(by({}), Answers("figure", ("#4b5a35", "#2f6b3a", "#e6d7ae")), stock).plan
    shade = [c for c in laid.sprayed if c.task == "tint"][-1]
    key = laid.key_light
    assert abs(shade.stations[0].azimuth_deg - key.azimuth_deg) == pytest.approx(180)
    assert "edge_lines" in tasks(laid)


def test_the_wash_is_the_one_that_moves_the_colour_least(stock: Stock) -> None:
    brown = stock.paints[0].model_copy(
        update={"id": "brown", "name": "Brown", "kind": "enamel_wash", "masstone": "#3a2415"}
    )
    blue = brown.model_copy(update={"id": "blue", "name": "Blue", "masstone": "#16233f"})
    both = [p.model_copy(update={"opacity": "transparent"}) for p in (brown, blue)]
    plain = tuple(p for p in stock.paints if p.kind not in ("enamel_wash", "ink"))
    for colour, name in (("#7a4a28", "Brown"), ("#1f4fa0", "Blue")):
        asked = Answers("figure", (colour,), wash=True)
        laid = begun(by({}), asked, replace(stock, paints=(*plain, *both)))
        (wash,) = (s for s in laid.plan.coats if s.kind == "hand" and s.role == "wash")
        assert wash.paint is not None
        assert wash.paint.name == name


def test_a_gradient_asks_for_its_shade_and_its_light(stock: Stock) -> None:
    answers = Answers("figure", ("#2f3a20", "#c9ab6a"), gradient=True)
    found = begun(by({}), answers, stock)
    shade, light = (linear_of_hex(c) for c in answers.colours)
    assert delta_e(found.found.rgb[0], shade) < 14
    assert delta_e(found.found.rgb[-1], light) < 14
    # its second colour is no shade from the far side
    assert "tint" not in [c.task for c in found.plan.sprayed if c.name == "Kelp"]
    assert found.plan.asked is not None
    assert found.plan.asked.colours == answers.colours
    assert begun(by({}), GREEN, stock).plan.asked == answers.asked.__class__(colours=GREEN.colours)


def test_a_wash_is_thinned_until_the_colour_stays(stock: Stock) -> None:
    def strength(colour: str) -> float:
        laid = begun(by({}), Answers("figure", (colour,), wash=True), stock)
        (wash,) = (s for s in laid.plan.coats if s.kind == "hand" and s.role == "wash")
        told = [n for n in laid.notes if "is thinned to" in n]
        assert bool(told) == (wash.strength < WASH_STRENGTH)
        return wash.strength

    assert LEAST_WASH <= strength("#f0ead8") < strength("#2a2118") <= WASH_STRENGTH


def test_white_under_a_veil_is_told_by_what_it_saves(stock: Stock) -> None:
    laid = begun(by({"order": "veil"}), Answers("figure", ("#c9a020",)), stock)
    (told,) = (n for n in laid.notes if n.startswith("Over primer alone"))
    bare, lit = (int(share) for share in re.findall(r"(\d+)%", told))
    assert bare < lit
