"""How short a day could be at best: no order of these tasks finishes before the bound.

The hands are one machine that may drop any copy at any moment (so it does at least as well as real
hands): every copy of every task has a head before it and a tail after it, walked through the
calendar, and the cups take at least what an assignment of them to each other costs. The earliest
finish at which earliest-deadline-first meets all deadlines is the bound (Jackson 1955; Horn 1974).
"""

from __future__ import annotations

from heapq import heappop, heappush
from itertools import permutations
from math import inf

import numpy as np
from scipy.optimize import linear_sum_assignment

from haze.core.arrays import Array
from haze.core.day.schedule.problem import DAY_MIN
from haze.core.day.schedule.tables import NEVER, Tables

Job = tuple[float, float, float]  # release, deadline, minutes
EXACT_MIN = 0.25  # the bound is found to


def bound_min(tables: Tables) -> float:
    """Minutes before which no order finishes.

    Parameters
    ----------
    tables : of the day
    """
    if not tables.active:
        return 0.0
    heads = _heads(tables)
    low = max(h + min(tables.minutes[t]) for t, h in enumerate(heads))
    high = low
    while not _possible(tables, heads, high):
        low, high = high, high * 1.3 + 30.0
        if high > NEVER:
            return low
    while high - low > EXACT_MIN:
        middle = (low + high) / 2
        if _possible(tables, heads, middle):
            high = middle
        else:
            low = middle
    return low


def _heads(tables: Tables) -> list[float]:
    """Earliest start of each task, as if it were alone with its lane."""
    begun = tables.day.begun
    now = begun.now_min if begun else 0.0
    found = [0.0] * len(tables.active)
    for lane, numbers in enumerate(tables.of_lane):
        early = max(now, tables.ready[lane])
        for t in numbers:
            early = max(early, tables.early[t])
            found[t] = tables.time.fit(early, min(tables.minutes[t]))
            early = found[t] + min(min(row) for row in tables.least[t])
    return found


def _cup_jobs(
    tables: Tables, heads: list[float], days: int
) -> tuple[list[tuple[float, float, int]], float]:
    """Set-up of the first cup of each key as (release, minutes, key), and what all need beyond.

    Where airbrushes are cleaned overnight, each begins every one of the `days` clean.
    """
    keys = tables.keys
    if not keys:
        return [], 0.0
    number = {k: n for n, k in enumerate(keys)}
    by_key: list[list[int]] = [[] for _ in keys]
    for t in tables.sprayed:
        by_key[number[tables.key[t] or ""]].append(t)
    count = len(keys)
    setup = np.array([min(tables.setup[t] for t in by_key[k]) for k in range(count)])
    between = _rinses(tables, by_key)
    first = _first_rinses(tables, by_key, setup)
    if tables.cleaned:
        first = np.vstack([first, np.zeros(((days - 1) * len(first), count))])
    cheapest = np.minimum(between.min(axis=0), first.min(axis=0))
    # a key that is poured twice may go before two others, at the price of pouring it again; with
    # one clean start only one of the two can be that start
    into = cheapest if len(first) > 1 else between.min(axis=0)
    again = between + (setup + np.maximum(into, 0.0))[:, None]
    costs = np.vstack([between, first, again])
    costs[~np.isfinite(costs)] = 1e6
    rows, columns = linear_sum_assignment(costs)
    total = float(costs[rows, columns].sum() + setup.sum())
    jobs = []
    for k in range(count):
        minutes = max(float(setup[k] + cheapest[k]), 0.0)
        release = max(0.0, min(heads[t] for t in by_key[k]) - minutes)
        jobs.append((release, minutes, k))
    return jobs, max(0.0, total - sum(m for _, m, _ in jobs))


def _rinses(tables: Tables, by_key: list[list[int]]) -> Array:
    """(k, k) float [min]: least rinse from each key to each other; inf to itself."""
    between = np.full((len(by_key), len(by_key)), inf)
    for (a, last), (b, following) in permutations(enumerate(by_key), 2):
        between[a, b] = min(tables.rinse[i][j] for i in last for j in following)
    return between


def _first_rinses(tables: Tables, by_key: list[list[int]], setup: Array) -> Array:
    """(airbrushes, k) float [min]: rinse of what each holds before each key.

    The key that it holds already may need nothing, not even its set-up.
    """
    held = tables.held()
    first = np.zeros((len(held), len(by_key)))
    for n, cup in enumerate(held):
        for k, tasks in enumerate(by_key):
            if cup.key == tables.keys[k]:
                first[n, k] = -setup[k]
            elif cup.rinse is not None:
                first[n, k] = min(cup.rinse[t] for t in tasks)
    return first


def _latest(tables: Tables, finish: float) -> list[float]:
    """Latest start of each task with which its lane still ends by `finish`."""
    found = [0.0] * len(tables.active)
    for numbers in tables.of_lane:
        for t in reversed(numbers):
            minutes = min(tables.minutes[t])
            found[t] = tables.time.last_fit(finish, minutes)
            after = tables.next[t]
            if after is not None:
                least = min(min(row) for row in tables.least[t])
                found[t] = min(
                    found[t], tables.time.last_fit(found[after] - least + minutes, minutes)
                )
    return found


def _possible(
    tables: Tables,
    heads: list[float],
    finish: float,
) -> bool:
    """Whether hands that may drop anything meet every deadline of this finish."""
    cups, more = _cup_jobs(tables, heads, int(finish // DAY_MIN) + 1)
    latest = _latest(tables, finish)
    if any(late < head - 1e-9 for late, head in zip(latest, heads, strict=True)):
        return False
    jobs: list[Job] = []
    for t, one in enumerate(tables.active):
        plain = one.timings[False]
        each = one.task.hands_min_per_copy
        # blown dry, a copy may be done later and its next step still begin in time
        slack = max(0.0, min(one.least[False]) - min(one.least[True]))
        jobs.extend(
            (heads[t] + start, latest[t] + end + slack, each)
            for start, end in zip(plain.starts, plain.ends, strict=True)
        )
        refills = plain.minutes - each * len(plain.starts)
        if refills > 0:
            jobs.append((heads[t], latest[t] + plain.minutes + slack, refills))
    key = {k: n for n, k in enumerate(tables.keys)}
    last = [0.0] * len(tables.keys)
    for t in tables.sprayed:
        k = key[tables.key[t] or ""]
        last[k] = max(last[k], latest[t])
    jobs.extend((release, last[k], minutes) for release, minutes, k in cups if minutes > 0)
    if more > 0:
        jobs.append((0.0, finish, more))
    return meets(jobs, tables)


def meets(jobs: list[Job], tables: Tables) -> bool:
    """Whether one preemptive machine that works in the calendar's windows meets all deadlines.

    Parameters
    ----------
    jobs : (release, deadline, minutes) [min]
    tables : of the day, for its working time
    """
    waiting = sorted(jobs)
    begins, ends = tables.time.begins, tables.time.ends
    begun = tables.day.begun
    clock = begun.now_min if begun else 0.0
    window, at = 0, 0
    open_jobs: list[list[float]] = []
    while at < len(waiting) or open_jobs:
        while window < len(ends) and ends[window] <= clock + 1e-9:
            window += 1
        if window == len(ends):
            return False
        clock = max(clock, begins[window])
        while at < len(waiting) and waiting[at][0] <= clock + 1e-9:
            _, deadline, minutes = waiting[at]
            heappush(open_jobs, [deadline, minutes])
            at += 1
        if not open_jobs:
            clock = max(clock, waiting[at][0])
            continue
        deadline, minutes = open_jobs[0]
        until = min(ends[window], waiting[at][0] if at < len(waiting) else inf)
        spent = min(minutes, until - clock)
        clock += spent
        if spent >= minutes - 1e-9:
            heappop(open_jobs)
            if clock > deadline + 1e-6:
                return False
        else:
            open_jobs[0][1] = minutes - spent
            if clock > deadline + 1e-6:
                return False
    return True
