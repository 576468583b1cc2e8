"""The day in order."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from haze.core.day.alike import Alike
from haze.core.day.amounts import coat_amounts
from haze.core.day.hands import HOLD_S, Round
from haze.core.day.runsheet import (
    POUR_S,
    TRIAL_S,
    CoatNeeds,
    hand_words,
    pour_words,
    run_sheet,
    trial_words,
)
from haze.core.day.waits import coat_waits
from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.roles import HANDS
from helpers import coat, outcome_of, plan

ROUND = Round(paint_s=6.0, strokes=4.0, hands_s=10.0)


def laid(*steps, copies: int = 1, area_cm2: float = 25.0, cup: str = "rinse"):  # type: ignore[no-untyped-def]
    needs = {
        c.id: CoatNeeds(
            coat_amounts(c, outcome=outcome_of(c), strokes_s=40.0, copies=copies, cup_ml=7),
            coat_waits(c, outcome_of(c)),
            [ROUND] * (1 if c.aim else len(c.stations)),
            Alike(np.ones(2), np.ones(2)),
        )
        for c in steps
        if c.kind == "spray"
    }
    made = plan(*steps, copies=copies)
    made.schools = made.schools.model_copy(update={"cup": cup})
    areas = {s.id: area_cm2 for s in steps if s.kind == "hand"}
    return run_sheet(made, sprayed=needs, parts={"hat": "Hat"}, areas_cm2=areas)


def test_the_day_runs_in_order_and_rinses_while_it_dries() -> None:
    steps = laid(coat("a"), coat("b"), copies=2)
    hands = [s for s in steps if not s.beside]
    assert [s.kind for s in hands] == ["pour", "trial", "spray", "rinse"] * 2
    for one, two in itertools.pairwise(hands):
        assert two.start_s >= one.start_s + one.seconds - 1e-6
    dries = next(s for s in steps if s.kind == "dry")
    assert steps[steps.index(dries) + 1].start_s == dries.start_s
    second = next(s for s in steps if s.coat == "b")
    rinse = next(s for s in steps if s.kind == "rinse")
    assert second.start_s == pytest.approx(dries.start_s + max(dries.seconds, rinse.seconds))
    text = next(s.text for s in steps if s.kind == "spray")
    assert text.startswith("2 rounds from the ")


def test_each_copy_is_sprayed_and_idle_rests_are_told() -> None:
    c = coat(rest_s=30.0)
    (station,) = c.stations
    count = station.passes
    alone, three = (next(s for s in laid(c, copies=n) if s.kind == "spray") for n in (1, 3))
    assert alone.seconds - alone.idle_s == pytest.approx(HOLD_S + count * 10.0)
    assert alone.idle_s == pytest.approx((count - 1) * 30.0)
    assert three.seconds - three.idle_s == pytest.approx(3 * (HOLD_S + count * 10.0))
    assert three.idle_s == pytest.approx((count - 1) * 10.0)
    assert alone.rounds == count


def test_rests_are_told_with_the_trial() -> None:
    def told(copies: int, **spray: float) -> str:
        return next(s.text for s in laid(coat(**spray), copies=copies) if s.kind == "trial")

    assert told(1, rest_s=30.0).endswith("Between rounds let it set for 30 s.")
    assert told(1, rest_s=30.0, blown=True).endswith("Between rounds blow it dry for 30 s.")
    assert told(6, rest_s=30.0).endswith(
        "Go round: all 6 copies, then again. It sets meanwhile: no waiting."
    )
    assert "round" not in told(1)


def test_an_aimed_coat_takes_its_strokes_for_every_copy() -> None:
    c = coat(rest_s=30.0)
    c.stations, c.aim = [], Aim(field="edges", passes=4)
    spray = next(s for s in laid(c, copies=2) if s.kind == "spray")
    assert spray.rounds == 4
    assert spray.seconds == pytest.approx(2 * (HOLD_S + 40.0) + 3 * (30.0 - 10.0))
    assert spray.text.startswith("4 rounds, along the edges that face up;")


def test_steps_by_hand_take_hands_and_waits_and_a_rest_only_waits() -> None:
    brush = HandStep(id="h", name="Wash", role="wash", paint=coat().paint, part="hat", minutes=15)
    rest = HandStep(id="r", name="Rest", role="rest", minutes=30)
    steps = laid(brush, rest, coat("a"), copies=2, area_cm2=100.0)
    hands, dry, wait = steps[:3]
    assert (hands.kind, hands.seconds) == ("hand", 60 * HANDS["wash"].hands_min * 2 * 2)
    assert (dry.kind, dry.start_s, dry.seconds, dry.beside) == ("rest", hands.seconds, 900, True)
    assert (wait.coat, wait.start_s, wait.seconds) == ("r", hands.seconds + 900, 1800)
    assert steps[3].start_s == hands.seconds + 900 + 1800
    assert "On Hat only." in hands.text
    spray = next(s for s in steps if s.kind == "spray")
    assert spray.start_s == pytest.approx(steps[3].start_s + POUR_S + TRIAL_S)


def test_rungs_whose_rest_is_carried_are_not_rinsed_out() -> None:
    rungs = [coat(name).model_copy(update={"task": "rung"}) for name in ("a", "b", "c")]
    after = coat("d")

    def rinsed(cup: str) -> list[str]:
        return [s.coat for s in laid(*rungs, after, cup=cup) if s.kind == "rinse"]

    assert rinsed("rinse") == ["a", "b", "c", "d"]
    assert rinsed("carry") == ["c", "d"]
    steps = laid(*rungs, after, cup="carry")
    dries = next(s for s in steps if s.kind == "dry")
    assert next(s for s in steps if s.coat == "b").start_s == dries.start_s + dries.seconds


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


def test_after_the_last_step_nothing_is_waited_for() -> None:
    steps = laid(coat("a"), coat("b"))
    assert [s.coat for s in steps if s.kind == "dry"] == ["a"]
    assert steps[-1].kind == "rinse"
    brush = HandStep(id="h", name="Wash", role="wash", paint=coat().paint, minutes=15)
    assert [s.kind for s in laid(coat("a"), brush)][-1] == "hand"
