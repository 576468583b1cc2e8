"""A day to be laid: lanes of tasks, their cups, the calendar, and what was done already.

A lane is a fixed group of copies of one plan; a task is one step of it on all its copies, one after
the other. All times are minutes on the clock from the start of the first day (models.md part E).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from math import ceil, inf
from typing import Literal

from haze.core.day.cleaning import THOROUGH_S
from haze.core.errors import OutOfRangeError

__all__ = ("Calendar", "Day", "Entry", "Lane", "Task")

CUP_ML = 7.0  # a cup serves tasks until so much was poured into it (judged)
REFILL_MIN = 1.0  # the same paint poured again, nothing cleaned (judged)
LIFE_MIN = 45.0  # a cup that stands so long is poured again, where nothing else is known (judged)
LONGEST_TURN_MIN = 18.0  # a task in a lane that is worth cutting takes longer (from a study)
DAY_MIN = 24 * 60.0
Kind = Literal["spray", "hand", "rest"]


@dataclass(frozen=True, slots=True)
class Task:
    """One step of a lane.

    Parameters
    ----------
    name : str
    kind : a rest takes no hands, only its `dry_min`
    hands_min_per_copy : float [min]
    dry_min : float [min], of each copy until the next step may begin on it
    key : what is in the cup; None for steps without airbrush. One key is one mix, one thinning
    light : float [L*], of the cup
    metal, sticky : the airbrush is cleaned thoroughly after it
    carry : the rest in the cup goes into the cup of the lane's next step
    ml_per_copy : float [ml], sprayed
    setup_min : float [min], pour and try on card
    blow_min : float [min] of hands a copy, dry afterwards; None where blowing does not help
    latest_min : float [min], the next step begins on a copy within; None without haste
    turns : int, times all copies are gone round in turn
    life_min : float [min], so long after it was poured the cup is still used
    chemistry : one that differs from the last cup's is cleaned for thoroughly
    not_before_min, not_after_min : float [min], its start lies between; left for later, or pinned
    """

    name: str
    kind: Kind
    hands_min_per_copy: float = 0.0
    dry_min: float = 0.0
    key: str | None = None
    light: float = 50.0
    metal: bool = False
    sticky: bool = False
    carry: bool = False
    ml_per_copy: float = 0.0
    setup_min: float = 0.0
    blow_min: float | None = None
    latest_min: float | None = None
    turns: int = 1
    life_min: float = LIFE_MIN
    chemistry: str = ""
    not_before_min: float = 0.0
    not_after_min: float = inf


@dataclass(frozen=True, slots=True)
class Lane:
    """A group of copies that goes through its tasks together."""

    name: str
    tasks: tuple[Task, ...]
    copies: int = 1


@dataclass(frozen=True, slots=True)
class Calendar:
    """When the hands work: start, stop and breaks [min from midnight], every day alike.

    Without a stop the nights are worked through. `cleaned` tells that the airbrush is cleaned when
    a day ends, so that the first cup of the next needs no rinse.
    """

    start_min: float = 14 * 60.0
    stop_min: float | None = None
    breaks: tuple[tuple[float, float], ...] = ()
    cleaned: bool = False

    def windows(self, days: int) -> list[tuple[float, float]]:
        """Working times [min from the start of the first day], in order.

        Parameters
        ----------
        days : int, how many days ahead
        """
        length = DAY_MIN if self.stop_min is None else self.stop_min - self.start_min
        pauses = sorted(
            ((a - self.start_min) % DAY_MIN, (a - self.start_min) % DAY_MIN + b - a)
            for a, b in self.breaks
        )
        found: list[tuple[float, float]] = []
        for day in range(days):
            at = 0.0
            for begin, end in [*pauses, (length, length)]:
                until = min(begin, length)
                if until > at:
                    found.append((day * DAY_MIN + at, day * DAY_MIN + until))
                at = max(at, end)
        return _joined(found)


def _joined(windows: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Windows of which one begins where the last ends are one."""
    found: list[tuple[float, float]] = []
    for begin, end in windows:
        if found and begin <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((begin, end))
    return found


@dataclass(frozen=True, slots=True)
class InCup:
    """What an airbrush holds: a key, how much was poured through [ml], and when it was poured."""

    lane: int
    step: int
    used_ml: float
    poured_min: float


@dataclass(frozen=True, slots=True)
class Begun:
    """How far a day has come.

    Parameters
    ----------
    now_min : float [min], nothing is laid before
    done : (lanes,) int, steps of each lane that are over
    ready : (lanes,) float [min], the next step of each may begin
    due : (lanes,) float [min], the next step of each begins at the latest; inf without haste
    cups : what each airbrush holds; None for a clean one
    """

    now_min: float
    done: tuple[int, ...]
    ready: tuple[float, ...]
    due: tuple[float, ...]
    cups: tuple[InCup | None, ...]


@dataclass(frozen=True, slots=True)
class Day:
    """All of it: lanes, calendar, how many airbrushes, and what is over."""

    lanes: tuple[Lane, ...]
    calendar: Calendar = field(default_factory=Calendar)
    airbrushes: int = 1
    begun: Begun | None = None


@dataclass(frozen=True, slots=True)
class Entry:
    """A step as it is laid [min]; set-up lies just before `start_min`, hands until `end_min`.

    `airbrush` counts from 1, None without one; `pours` are the minutes a cup is filled for it.
    """

    lane: int
    step: int
    airbrush: int | None
    start_min: float
    end_min: float
    setup_min: float = 0.0
    blown: bool = False
    pours: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Timing:
    """A task in itself [min from its start]: when each copy is begun and done, and its refills."""

    minutes: float
    starts: tuple[float, ...]
    ends: tuple[float, ...]
    pours: tuple[float, ...]
    used_ml: float  # out of the last cup


def timing(task: Task, copies: int, *, blown: bool) -> Timing:
    """When each copy is begun and done within a task, with a fresh cup at its start.

    Parameters
    ----------
    task : gives hands, turns, volume
    copies : int
    blown : each copy is blown dry as it is done
    """
    if task.kind == "rest":
        return Timing(0.0, (0.0,) * copies, (0.0,) * copies, (), 0.0)
    clock, used, poured = 0.0, 0.0, 0.0
    starts, ends, pours = [0.0] * copies, [0.0] * copies, []
    share, ml = task.hands_min_per_copy / task.turns, task.ml_per_copy / task.turns
    for turn in range(task.turns):
        for copy in range(copies):
            full = used + ml > CUP_ML + 1e-9 or clock + share - poured > task.life_min
            cups = max(ceil(ml / CUP_ML - 1e-9), 1) - 1 + (full and clock > 0)
            if task.key is not None and cups:
                clock += REFILL_MIN * cups
                pours.append(clock)
                used, poured = 0.0, clock
            if not turn:
                starts[copy] = clock
            clock += share
            used += ml - CUP_ML * (max(ceil(ml / CUP_ML - 1e-9), 1) - 1)
            if blown and turn == task.turns - 1:
                clock += task.blow_min or 0.0
            ends[copy] = clock
    return Timing(clock, tuple(starts), tuple(ends), tuple(pours), used)


def dry_after(task: Task, *, blown: bool) -> float:
    """Minutes a copy dries after a task.

    Parameters
    ----------
    task : gives them
    blown : it was blown dry
    """
    return 0.0 if blown else task.dry_min


def single_copies(day: Day) -> Day:
    """The same day with every copy in a lane of its own.

    Parameters
    ----------
    day : nothing of it done yet
    """
    return replace(
        day, lanes=tuple(replace(a, copies=1) for a in day.lanes for _ in range(a.copies))
    )


def cut(lane: Lane, *, longest_min: float = LONGEST_TURN_MIN) -> list[Lane]:
    """A lane in lanes of fewer copies, so that none of its tasks takes much longer.

    Parameters
    ----------
    lane : of as many copies as its plan has
    longest_min : float [min], of a task
    """
    most = max((t.hands_min_per_copy * lane.copies for t in lane.tasks), default=0.0)
    groups = min(lane.copies, max(1, round(most / longest_min)))
    sizes = [lane.copies // groups + (n < lane.copies % groups) for n in range(groups)]
    return [replace(lane, copies=size) for size in sizes]


def require_feasible(day: Day) -> None:
    """Refuse a day in which a task finds no working time, or a latest time cannot be kept.

    Parameters
    ----------
    day : as it is asked for

    Raises
    ------
    OutOfRangeError
    """
    if day.calendar.stop_min is not None and day.calendar.stop_min <= day.calendar.start_min:
        raise OutOfRangeError("The day stops before it starts.", field="stop")
    windows = day.calendar.windows(2)
    longest = max((b - a for a, b in windows), default=0.0)
    if longest <= 0:
        raise OutOfRangeError("The breaks leave no working time.", field="breaks")
    for lane in day.lanes:
        for one, after in zip(lane.tasks, [*lane.tasks[1:], None], strict=True):
            _require_room(lane, one, longest)
            if after is not None and one.latest_min is not None:
                _require_haste(lane, one, after)


def _require_room(lane: Lane, task: Task, longest: float) -> None:
    if task.kind == "rest":
        return
    cleaning = THOROUGH_S / 60 if task.key is not None else 0.0
    needs = timing(task, lane.copies, blown=False).minutes + task.setup_min + cleaning
    if needs > longest:
        with_cup = " with its cup" if task.key is not None else ""
        raise OutOfRangeError(
            f"{task.name} on {lane.name} takes {needs:.0f} min at a stretch{with_cup}; the longest "
            f"working time without a break is {longest:.0f} min. Move a break, stop later, or take "
            "fewer copies at once.",
            field="breaks",
        )


def _require_haste(lane: Lane, task: Task, after: Task) -> None:
    if not any(
        least <= most + 1e-9
        for first in blowings(task)
        for then in blowings(after)
        for least, most in [lags(task, after, lane.copies, blown=(first, then))]
    ):
        raise OutOfRangeError(
            f"{after.name} on {lane.name} must begin within {task.latest_min:g} min of "
            f"{task.name} on each of {lane.copies} copies, which dries {task.dry_min:g} min: so "
            "many copies cannot be done in time. Take fewer at once.",
            field="latest_min",
        )


def blowings(task: Task) -> tuple[bool, ...]:
    """Whether a task is blown dry: what there is to choose from.

    Parameters
    ----------
    task : dries
    """
    return (False,) if task.blow_min is None else (False, True)


def lags(task: Task, after: Task, copies: int, *, blown: tuple[bool, bool]) -> tuple[float, float]:
    """Least and most minutes from the start of a task to the start of the next of its lane.

    Of each copy the next may begin when it is dry, and must within `latest_min`; in closed form
    maxᵢ(finᵢ + dry − offᵢ) and minᵢ(finᵢ + latest − offᵢ).

    Parameters
    ----------
    task, after : one after the other
    copies : int
    blown : (task, after) whether each is blown dry
    """
    ends = timing(task, copies, blown=blown[0]).ends
    starts = timing(after, copies, blown=blown[1]).starts
    apart = [e - s for e, s in zip(ends, starts, strict=True)]
    most = inf if task.latest_min is None else min(apart) + task.latest_min
    return max(apart) + dry_after(task, blown=blown[0]), most
