"""Doing a plan again: what worked stays, what depends on other things is set anew, all is told."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.drafting.stock import Stock
from haze.core.film.difference import delta_e
from haze.core.onpiece.painting import Spraying, sprayed_by
from haze.core.plan.coat import Aim, Coat, HandStep, MixPart, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.lights import GlowLight, KeyLight
from haze.core.plan.mix import Mix
from haze.core.plan.paint import AirbrushUsed, PaintUsed, ThinnerUsed
from haze.core.plan.piece import Part, Room
from haze.core.repeat.differences import differences, leaves
from haze.core.repeat.repeated import Changes, Repeated, repeated
from haze.core.repeat.substitutes import owned, substitute
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.calibrate import CLASS_OF, Belief, PaintThrough, Trial, believe, tables
from helpers import coat, plan

FINE = AirbrushUsed(id="fine", name="Fine", needle_mm=0.2)
COLD = Room(temperature_c=12, humidity_pct=70)


def paint(name: str, masstone: str, **more: Any) -> PaintUsed:
    usual = {"kind": "airbrush_acrylic", "opacity": "opaque"}
    return PaintUsed(
        id=name.lower().replace(" ", "-"), name=name, masstone=masstone, **(usual | more)
    )


GREEN = paint("Wrack Green", "#4b5a35")
WHITE = paint("Tern White", "#e9e8e1", kind="white")
THINNER = ThinnerUsed(id="t", name="own thinner", kind="acrylic_thinner")


def through(one: Coat, use: PaintUsed, **more: Any) -> Coat:
    return one.model_copy(update={"paint": use, "name": use.name, **more})


def planned(*, aimed: bool = False) -> Plan:
    """Two swept coats and one that is aimed, each of a paint on the shelf."""
    second = through(coat("c2"), WHITE)
    if aimed:
        aim = Aim(field="panels", passes=3)
        second = second.model_copy(update={"stations": [], "aim": aim})
    return plan(through(coat("c1"), GREEN), second)


def stock(
    *paints: PaintUsed, known: Any = None, thinners: tuple[ThinnerUsed, ...] = (THINNER,)
) -> Stock:
    more = {} if known is None else {"known": known}
    return Stock(paints, thinners, (FINE,), **more)


ALL = stock(GREEN, WHITE)


def film_um(p: Plan, one: Coat) -> float:
    return float(Spraying.of(p, one).outcome().dry_film_um) * one.most_passes


def told(before: Plan, done: Repeated) -> dict[str, Any]:
    return {d.path: d for d in differences(before, done.plan, done.why)}


def require_complete(before: Plan, done: Repeated) -> None:
    """Each leaf that differs lies under exactly one difference, and each difference has one."""
    old, new = leaves(before), leaves(done.plan)
    changed = {p for p in old.keys() | new.keys() if old.get(p, "none") != new.get(p, "none")}
    paths = [d.path for d in differences(before, done.plan, done.why)]
    for leaf in changed:
        above = [p for p in paths if leaf == p or leaf.startswith(f"{p}.")]
        assert len(above) == 1, (leaf, above)
    for path in paths:
        assert any(leaf == path or leaf.startswith(f"{path}.") for leaf in changed), path


def test_with_everything_as_it_was_nothing_but_the_name_differs() -> None:
    p = planned()
    done = repeated(p, Changes("Again"), ALL)
    assert done.plan == p.model_copy(update={"name": "Again"})
    assert list(told(p, done)) == ["name"]
    assert done.problems == []


@pytest.mark.parametrize("aimed", [False, True])
def test_another_needle_sets_every_coat_anew_for_the_same_film(aimed: bool) -> None:
    p = planned(aimed=aimed)
    done = repeated(p, Changes("Again", airbrush=FINE), ALL)
    require_complete(p, done)
    for was, now in zip(p.sprayed, done.plan.sprayed, strict=True):
        assert now.spray != was.spray
        one_round = film_um(done.plan, now) / now.most_passes
        # as much as before, a quarter of a round less to three quarters more
        over = film_um(done.plan, now) - film_um(p, was)
        assert -0.25 * one_round - 1e-6 <= over <= 0.75 * one_round + 1e-6 or now.most_passes == 1
        outcome = Spraying.of(done.plan, now).outcome()
        assert max(float(outcome.worst), 0) < CLEAN_BELOW
    by_path = told(p, done)
    assert by_path["airbrush"].after == "Fine, 0.2 mm"
    pressure = by_path["coats.c1.spray.pressure_psi"]
    assert pressure.why == "for the 0.2 mm needle"
    assert (pressure.before_value, pressure.after_value) == (
        20.0,
        done.plan.sprayed[0].spray.pressure_psi,
    )
    rounds = by_path["coats.c1.stations"]
    assert rounds.why.startswith("a round leaves ")


def test_a_colder_and_damper_room_is_told_as_the_cause() -> None:
    p = planned()
    done = repeated(p, Changes("Again", room=COLD), ALL)
    require_complete(p, done)
    whys = {d.why for d in told(p, done).values() if ".spray." in d.path}
    assert whys == {"for 12 °C and 70 %"}


def test_copies_alone_change_no_setting() -> None:
    p = planned()
    done = repeated(p, Changes("Again", copies=6), ALL)
    assert set(told(p, done)) == {"name", "piece.copies"}


def test_a_paint_that_is_gone_is_replaced_by_the_nearest_with_its_difference() -> None:
    near, far = paint("Eelgrass", "#4d5c38"), paint("Rust", "#8a4a22")
    p = planned()
    done = repeated(p, Changes("Again"), stock(near, far, WHITE))
    require_complete(p, done)
    assert done.plan.sprayed[0].paint == near
    off = delta_e(near.rgb, GREEN.rgb)
    why = told(p, done)["coats.c1.paint"].why
    assert why == f"Wrack Green is not on the shelf any more; this comes nearest, ΔE00 {off:.1f}."
    assert 0 < off < 2


def test_a_mix_takes_its_place_when_no_single_paint_is_near() -> None:
    blue, yellow, black = (
        paint("Tide Blue", "#1f3f8f"),
        paint("Lamp Yellow", "#d9b21f"),
        paint("Bilge Black", "#141414"),
    )
    have = stock(blue, yellow, black, WHITE)
    found = substitute(Mix.of((GREEN, 1)), have, mixes=True)
    assert found.mix is not None
    assert len(found.mix.parts) > 1
    # alone, each of them is another colour
    assert substitute(Mix.of((GREEN, 1)), have, mixes=False).mix is None
    assert found.delta_e == pytest.approx(delta_e(found.mix.rgb, GREEN.rgb))


def test_a_metal_is_never_replaced_by_a_mix_and_a_varnish_keeps_its_finish() -> None:
    steel = paint("Bright Steel", "#b0b4b8", kind="metallic")
    grey = paint("Gull Grey", "#b0b4b8")
    assert substitute(Mix.of((steel, 1)), stock(grey), mixes=False).mix is None
    matt = paint("Quay Matt", "#f4f4f0", kind="varnish", opacity="transparent", finish="matt")
    gloss = paint("Quay Gloss", "#f4f4f0", kind="varnish", opacity="transparent", finish="gloss")
    assert substitute(Mix.of((matt, 1)), stock(gloss), mixes=False).mix is None
    other = paint("Mole Matt", "#f0f0ec", kind="varnish", opacity="transparent", finish="matt")
    found = substitute(Mix.of((matt, 1)), stock(gloss, other), mixes=False)
    assert found.mix is not None
    assert found.mix.main == other


def test_the_same_paint_under_another_id_is_the_same_paint() -> None:
    bought_again = GREEN.model_copy(update={"id": "second-bottle"})
    assert owned(GREEN, stock(bought_again)) == bought_again
    other_kind = bought_again.model_copy(update={"kind": "ink"})
    assert owned(GREEN, stock(other_kind)) is None


def test_without_any_paint_of_its_kind_it_stays_and_that_is_said() -> None:
    p = planned()
    done = repeated(p, Changes("Again"), stock(GREEN))
    assert done.plan.sprayed[1].paint == WHITE
    [problem] = done.problems  # green can be had, but it is no substitute for white
    assert "Tern White is not on the shelf" in problem


def test_a_mix_whose_paints_are_owned_stays_that_mix() -> None:
    p = planned()
    mixed = p.sprayed[0].model_copy(update={"also": [MixPart(paint=WHITE, drops=3)], "drops": 2})
    p = p.model_copy(update={"coats": [mixed, p.sprayed[1]]})
    done = repeated(p, Changes("Again"), ALL)
    assert done.plan.sprayed[0] == mixed


def test_a_thinner_that_is_gone_is_replaced_by_one_that_suits() -> None:
    water = ThinnerUsed(id="w", name="Water", kind="water")
    p = planned()
    done = repeated(p, Changes("Again"), stock(GREEN, WHITE, thinners=(water,)))
    require_complete(p, done)
    assert {c.thinner.kind for c in done.plan.sprayed} == {"water"}
    assert told(p, done)["coats.c1.thinner"].why == "own thinner is not on the shelf"
    assert told(p, done)["coats.c1.spray.trigger"].why == "for Water" or any(
        d.why == "for Water" for d in told(p, done).values()
    )


def test_what_trials_taught_since_is_a_cause_of_its_own() -> None:
    p = planned()
    pair = sprayed_by(p.sprayed[0], p.airbrush)
    setting = Spraying.of(p, p.sprayed[0]).setting
    belief: Belief = believe([Trial(setting, "spiders")] * 4, tables())
    assert "spiders" in CLASS_OF

    def known(asked: PaintThrough) -> Belief | None:
        return belief if asked == pair else None

    done = repeated(p, Changes("Again"), stock(GREEN, WHITE, known=known), taught=[pair])
    require_complete(p, done)
    whys = {d.path: d.why for d in told(p, done).values() if d.where == "Wrack Green"}
    assert "for what trials taught since" in whys.values()
    assert done.plan.sprayed[1] == p.sprayed[1]


def test_the_painters_own_way_comes_before_the_schools() -> None:
    p = planned()
    own = SprayAt(**(p.sprayed[0].spray.model_dump() | {"pressure_psi": 11.0, "distance_mm": 40.0}))

    def way(pair: PaintThrough, task: str) -> SprayAt | None:
        return own if (pair.paint, pair.needle_mm, task) == (GREEN.id, 0.2, "cover") else None

    done = repeated(p, Changes("Again", airbrush=FINE), ALL, own_way=way)
    assert done.plan.sprayed[0].spray == own
    assert told(p, done)["coats.c1.spray.pressure_psi"].why == (
        "for the 0.2 mm needle, your own way"
    )


def on_parts(names: dict[str, str]) -> list[Part]:
    return [Part(id=i, name=n, bodies=[k]) for k, (i, n) in enumerate(names.items())]


def other_piece(p: Plan, **more: Any) -> Any:
    return p.piece.model_copy(update={"mesh": "b" * 64, "name": "Bust", **more})


def test_on_another_piece_steps_go_to_the_part_of_the_same_name() -> None:
    hat = HandStep(id="h1", name="Hat", role="dry_brush", paint=WHITE, part="hat-1")
    lamp = HandStep(id="h2", name="Lamp", role="dry_brush", paint=WHITE, part="lamp-1")
    p = planned()
    piece = p.piece.model_copy(update={"parts": on_parts({"hat-1": "Hat", "lamp-1": "Lamp"})})
    p = p.model_copy(update={"piece": piece, "coats": [*p.coats, hat, lamp]})
    new = other_piece(p, parts=on_parts({"x": "HAT", "y": "Collar"}))
    done = repeated(p, Changes("Again", piece=new), ALL)
    require_complete(p, done)
    by_id = {c.id: c for c in done.plan.coats}
    assert by_id["h1"].part == "x"  # type: ignore[union-attr]
    assert not by_id["h1"].off
    assert by_id["h2"].off
    assert any("no part called Lamp" in words for words in done.problems)
    assert any("work the angles out again" in words for words in done.problems)


def test_on_another_piece_glows_and_ramps_move_to_the_same_places() -> None:
    glow = GlowLight(id="g", at=(1, 2, 3), to=(2, 2, 3))
    p = planned(aimed=True)
    ramp = Aim(field="ramp", start=(0, 0, 0), end=(0, 0, 4))
    coats = [p.sprayed[0], p.sprayed[1].model_copy(update={"aim": ramp})]
    p = p.model_copy(update={"lights": [KeyLight(), glow], "coats": coats})

    def moved(at: tuple[float, float, float]) -> tuple[float, float, float]:
        return (at[0] * 10, at[1] * 10, at[2] * 10)

    done = repeated(p, Changes("Again", piece=other_piece(p)), ALL, moved=moved)
    require_complete(p, done)
    assert done.plan.glows[0].at == (10, 20, 30)
    assert done.plan.glows[0].to == (20, 20, 30)
    aim = done.plan.sprayed[1].aim
    assert aim is not None
    assert (aim.start, aim.end) == ((0, 0, 0), (0, 0, 40))


WISHES = st.builds(
    Changes,
    name=st.sampled_from(["Test", "Again"]),
    copies=st.sampled_from([None, 1, 6]),
    airbrush=st.sampled_from([None, FINE]),
    room=st.sampled_from([None, COLD]),
)
SHELVES = st.lists(
    st.sampled_from([GREEN, WHITE, paint("Eelgrass", "#4d5c38"), paint("Rust", "#8a4a22")]),
    max_size=4,
    unique=True,
)


@settings(max_examples=25, deadline=None)
@given(WISHES, SHELVES, st.booleans())
def test_whatever_is_other_the_list_of_differences_is_complete(
    wish: Changes, shelf: list[PaintUsed], aimed: bool
) -> None:
    p = planned(aimed=aimed)
    done = repeated(p, wish, stock(*shelf))
    require_complete(p, done)
    assert all(
        d.before != d.after or d.path.endswith(("paint", "aim")) for d in told(p, done).values()
    )
    assert all(d.why for d in told(p, done).values())
    assert Plan.model_validate_json(done.plan.model_dump_json()) == done.plan


def test_the_whole_plan_is_told_first_and_then_step_by_step() -> None:
    p = planned()
    done = repeated(p, Changes("Again", airbrush=FINE), ALL)
    where = [d.where for d in differences(p, done.plan, done.why)]
    told_first = ["", "Wrack Green", "Tern White"]
    assert list(dict.fromkeys(where)) == told_first
    assert where == sorted(where, key=told_first.index)


def test_steps_that_came_or_went_are_one_difference_each() -> None:
    p = planned()
    rest = HandStep(id="rest-1", name="Let it cure", role="rest")
    other = p.model_copy(update={"coats": [p.coats[0], rest]})
    done = Repeated(other)
    require_complete(p, done)
    by_path = told(p, done)
    assert set(by_path) == {"order", "coats.c2", "coats.rest-1"}
    assert (by_path["coats.c2"].before, by_path["coats.c2"].after) == ("Tern White", "")
