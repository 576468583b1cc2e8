"""Small changes of a plan, and the one ground under each of its places."""

from __future__ import annotations

import pytest

from haze.core.errors import NotInPlanError, NotSprayedError
from haze.core.plan.coat import HandStep
from haze.core.plan.edits import (
    coat_at,
    fresh_id,
    ground_under,
    index_of,
    inserted,
    moved,
    replaced,
)
from haze.core.plan.mix import Mix
from helpers import coat, plan

REST = HandStep(id="rest-1", name="Rest", role="rest")


def ids(p) -> list[str]:  # type: ignore[no-untyped-def]
    return [s.id for s in p.coats]


def test_steps_are_put_in_replaced_and_moved_and_the_plan_given_stays() -> None:
    p = plan(coat("a"), coat("b"), coat("c"))
    before = p.model_dump_json()
    assert ids(inserted(p, 1, REST)) == ["a", "rest-1", "b", "c"]
    assert ids(inserted(p, 3, REST)) == ["a", "b", "c", "rest-1"]
    assert ids(replaced(p, 1, REST)) == ["a", "rest-1", "c"]
    assert ids(moved(p, 0, 2)) == ["b", "c", "a"]
    assert ids(moved(p, 2, 0)) == ["c", "a", "b"]
    assert ids(moved(p, 1, 1)) == ["a", "b", "c"]
    assert p.model_dump_json() == before


def test_a_step_is_found_by_its_id_or_refused() -> None:
    p = plan(coat("a"), coat("b"))
    p.coats.append(REST)
    assert index_of(p, "b") == 1
    assert coat_at(p, "a") == (0, p.coats[0])
    with pytest.raises(NotInPlanError, match="no step 'z'"):
        index_of(p, "z")
    with pytest.raises(NotSprayedError, match="Rest is done by hand"):
        coat_at(p, "rest-1")


def test_a_fresh_id_is_the_first_that_is_free() -> None:
    p = plan(coat("rung-1"), coat("rung-3"))
    assert fresh_id(p, "rung") == "rung-2"
    assert fresh_id(p, "mid") == "mid-1"


def test_the_ground_is_the_last_coat_below_that_hides() -> None:
    def coloured(identity: str, masstone: str, **more: object):  # type: ignore[no-untyped-def]
        paint = coat().paint.model_copy(update={"masstone": masstone, **more})
        return coat(identity).mixed_as(Mix.of((paint, 1)))

    black = coloured("black", "#101112")
    green = coloured("green", "#4b5a35")
    amber = coloured("amber", "#f2a01c", kind="transparent", opacity="transparent")
    steel = coloured("steel", "#b4b8bb", kind="metallic")
    off = coloured("off", "#ffffff").model_copy(update={"off": True})
    p = plan(black, amber, green, steel, off)
    p.coats.append(REST)
    surface = p.piece.surface
    grounds = [ground_under(p, i) for i in range(7)]
    assert grounds == [surface, "#101112", "#101112", *["#4b5a35"] * 4]
    assert ground_under(p, -3) == surface
    assert ground_under(p, 99) == "#4b5a35"


def test_the_ground_of_a_mix_is_the_colour_of_the_mix() -> None:
    paint = coat().paint
    white = paint.model_copy(update={"id": "w", "masstone": "#f3f2ec"})
    mix = Mix.of((paint, 1), (white, 3))
    p = plan(coat("m").mixed_as(mix))
    assert ground_under(p, 1) == mix.hex
    assert mix.hex not in (paint.masstone, white.masstone)
