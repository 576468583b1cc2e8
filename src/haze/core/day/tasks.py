"""A plan's steps as tasks of a day: hands and waits a copy, the cup, and what must not wait.

A spirit wash is two tasks, put on and lifted. What is held back by a mask must be freed while its
last coat is soft enough to tear cleanly.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from haze.core.day.cleaning import CLINGING
from haze.core.day.hands import by_hand_s, coat_hands_s, idle_s, round_counts
from haze.core.day.runsheet import POUR_S, TRIAL_S, CoatNeeds, hand_words, is_carried
from haze.core.day.schedule.problem import Task
from haze.core.day.waits import hand_wait_s, recoat_s
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.spray.constants import PAINTS

LIFE_OVER_TIP = 5.0  # a tip is wiped as it dries; a cup is kept so many times as long (judged)
LEAST_LIFE_MIN, MOST_LIFE_MIN = 30.0, 60.0
BLOWN_WORTH = 0.5  # of the wait in still air: blowing dry is a choice only below it
WASH_ON = 0.6  # of a spirit wash's hands put it on, the rest lifts it (judged)
LIFT_AFTER_MIN, LIFT_WITHIN_MIN = 20.0, 40.0  # models.md A10
UNMASK_WITHIN_MIN = 240.0  # paint over a mask's edge tears when it is hard (judged)


@dataclass(frozen=True, slots=True)
class DayTask:
    """A task and the step of the plan it comes from; `words` is what is done."""

    task: Task
    step: str
    words: str
    colour: str | None


def plan_tasks(
    plan: Plan,
    *,
    sprayed: Mapping[str, CoatNeeds],
    tip_dry_min: Mapping[str, float],
    parts: Mapping[str, str],
    areas_cm2: Mapping[str, float],
) -> list[DayTask]:
    """All steps of a plan as tasks, in order; those that are switched off are left out.

    Parameters
    ----------
    sprayed : amounts, waits and rounds of each sprayed coat by its id
    tip_dry_min : float [min], by the id of each sprayed coat
    parts : names of the parts by id
    areas_cm2 : float [cm²], what each step by hand is done on, of one copy, by its id
    """
    found: list[DayTask] = []
    for one, after in pairwise([*plan.done, None]):
        assert one is not None
        latest = _latest(one, after)
        if one.kind == "spray":
            life = tip_dry_min[one.id] * LIFE_OVER_TIP
            found.append(_sprayed(plan, one, sprayed[one.id], after, latest, life))
        else:
            part = parts.get(one.about_part or "")
            found += _by_hand(one, areas_cm2[one.id], part, latest)
    return found


def _latest(one: Coat | HandStep, after: Coat | HandStep | None) -> float | None:
    freed = after is not None and after.kind == "hand" and after.role == "mask_off"
    return UNMASK_WITHIN_MIN if freed and one.kind == "spray" else None


def _sprayed(
    plan: Plan,
    coat: Coat,
    need: CoatNeeds,
    after: Coat | HandStep | None,
    latest: float | None,
    life: float,
) -> DayTask:
    copies, kind = plan.piece.copies, coat.paint.kind
    hands = coat_hands_s(coat, need.rounds, copies=copies)
    idle = idle_s(coat, need.rounds, copies=copies)
    still = float(recoat_s(kind, np.asarray(need.waits.touch_dry_still_s))) / 60
    blown = float(recoat_s(kind, np.asarray(need.waits.touch_dry_blown_s))) / 60
    task = Task(
        coat.name,
        "spray",
        hands_min_per_copy=(hands + idle) / 60 / copies,
        dry_min=still,
        key=cup_key(plan, coat),
        light=coat.paint.tone,
        metal=kind == "metallic",
        sticky=any(p.kind in CLINGING for p in coat.mix.paints),
        carry=is_carried(plan, coat, after),
        ml_per_copy=need.amounts.spray_ml / copies,
        setup_min=(POUR_S + TRIAL_S) / 60,
        blow_min=blown if blown < BLOWN_WORTH * still else None,
        latest_min=None if latest is None else max(latest, 2 * still),
        turns=max(round_counts(coat), default=1) if coat.spray.rest_s else 1,
        life_min=min(max(life, LEAST_LIFE_MIN), MOST_LIFE_MIN),
        chemistry=PAINTS[kind].chemistry,
    )
    return DayTask(task, coat.id, coat.mix.name, coat.mix.hex)


def cup_key(plan: Plan, coat: Coat) -> str:
    """What is in a cup: the mix, what thins it and how far, and the airbrush it is in.

    Parameters
    ----------
    plan : gives the airbrush
    coat : gives mix and thinning
    """
    mixed = "+".join(f"{drops} {p.id or p.name}" for p, drops in coat.mix.parts)
    s = coat.spray
    thin = f"{coat.thinner.id or coat.thinner.name} {s.thinner_parts:g}"
    more = f"{s.flow_aid_parts:g} {s.retarder_parts:g}"
    return f"{mixed} / {thin} / {more} / {plan.airbrush.id} {plan.airbrush.needle_mm:g}"


def _by_hand(
    step: HandStep, area_cm2: float, part: str | None, latest: float | None
) -> list[DayTask]:
    wait = hand_wait_s(step) / 60
    colour = step.mix.hex if step.mix else None
    if step.role == "rest":
        rest = Task(step.name, "rest", dry_min=wait)
        return [DayTask(rest, step.id, step.note or step.words, None)]
    hands = by_hand_s(step, copies=1, area_cm2=area_cm2) / 60
    words = hand_words(step, part)
    if step.washes and step.paint is not None and step.paint.kind == "enamel_wash":
        on = Task(
            step.name,
            "hand",
            hands_min_per_copy=WASH_ON * hands,
            dry_min=LIFT_AFTER_MIN,
            latest_min=LIFT_WITHIN_MIN,
        )
        lift = Task(
            f"{step.name}, lifted", "hand", hands_min_per_copy=(1 - WASH_ON) * hands, dry_min=wait
        )
        lifting = "Lift what has pooled on flat places with a brush just damp with spirit."
        return [DayTask(on, step.id, words, colour), DayTask(lift, step.id, lifting, colour)]
    task = Task(step.name, "hand", hands_min_per_copy=hands, dry_min=wait, latest_min=latest)
    return [DayTask(task, step.id, words, colour)]
