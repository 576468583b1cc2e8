"""Ladders, and ladders put on the piece."""

from __future__ import annotations

import pytest

from haze.core.errors import HazeError
from haze.core.film.ladder_words import covers_of
from haze.core.plan.document import Plan
from haze.service.colour.ladders import (
    LadderIn,
    RungsBody,
    RungWish,
    ShelfLadder,
    ladder,
    ladder_from,
    put_on,
)
from haze.service.forms.wire import MixPaint
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.whole import worked_out
from haze.service.shelf.shelf import Shelf
from helpers import going


@pytest.fixture
def plan(globe: Plan) -> Plan:
    return globe


@pytest.fixture
def on(on_globe: OnPiece) -> OnPiece:
    return on_globe


LADDER = [
    MixPaint(name=n, masstone=h)
    for n, h in (("Tar", "#3b2a20"), ("Buff", "#b79a68"), ("Sail", "#ece2c8"), ("Red", "#8f1f24"))
]


def test_a_ladder_climbs_evenly_in_whole_drops() -> None:
    found = ladder(LadderIn(colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=6, dry_film_um=20))
    lights = [r.lightness for r in found.rungs]
    assert lights == sorted(lights)
    assert found.even
    assert found.evenness <= 1.5
    assert [r.cover for r in found.rungs] == covers_of(6)
    assert found.rungs[0].cover > found.rungs[-1].cover


def test_descending_takes_transparent_paints_only(shelf: Shelf) -> None:
    wish = ShelfLadder(
        colours=["#7a4a24", "#e8c890"], rungs=4, order="descend", over="#f3f2ec", dry_film_um=4
    )
    found = ladder_from(wish, shelf, going)
    lights = [r.lightness for r in found.rungs]
    assert lights == sorted(lights, reverse=True)
    by_id = {p.id: p for p in shelf.paints}
    assert all("transparent" in by_id[i].opacity for r in found.rungs for i in r.drops)
    with pytest.raises(HazeError, match="transparent paints"):
        ladder(LadderIn(colours=["#3b2a20", "#ece2c8"], paints=LADDER, order="descend"))


def test_a_span_begins_in_the_middle_and_ends_in_the_dark() -> None:
    wish = LadderIn(
        colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=5, order="span", dry_film_um=14
    )
    lights = [r.lightness for r in ladder(wish).rungs]
    assert lights[0] == sorted(lights)[2]
    assert max(lights) == lights[2]
    assert min(lights) == lights[-1]


def test_a_hue_ground_and_a_veil_change_what_the_rungs_lie_on_or_under() -> None:
    base = {"colours": ["#3b2a20", "#b79a68"], "paints": LADDER, "rungs": 3, "dry_film_um": 3}
    over_black = ladder(LadderIn.model_validate(base | {"over": "#000000"}))
    hue = ladder(LadderIn.model_validate(base | {"over": "#000000", "order": "hue_ground"}))
    assert hue.rungs[0].lightness > over_black.rungs[0].lightness
    veil = {"masstone": "#f2a01c", "dry_film_um": 4, "finish": "satin"}
    veiled = ladder(LadderIn.model_validate(base | {"order": "veil", "then": [veil]}))
    assert all(r.after_all != r.colour for r in veiled.rungs)


def test_carrying_the_rest_says_what_to_add() -> None:
    wish = LadderIn(
        colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=4, cup="carry", dry_film_um=14
    )
    found = ladder(wish)
    assert found.rungs[0].add == found.rungs[0].drops
    assert any(r.add != r.drops for r in found.rungs[1:])


def test_a_chalky_highlight_is_told_with_a_paint_that_is_not() -> None:
    paints_given = [
        MixPaint(name=n, masstone=h)
        for n, h in (("Deep", "#23408f"), ("White", "#f3f2ec"), ("Sky", "#8fb4f0"))
    ]
    found = ladder(
        LadderIn(
            colours=["#23408f", "#e4e8f0"],
            paints=paints_given,
            rungs=3,
            dry_film_um=14,
            use=["Deep", "White"],
        )
    )
    assert any("chalky" in n for r in found.rungs for n in r.notes)
    free = ladder(
        LadderIn(colours=["#23408f", "#e4e8f0"], paints=paints_given[:2], rungs=3, dry_film_um=14)
    )
    assert free.instead is not None


def test_one_colour_and_as_many_rungs_as_needed(shelf: Shelf) -> None:
    found = ladder_from(ShelfLadder(colours=["#4b7a35"], dry_film_um=12), shelf, going)
    assert 4 <= len(found.rungs) <= 12
    assert max(r.step for r in found.rungs) < 0.13


def test_a_ladder_is_put_on_the_piece_with_its_shares(
    plan: Plan, on: OnPiece, shelf: Shelf
) -> None:
    wish = ShelfLadder(colours=["#3d4a2a", "#8aa24f"], rungs=3, dry_film_um=6)
    found = ladder_from(wish, shelf, going)
    rungs = [RungWish(drops=r.drops, cover=r.cover, note="add two") for r in found.rungs]
    body = RungsBody(plan=plan, after=4, rungs=rungs)
    out = put_on(body, on, shelf, going)
    assert len(out.coats) == 3
    assert len({c.id for c in out.coats}) == 3
    assert out.covers == sorted(out.covers, reverse=True)
    for coat, rung in zip(out.coats, rungs, strict=True):
        drops = {coat.paint.id: coat.drops} | {m.paint.id: m.drops for m in coat.also}
        assert drops == rung.drops
        assert coat.note == "add two"
        assert coat.stations
    whole = plan.model_copy(update={"coats": [*plan.coats, *out.coats]})
    work = worked_out(Plan.model_validate(whole.model_dump()), on)
    poured = next(w for w in work.coats if w.id == out.coats[0].id).cup.poured
    assert poured[0].role == "thinner"
    assert sum(p.role == "paint" for p in poured) == len(rungs[0].drops)
    with pytest.raises(HazeError, match="no longer on the shelf"):
        put_on(
            RungsBody(plan=plan, after=0, rungs=[RungWish(drops={"gone": 1}, cover=0.5)]),
            on,
            shelf,
            going,
        )
