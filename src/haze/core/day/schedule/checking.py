"""An independent check of a laid day: nothing here is shared with what lays it."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from haze.core.day.schedule.problem import CUP_ML, DAY_MIN, REFILL_MIN, Day, Entry, Task

EPS = 1e-6
THOROUGH_MIN, LIGHTER_MIN, RINSE_MIN, CARRIED_MIN = 8.0, 4.0, 2.0, 0.5
LIGHTER_BY = 12.0


def faults(day: Day, entries: Sequence[Entry]) -> list[str]:
    """What is wrong with a laid day, a sentence each; nothing when it can be done as it stands.

    Every copy is followed by itself: when it is begun and done in each step, refills on the way.

    Parameters
    ----------
    day : as it was asked for, from its beginning
    entries : laid
    """
    found = [*_complete(day, entries)]
    if found:
        return found
    for e in entries:
        found += _itself(day, e)
    found += _in_order(day, entries)
    found += _one_pair_of_hands(day, entries)
    for airbrush in range(1, day.airbrushes + 1):
        found += _cups(day, [e for e in entries if e.airbrush == airbrush])
    return found


def _task(day: Day, e: Entry) -> Task:
    return day.lanes[e.lane].tasks[e.step]


def _named(day: Day, e: Entry) -> str:
    return f"{_task(day, e).name} on {day.lanes[e.lane].name}"


def _complete(day: Day, entries: Sequence[Entry]) -> list[str]:
    wanted = {(lane, n) for lane, one in enumerate(day.lanes) for n in range(len(one.tasks))}
    given = [(e.lane, e.step) for e in entries]
    if sorted(given) != sorted(wanted):
        return ["not every step of every lane is laid once"]
    return []


def _copies(day: Day, e: Entry) -> tuple[list[float], list[float], float, list[float]]:
    """Begin and end of each copy, the end of all, and the refills [min on the clock]."""
    task, count = _task(day, e), day.lanes[e.lane].copies
    begins: list[float] = [-1.0] * count
    ends: list[float] = [-1.0] * count
    clock = poured = e.start_min
    in_cup, refills = 0.0, []
    ml, minutes = task.ml_per_copy / task.turns, task.hands_min_per_copy / task.turns
    for turn in range(task.turns):
        for copy in range(count):
            loads = 1
            while ml > loads * CUP_ML + EPS:
                loads += 1
            more = loads - 1
            tired = clock + minutes - poured > task.life_min
            if clock > e.start_min and (in_cup + ml > CUP_ML + EPS or tired):
                more += 1
            if task.key and more:
                clock += more * REFILL_MIN
                refills.append(clock)
                in_cup, poured = 0.0, clock
            if turn == 0:
                begins[copy] = clock
            clock += minutes
            in_cup += ml - (loads - 1) * CUP_ML
            if e.blown and turn == task.turns - 1:
                clock += task.blow_min or 0.0
            ends[copy] = clock
    return begins, ends, clock, refills


def _itself(day: Day, e: Entry) -> list[str]:
    task, name = _task(day, e), _named(day, e)
    if task.kind == "rest":
        if abs(e.end_min - e.start_min - task.dry_min) > EPS:
            return [f"{name} rests too long or too short"]
        return [] if e.start_min >= -EPS else [f"{name} begins before the day"]
    wrong = {
        "cannot be blown dry": e.blown and task.blow_min is None,
        "has the wrong tool": (e.airbrush is None) != (task.key is None),
        "has an airbrush that is not there": not _has_airbrush(day, e),
        "takes another time": abs(_copies(day, e)[2] - e.end_min) > EPS,
        "is set up in another time": task.key is None and abs(e.setup_min - task.setup_min) > EPS,
        "is poured at other times": not _is_poured_when_empty(day, e),
        "is not where it is pinned": not _is_in_time(task, e),
        "lies outside working time": not _at_work(day, e.start_min - e.setup_min, e.end_min),
    }
    return [f"{name} {what}" for what, is_so in wrong.items() if is_so]


def _has_airbrush(day: Day, e: Entry) -> bool:
    return e.airbrush is None or 1 <= e.airbrush <= day.airbrushes


def _is_poured_when_empty(day: Day, e: Entry) -> bool:
    *_, refills = _copies(day, e)
    poured = [p for p in e.pours if p > e.start_min + EPS]
    return len(poured) == len(refills) and all(
        abs(a - b) <= EPS for a, b in zip(poured, refills, strict=True)
    )


def _is_in_time(task: Task, e: Entry) -> bool:
    return task.not_before_min - EPS <= e.start_min <= task.not_after_min + EPS


def _at_work(day: Day, begin: float, end: float) -> bool:
    """Whether a stretch lies within working time, and no break falls into it."""
    calendar = day.calendar
    if begin < -EPS:
        return False
    for n in range(-1, int(end // DAY_MIN) + 2):
        midnight = n * DAY_MIN - calendar.start_min
        for a, b in calendar.breaks:
            if begin < midnight + b - EPS and end > midnight + a + EPS:
                return False
        if calendar.stop_min is not None:
            stop, start = midnight + calendar.stop_min, midnight + DAY_MIN + calendar.start_min
            if begin < start - EPS and end > stop + EPS:
                return False
    return True


def _in_order(day: Day, entries: Sequence[Entry]) -> list[str]:
    found = []
    by_step = {(e.lane, e.step): e for e in entries}
    for lane, one in enumerate(day.lanes):
        for n in range(len(one.tasks) - 1):
            before, after = by_step[lane, n], by_step[lane, n + 1]
            task = one.tasks[n]
            if task.kind == "rest":
                ends = [before.start_min] * one.copies
            else:
                ends = _copies(day, before)[1]
            if one.tasks[n + 1].kind == "rest":
                begins = [after.start_min] * one.copies
            else:
                begins = _copies(day, after)[0]
            dry = 0.0 if before.blown else task.dry_min
            for end, begin in zip(ends, begins, strict=True):
                if begin < end + dry - EPS:
                    found.append(f"{_named(day, after)} begins on a copy before it is dry")
                    break
                if task.latest_min is not None and begin > end + task.latest_min + EPS:
                    found.append(f"{_named(day, after)} begins on a copy too late")
                    break
    return found


def _one_pair_of_hands(day: Day, entries: Sequence[Entry]) -> list[str]:
    work = sorted(
        (e.start_min - e.setup_min, e.end_min, e)
        for e in entries
        if _task(day, e).kind != "rest" and e.end_min > e.start_min - e.setup_min + EPS
    )
    return [
        f"{_named(day, b[2])} begins while {_named(day, a[2])} goes on"
        for a, b in itertools.pairwise(work)
        if b[0] < a[1] - EPS
    ]


def _cups(day: Day, sprayed: Sequence[Entry]) -> list[str]:
    found = []
    last: Entry | None = None
    used = poured = 0.0
    for e in sorted(sprayed, key=lambda e: e.start_min):
        task = _task(day, e)
        fresh = any(abs(p - e.start_min) < EPS for p in e.pours)
        volume = task.ml_per_copy * day.lanes[e.lane].copies
        if last is None:
            wrong = {"has no cup": not fresh or abs(e.setup_min - task.setup_min) > EPS}
        elif fresh:
            wrong = {"is set up in another time": not _is_set_up(day, last, e, poured)}
        else:
            wrong = {
                "is sprayed from the cup of another paint": _task(day, last).key != task.key,
                "is sprayed from an empty cup": used + volume > CUP_ML + EPS,
                "is sprayed from a cup that stood too long": e.end_min - poured
                > task.life_min + EPS,
                "is set up in another time": abs(e.setup_min) > EPS,
            }
        found += [f"{_named(day, e)} {what}" for what, is_so in wrong.items() if is_so]
        used, poured = _after(day, e, fresh, used, poured, volume)
        last = e
    return found


def _is_set_up(day: Day, last: Entry, e: Entry, poured: float) -> bool:
    """Whether a fresh cup after another took its rinse and set-up, or was filled up in time."""
    task = _task(day, e)
    begun = e.start_min - e.setup_min
    overnight = day.calendar.cleaned and _day(begun) > _day(last.end_min - EPS)
    allowed = [task.setup_min + (0.0 if overnight else _rinse(day, last, e))]
    if _task(day, last).key == task.key and begun - poured <= task.life_min + EPS:
        allowed.append(REFILL_MIN)
    return any(abs(e.setup_min - a) <= EPS for a in allowed)


def _day(minute: float) -> int:
    return int((minute + EPS) // DAY_MIN)


def _after(
    day: Day, e: Entry, fresh: bool, used: float, poured: float, volume: float
) -> tuple[float, float]:
    """What is used of the cup after a step, and when it was poured."""
    if not fresh:
        return used + volume, poured
    task, count = _task(day, e), day.lanes[e.lane].copies
    refills = [p for p in e.pours if p > e.start_min + EPS]
    if not refills:
        return volume, e.start_min
    # what was begun after the last refill came out of this cup
    ml = task.ml_per_copy / task.turns
    whole = ml
    while whole > CUP_ML + EPS:
        whole -= CUP_ML
    minutes = task.hands_min_per_copy / task.turns
    blow = (task.blow_min or 0.0) if e.blown else 0.0
    left = e.end_min - refills[-1]
    turns = 0
    for n in reversed(range(count * task.turns)):
        spent = minutes + (blow if n >= count * (task.turns - 1) else 0.0)
        if spent > left + EPS or spent <= 0:
            break
        left -= spent
        turns += 1
    return whole * turns, refills[-1]


def _rinse(day: Day, last: Entry, e: Entry) -> float:
    one, other = _task(day, last), _task(day, e)
    if one.carry and last.lane == e.lane and last.step + 1 == e.step:
        return CARRIED_MIN
    if one.key == other.key:
        return RINSE_MIN
    if one.metal or one.sticky or one.chemistry != other.chemistry:
        return THOROUGH_MIN
    return LIGHTER_MIN if other.light - one.light >= LIGHTER_BY else RINSE_MIN
