"""A plan's steps as tasks of a day."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.day.alike import Alike
from haze.core.day.amounts import CoatAmounts
from haze.core.day.hands import Round
from haze.core.day.runsheet import CoatNeeds
from haze.core.day.tasks import LIFT_WITHIN_MIN, UNMASK_WITHIN_MIN, cup_key, plan_tasks
from haze.core.day.waits import Waits
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from helpers import coat, plan


def needed(one: Coat, *, still_s: float = 600.0, blown_s: float = 30.0) -> CoatNeeds:
    amounts = CoatAmounts(spray_ml=1.2, mix_ml=1.3, cup=[], cup_loads=1)
    waits = Waits(still_s, blown_s, 1.5 * still_s, blown=False)
    rounds = [Round(20.0, 10.0, 30.0) for _ in one.stations]
    return CoatNeeds(amounts, waits, rounds, Alike(np.ones(1), np.ones(1)))


def tasks_of(p: Plan, **waits: float) -> list:  # type: ignore[type-arg]
    return plan_tasks(
        p,
        sprayed={c.id: needed(c, **waits) for c in p.sprayed},
        tip_dry_min={c.id: 8.0 for c in p.sprayed},
        parts={},
        areas_cm2={c.id: 25.0 for c in p.coats if c.kind == "hand"},
    )


def with_steps(p: Plan, *steps: HandStep) -> Plan:
    return p.model_copy(update={"coats": [*p.coats, *steps]})


def test_hands_and_paint_are_told_for_one_copy() -> None:
    one = coat()
    (found,) = tasks_of(plan(one, copies=3))
    # a hold of 5 s and two rounds of 30 s from the one side
    assert found.task.hands_min_per_copy == pytest.approx(65 / 60)
    assert found.task.ml_per_copy == pytest.approx(0.4)
    assert found.task.setup_min == pytest.approx(1.5)
    assert (found.task.kind, found.step) == ("spray", one.id)


def test_blowing_dry_is_a_choice_only_where_it_helps() -> None:
    p = plan(coat())
    # recoat is one and a half times touch-dry: 15 min still, 45 s blown
    quick = tasks_of(p)[0].task
    assert (quick.dry_min, quick.blow_min) == (pytest.approx(15.0), pytest.approx(0.75))
    assert tasks_of(p, still_s=600, blown_s=500)[0].task.blow_min is None
    varnish = plan(coat(kind="varnish"))
    assert tasks_of(varnish)[0].task.blow_min is None  # an hour, blown or not


def test_one_mix_thinned_alike_in_one_airbrush_is_one_cup() -> None:
    a, b = coat("a"), coat("b")
    p = plan(a, b)
    assert cup_key(p, a) == cup_key(p, b)
    assert cup_key(p, a) != cup_key(p, coat("c", thinner_parts=2.0))
    other = p.model_copy(update={"airbrush": p.airbrush.model_copy(update={"needle_mm": 0.5})})
    assert cup_key(p, a) != cup_key(other, a)


def test_rests_between_rounds_send_the_hands_round_all_copies() -> None:
    assert tasks_of(plan(coat(rest_s=20.0)))[0].task.turns == 2
    assert tasks_of(plan(coat()))[0].task.turns == 1


def test_what_sticks_is_cleaned_for_and_a_cup_lives_by_its_tip() -> None:
    metal = tasks_of(plan(coat(kind="metallic")))[0].task
    assert metal.metal
    assert metal.sticky
    assert tasks_of(plan(coat()))[0].task.life_min == 40.0  # five times eight


def test_a_spirit_wash_is_put_on_and_lifted_in_time() -> None:
    paint = coat(kind="enamel_wash").paint
    wash = HandStep(id="w", name="Bilge Wash", role="wash", paint=paint)
    _, on, lifted = tasks_of(with_steps(plan(coat()), wash))
    assert on.task.latest_min == LIFT_WITHIN_MIN
    assert (on.step, lifted.step) == ("w", "w")
    assert lifted.task.name == "Bilge Wash, lifted"
    both = on.task.hands_min_per_copy + lifted.task.hands_min_per_copy
    assert both == pytest.approx(5.0)  # five minutes on a figure
    water = HandStep(id="w", name="Wash", role="wash", paint=coat().paint)
    assert len(tasks_of(with_steps(plan(coat()), water))) == 2


def test_a_mask_comes_off_while_the_paint_over_its_edge_is_soft() -> None:
    off = HandStep(id="m", name="Mask off", role="mask_off")
    masked = with_steps(plan(coat()), off)
    assert tasks_of(masked)[0].task.latest_min == UNMASK_WITHIN_MIN
    assert tasks_of(plan(coat()))[0].task.latest_min is None


def test_a_rest_takes_no_hands() -> None:
    rest = HandStep(id="r", name="Overnight", role="rest", minutes=600)
    found = tasks_of(with_steps(plan(coat()), rest))[1].task
    assert (found.kind, found.hands_min_per_copy, found.dry_min) == ("rest", 0.0, 600.0)


def test_what_is_switched_off_is_left_out() -> None:
    p = plan(coat("a"), coat("b").model_copy(update={"off": True}))
    assert [t.step for t in tasks_of(p)] == ["a"]
