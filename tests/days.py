"""Days made up for the tests: a few by hand, the rest drawn from a seed."""

from __future__ import annotations

import random
from dataclasses import replace

from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.laying import Choice, entries_of
from haze.core.day.schedule.planning import Laid, plan_day
from haze.core.day.schedule.problem import Calendar, Day, Entry, Lane, Task, cut
from haze.core.day.schedule.tables import Tables

EVENING = Calendar(14 * 60.0, 21 * 60.0, ((16 * 60.0, 16 * 60.0 + 15),))


def spray(name: str, key: str, minutes: float, **more: object) -> Task:
    """A sprayed task with a cup of usual set-up."""
    usual: dict[str, object] = {"dry_min": 10.0, "light": 40.0, "ml_per_copy": 0.4}
    return Task(
        name,
        "spray",
        hands_min_per_copy=minutes,
        key=key,
        setup_min=1.5,
        **(usual | more),  # type: ignore[arg-type]
    )


def drawn_day(
    seed: int,
    *,
    plans: int = 4,
    copies: int = 9,
    airbrushes: int = 1,
    calendar: Calendar = EVENING,
    steps: tuple[int, int] = (4, 7),
) -> Day:
    """A day of a few plans with cups they share, washes to be lifted in time, rests."""
    rng = random.Random(seed)
    cups = [(f"cup {n}", rng.uniform(5, 95), rng.random() < 0.15) for n in range(plans + 4)]
    split = [1] * plans
    for _ in range(copies - plans):
        split[rng.randrange(plans)] += 1
    lanes: list[Lane] = []
    for n in range(plans):
        tasks = tuple(t for _ in range(rng.randint(*steps)) for t in _some(rng, cups))
        lanes += cut(Lane(f"plan {n}", tasks, split[n]))
    lanes = [replace(lane, name=f"{lane.name}.{n}") for n, lane in enumerate(lanes)]
    return Day(tuple(lanes), calendar, airbrushes)


def _some(rng: random.Random, cups: list[tuple[str, float, bool]]) -> list[Task]:
    what = rng.random()
    if what < 0.7:
        key, light, sticky = rng.choice(cups)
        return [
            spray(
                f"coat of {key}",
                key,
                rng.uniform(0.8, 4),
                dry_min=rng.choice([3.0, 15.0, 60.0]),
                light=light,
                sticky=sticky,
                metal=rng.random() < 0.1,
                carry=rng.random() < 0.2,
                ml_per_copy=rng.uniform(0.2, 1.6),
                blow_min=rng.choice([None, 0.5]),
                turns=rng.choice([1, 1, 3]),
            )
        ]
    if what < 0.85:
        on = Task("wash on", "hand", hands_min_per_copy=3.0, dry_min=20.0, latest_min=40.0)
        return [on, Task("wash lifted", "hand", hands_min_per_copy=3.0, dry_min=30.0)]
    if what < 0.93:
        return [Task("rest", "rest", dry_min=rng.choice([30.0, 120.0]))]
    return [Task("brush", "hand", hands_min_per_copy=rng.uniform(2, 6), dry_min=10.0)]


def quickly(day: Day, *, orders: int = 400, seed: int = 1) -> Laid:
    """A day laid with little effort."""
    return plan_day(day, seed=seed, effort=Effort.of_orders(orders))


def in_turn(day: Day, order: list[int], *, blown: tuple[int, ...] = ()) -> list[Entry]:
    """A day laid in an order of lanes that is given."""
    tables = Tables(day)
    count = len(tables.active)
    dried = [t in blown for t in range(count)]
    return entries_of(tables, Choice(order, dried, [0] * count))
