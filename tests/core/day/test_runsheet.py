"""The day in order."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import trimesh

from haze.core.day.amounts import (
    coat_amounts,
)
from haze.core.day.runsheet import (
    POUR_S,
    RINSE_S,
    TRIAL_S,
    Sprayed,
    hand_words,
    pour_words,
    rest_seconds,
    run_sheet,
    total_seconds,
    trial_words,
)
from haze.core.day.waits import coat_waits
from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.roles import HANDS
from helpers import coat, outcome_of, plan

BOX = np.asarray(trimesh.creation.box((20, 30, 60)).vertices, dtype=np.float32)


def test_the_day_runs_in_order_and_rinses_while_it_dries() -> None:
    coats = [coat("a"), coat("b")]
    outs = [outcome_of(c) for c in coats]
    needs = {
        c.id: Sprayed(
            coat_amounts(c, outcome=o, strokes_s=40.0, copies=2, cup_ml=7), coat_waits(c, o)
        )
        for c, o in zip(coats, outs, strict=True)
    }
    steps = run_sheet(plan(*coats, copies=2), sprayed=needs, parts={})
    hands = [s for s in steps if not s.beside]
    assert [s.kind for s in hands] == ["pour", "trial", "spray", "rinse"] * 2
    for one, two in itertools.pairwise(hands):
        assert two.start_s >= one.start_s + one.seconds - 1e-6
    dries = next(s for s in steps if s.kind == "dry")
    assert steps[steps.index(dries) + 1].start_s == dries.start_s
    second = next(s for s in steps if s.coat == "b")
    assert second.start_s == pytest.approx(dries.start_s + max(dries.seconds, RINSE_S))
    assert total_seconds(steps) >= steps[-1].start_s
    assert "2 passes" in next(s.text for s in steps if s.kind == "spray")


def test_spraying_the_other_copies_fills_the_rest() -> None:
    one = coat(rest_s=30.0)
    assert rest_seconds(one, one_pass_s=10.0, copies=1) == 30
    assert rest_seconds(one, one_pass_s=10.0, copies=2) == 20
    assert rest_seconds(one, one_pass_s=10.0, copies=4) == 0
    assert rest_seconds(one, one_pass_s=10.0, copies=9) == 0


def laid(*steps, copies: int = 1, strokes_s: float = 40.0):  # type: ignore[no-untyped-def]
    needs = {
        c.id: Sprayed(
            coat_amounts(c, outcome=outcome_of(c), strokes_s=strokes_s, copies=copies, cup_ml=7),
            coat_waits(c, outcome_of(c)),
        )
        for c in steps
        if c.kind == "spray"
    }
    return run_sheet(plan(*steps, copies=copies), sprayed=needs, parts={"hat": "Hat"})


def test_each_copy_is_sprayed_and_idle_rests_are_told() -> None:
    c = coat(rest_s=30.0)
    passes = c.passes
    alone, three = (next(s for s in laid(c, copies=n) if s.kind == "spray").seconds for n in (1, 3))
    assert alone == pytest.approx(40.0 + passes * 30.0)
    idle = max(0.0, 30.0 - 2 * 40.0 / passes)
    assert three == pytest.approx(3 * 40.0 + passes * idle)


def test_an_aimed_coat_takes_its_strokes_for_every_copy() -> None:
    c = coat(rest_s=30.0)
    c.stations, c.aim = [], Aim(field="edges", passes=4)
    spray = next(s for s in laid(c, copies=2) if s.kind == "spray")
    assert spray.passes == 4
    assert spray.seconds == pytest.approx(2 * 40.0 + 4 * (30.0 - 10.0))
    assert spray.text.startswith("4 passes, along the edges that face up;")


def test_steps_by_hand_take_hands_and_waits_and_a_rest_only_waits() -> None:
    brush = HandStep(id="h", name="Wash", role="wash", paint=coat().paint, part="hat", minutes=15)
    rest = HandStep(id="r", name="Rest", role="rest", minutes=30)
    steps = laid(brush, rest, coat("a"), copies=2)
    hands, dry, wait = steps[:3]
    assert (hands.kind, hands.seconds) == ("hand", 60 * HANDS["wash"].hands_min * 2)
    assert (dry.kind, dry.start_s, dry.seconds, dry.beside) == ("rest", hands.seconds, 900, True)
    assert (wait.coat, wait.start_s, wait.seconds) == ("r", hands.seconds + 900, 1800)
    assert steps[3].start_s == hands.seconds + 900 + 1800
    assert "On Hat only." in hands.text
    spray = next(s for s in steps if s.kind == "spray")
    assert spray.start_s == pytest.approx(steps[3].start_s + POUR_S + TRIAL_S)


def test_words_say_what_to_do() -> None:
    c = coat()
    amounts = coat_amounts(c, outcome=outcome_of(c), strokes_s=900.0, copies=9, cup_ml=2)
    words = pour_words(amounts)
    assert words.index(c.thinner.name) < words.index(c.paint.name)
    assert f"Mix {amounts.cup_loads} such cups." in words
    assert trial_words(c) == "Try on card at 20 psi (1.4 bar), 75 mm, trigger stop 30%."
    step = HandStep(
        id="h", name="Dry", role="dry_brush", paint=c.paint, aim=Aim(field="edges", passes=1)
    )
    told = hand_words(step, None)
    assert told.startswith(f"Dry brush. {c.paint.name}: ")
    assert told.endswith("Along the edges that face up.")


def test_the_last_coat_dries_before_handling() -> None:
    texts = [s.text for s in laid(coat("a"), coat("b")) if s.kind == "dry"]
    assert "the next step" in texts[0]
    assert "handling" in texts[1]
    assert total_seconds([]) == 0
