"""How much to mix, in whole drops."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from haze.core.day.amounts import (
    CUP_REST_ML,
    TRIAL_ML,
    Bottle,
    CoatAmounts,
    Poured,
    coat_amounts,
    coat_cup,
    drops_words,
    needed,
    pour,
    premix,
)
from haze.core.onpiece.painting import Spraying
from haze.core.plan.mix import Mix
from haze.core.plan.paint import ThinnerUsed
from helpers import coat, outcome_of, plan


def test_cup_is_poured_thinner_first_in_whole_drops() -> None:
    c = coat(thinner_parts=2.0, flow_aid_parts=0.25)
    cup = coat_cup(c, mix_ml=1.0)
    assert [p.role for p in cup] == ["thinner", "paint", "flow_aid"]
    assert sum(p.ml for p in cup) >= 1.0 - 0.05
    drops = {p.role: p.drops for p in cup}
    assert drops["thinner"] == 2 * drops["paint"]


def test_a_tenth_of_retarder_is_a_drop_in_ten_of_paint() -> None:
    cup = coat_cup(coat(thinner_parts=1.0, retarder_parts=0.1), mix_ml=1.0)
    drops = {p.role: p.drops for p in cup}
    assert drops == {"thinner": 10, "paint": 10, "retarder": 1}
    assert [p.role for p in cup][-1] == "retarder"


def test_what_is_added_at_all_is_a_drop_at_least() -> None:
    # 4 drops of paint fill .4 ml; of the next few, 7 come nearest to a whole drop of a tenth
    cup = coat_cup(coat(thinner_parts=1.0, retarder_parts=0.1), mix_ml=0.4)
    assert {p.role: p.drops for p in cup} == {"thinner": 7, "paint": 7, "retarder": 1}


def test_drop_sizes_count() -> None:
    c = coat(thinner_parts=1.0)
    c.thinner = ThinnerUsed(id="t", name="big drops", kind="acrylic_thinner", drop_ul=100)
    drops = {p.role: p.drops for p in coat_cup(c, mix_ml=2.0)}
    assert drops["paint"] == 2 * drops["thinner"]


def test_a_mix_is_poured_in_whole_multiples_of_its_drops() -> None:
    green, big = coat().paint, coat().paint.model_copy(update={"id": "q", "drop_ul": 100.0})
    c = coat(thinner_parts=1.0).mixed_as(Mix.of((green, 3), (big, 1)))
    cup = coat_cup(c, mix_ml=1.0)
    paints = [p for p in cup if p.role == "paint"]
    # 3 × 50 µl + 1 × 100 µl = 250 µl; half a millilitre of paint is two of it
    assert [p.drops for p in paints] == [6, 2]
    assert [p.ml for p in paints] == pytest.approx([0.3, 0.2])
    assert sum(p.ml for p in cup) == pytest.approx(1.0)


def test_nothing_is_poured_of_what_is_not_wanted() -> None:
    neat = pour(
        [(Bottle("ink", 50.0), 1)],
        thinner=Bottle("water", 50.0),
        thinner_parts=0.0,
        flow_aid_parts=0.0,
        mix_ml=0.4,
    )
    assert [(p.what, p.drops) for p in neat] == [("ink", 8)]


def test_amounts_grow_with_copies_and_carry_rest_and_trial() -> None:
    c = coat()
    out = outcome_of(c)
    one, six = (coat_amounts(c, outcome=out, strokes_s=30.0, copies=n, cup_ml=7) for n in (1, 6))
    assert one.spray_ml == pytest.approx(float(out.flow_ml_min) / 2)
    assert six.spray_ml == pytest.approx(6 * one.spray_ml)
    assert one.mix_ml == pytest.approx(one.spray_ml + CUP_REST_ML + TRIAL_ML)
    small = coat_amounts(c, outcome=out, strokes_s=300.0, copies=60, cup_ml=2)
    assert small.cup_loads > 1
    assert small.cup_loads * sum(p.ml for p in small.cup) >= small.spray_ml
    assert small.mix_ml == pytest.approx(small.spray_ml + TRIAL_ML + small.cup_loads * CUP_REST_ML)


def test_the_worked_example_of_the_docs() -> None:
    text = " ".join((Path(__file__).parents[3] / "docs" / "models.md").read_text().split())
    said = re.search(
        r"flows at ([\d.]+) ml/min, the trigger is down for (\d+) s on a copy, "
        r"there are (\d+) copies, the cup holds (\d+) ml, "
        r"the paint is thinned ([\d.]+) : 1 .* so (\d+) cups, each .*? = "
        r"([\d.]+) ml\..* best are (\d+) with (\d+) of thinner.* in all: (\d+) drops of paint, "
        r"([\d.]+) ml, and (\d+) of thinner, ([\d.]+) ml",
        text,
    )
    assert said is not None
    numbers = [float(n) for n in said.groups()]
    flow, down, copies, cup, parts, cups, each, paint, thin = numbers[:9]
    all_paint, paint_ml, all_thin, thin_ml = numbers[9:]
    c = coat(thinner_parts=parts)
    out = replace(outcome_of(c), flow_ml_min=np.asarray(flow))
    got = coat_amounts(c, outcome=out, strokes_s=down, copies=int(copies), cup_ml=cup)
    assert got.cup_loads == cups
    assert got.mix_ml / cups == pytest.approx(each)
    assert {p.role: p.drops for p in got.cup} == {"thinner": thin, "paint": paint}
    bottles = {n.role: n.ml for n in needed([got])}
    assert bottles == pytest.approx({"thinner": thin_ml, "paint": paint_ml})
    assert (all_paint, all_thin) == (cups * paint, cups * thin)


@given(copies=st.integers(1, 60), seconds=st.floats(1, 600), drop_ul=st.floats(20, 120))
def test_copies_and_drop_sizes_change_amounts_and_nothing_else(
    copies: int, seconds: float, drop_ul: float
) -> None:
    c = coat(thinner_parts=2.0)
    c.paint = c.paint.model_copy(update={"drop_ul": drop_ul})
    for number in (1, copies):
        of = plan(c)
        of.piece.copies = number
        assert Spraying.of(of, c) == Spraying.of(plan(coat(thinner_parts=2.0)), c)
    out = outcome_of(c)
    one, many = (
        coat_amounts(c, outcome=out, strokes_s=seconds, copies=n, cup_ml=7) for n in (1, copies)
    )
    assert many.spray_ml == pytest.approx(copies * one.spray_ml)
    volume = {p.role: p.ml for p in many.cup}
    # whole drops near the wanted ratio, whatever their size
    assert volume["thinner"] / volume["paint"] == pytest.approx(2.0, rel=0.26)


def test_the_least_cup_by_hand() -> None:
    c = coat()
    out = outcome_of(c)
    least = coat_amounts(c, outcome=out, strokes_s=0.0, copies=1, cup_ml=7)
    # nothing sprayed: what stays in the cup, and the trial on card
    assert least.mix_ml == pytest.approx(0.08 + 0.05)
    assert least.cup_loads == 1


def test_drops_are_counted_up_to_twenty_and_measured_above() -> None:
    def poured(drops: int) -> Poured:
        return Poured("ink", "paint", drops, drops * 0.05, None)

    assert [drops_words(poured(n)) for n in (1, 2, 20, 21)] == [
        "1 drop",
        "2 drops",
        "20 drops",
        "1.1 ml",
    ]


def test_what_all_cups_need_adds_up_by_bottle_paints_first() -> None:
    white = [
        Poured("white", "paint", 4, 0.2, "#ffffff", "w"),
        Poured("thinner", "thinner", 6, 0.3, None, "t"),
    ]
    both = [
        Poured("white", "paint", 2, 0.1, "#ffffff", "w"),
        Poured("ink", "paint", 9, 0.45, None, "i"),
    ]
    found = needed([CoatAmounts(0.5, 1.0, white, 2), CoatAmounts(0.2, 0.55, both, 1)])
    assert [(n.id, n.cups) for n in found] == [("w", 3), ("i", 1), ("t", 2)]
    assert [n.ml for n in found] == pytest.approx([0.5, 0.45, 0.6])


def test_a_premix_fills_its_bottle_by_the_size_of_drops() -> None:
    paints = [(Bottle("white", 60.0), 3), (Bottle("ink", 30.0), 1)]
    plain = premix(paints, thinner=Bottle("water", 50.0), thinner_parts=0.0, ml=21.0)
    assert plain == [("white", pytest.approx(18.0)), ("ink", pytest.approx(3.0))]
    thinned = premix(paints, thinner=Bottle("water", 50.0), thinner_parts=2.0, ml=21.0)
    assert thinned == [
        ("water", pytest.approx(14.0)),
        ("white", pytest.approx(6.0)),
        ("ink", pytest.approx(1.0)),
    ]
    assert premix(paints, thinner=None, thinner_parts=2.0, ml=21.0) == plain
