"""Days: how near the bound, and how soon."""

from __future__ import annotations

import random
import sys
import time
from dataclasses import replace
from pathlib import Path

from figures import say

sys.path.insert(0, str(Path(__file__).parents[1]))

from haze.core.day.schedule.again import plan_again
from haze.core.day.schedule.checking import faults
from haze.core.day.schedule.planning import Laid, plan_day, reversed_neighbours, usual_ways
from haze.core.day.schedule.problem import Calendar, Day, Lane, cut
from haze.core.day.schedule.tables import Tables
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.day.asked import timed
from haze.service.day.lanes import plan_lane
from haze.service.plan import plans

OPEN = Calendar(14 * 60.0)
EVENING = Calendar(14 * 60.0, 21 * 60.0, cleaned=True)
LATE_MIN = 17.0
NIGHT_MIN = 1000.0


def demo_lanes(folder: Path) -> list[Lane]:
    """The demo's plans as lanes of all their copies."""
    bench = Bench(folder)
    saltgate.load(bench.db)
    found = []
    for one in plans.every(bench.db):
        plan = plans.open_plan(bench.db, one.id).plan
        bench.cache.make(plan.piece, lambda *_: True)
        found.append(plan_lane(one.id, plan, bench.on(plan)).lane)
    bench.close()
    return found


def days(folder: Path) -> None:
    """The demo day, a day of twelve plans and sixty copies, and a replan."""
    lanes = demo_lanes(folder)
    awake = [
        replace(lane, tasks=tuple(t for t in lane.tasks if t.dry_min < NIGHT_MIN)) for lane in lanes
    ]
    cut_lanes = tuple(one for lane in lanes for one in cut(lane))
    short = tuple(one for lane in awake for one in cut(lane))
    for name, day in (
        ("demo day, nights between", Day(cut_lanes, EVENING)),
        ("demo day, its long rests left out", Day(short, OPEN)),
    ):
        for seconds in (2.0, 5.0):
            _told(f"{name}, {seconds:g} s", day, seconds, "<= 15 % in 5 s")
        usual = usual_ways(replace(day, lanes=tuple(lanes if day.calendar is EVENING else awake)))
        said = f"{usual.one_by_one_min or 0:.0f} / {usual.coat_by_coat_min or 0:.0f} min"
        say("  one by one / coat by coat", said, "-")
    _many(lanes)
    _late(Day(short, OPEN))


def _told(what: str, day: Day, seconds: float, reach: str) -> Laid:
    begun = time.perf_counter()
    found = plan_day(day, seed=1, effort=timed(seconds))
    took = time.perf_counter() - begun
    over = found.finish_min / found.bound_min - 1
    wrong = len(faults(day, found.entries))
    figure = f"{found.finish_min:.0f} of {found.bound_min:.0f}, +{over:.1%}, {took:.1f} s"
    say(f"{what} ({wrong} faults)", figure, reach)
    return found


def _many(lanes: list[Lane]) -> None:
    rng = random.Random(3)
    copies = [1] * 12
    for _ in range(60 - len(copies)):
        copies[rng.randrange(len(copies))] += 1
    many = tuple(
        one
        for n, count in enumerate(copies)
        for one in cut(replace(lanes[n % len(lanes)], copies=count))
    )
    for name, calendar in (("open end", OPEN), ("evenings", EVENING)):
        day = Day(many, calendar)
        tasks = len(Tables(day).active)
        _told(f"12 plans, 60 copies, {tasks} tasks, {name}", day, 10.0, "<= 20 % in 10 s")


def _late(day: Day) -> None:
    before = plan_day(day, seed=1, effort=timed(2.0))
    work = [e for e in before.entries if day.lanes[e.lane].tasks[e.step].kind != "rest"]
    done = [e for e in before.entries if e.end_min <= work[9].end_min]
    begun = time.perf_counter()
    found, missed = plan_again(
        day,
        before=before.entries,
        done=done,
        now_min=work[9].end_min + LATE_MIN,
        seed=1,
        effort=timed(0.35),
    )
    took = time.perf_counter() - begun
    moves = reversed_neighbours(before.entries, found.entries)
    wrong = len(faults(day, [*done, *found.entries]))
    figure = f"{took:.2f} s, {moves} moves, {len(missed)} lost"
    say(f"17 minutes late ({wrong} faults)", figure, "<= 1 s")
