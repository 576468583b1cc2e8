"""Laying an order of tasks on the clock: each begins as early as hands, cup and drying allow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from haze.core.day.schedule.problem import CUP_ML, DAY_MIN, REFILL_MIN, Entry
from haze.core.day.schedule.tables import NEVER, InHand, Tables

LOOKS_AHEAD = 20  # windows that are tried for what must be followed in time


@dataclass(slots=True)
class Choice:
    """What is decided of a day.

    Parameters
    ----------
    order : (tasks,) int, the lane whose next task comes, one after the other
    blown : (tasks,) bool, by task
    airbrush : (tasks,) int, by task; 0 or 1
    """

    order: list[int]
    blown: list[bool]
    airbrush: list[int]

    def copy(self) -> Choice:
        """One that can be changed."""
        return Choice(self.order[:], self.blown[:], self.airbrush[:])


@dataclass(frozen=True, slots=True)
class Sums:
    """What an order comes to [min]: end of the last work, hands, how late beyond latest times.

    `changes` counts cups that were rinsed out for another; `lanes_end` is the mean end of a lane.
    """

    finish: float
    changes: int
    hands: float
    late: float
    lanes_end: float


class WorkState:
    """Where the work stands while an order is laid."""

    __slots__ = (
        "at",
        "cups",
        "due",
        "fresh",
        "hands",
        "ready",
        "rinsed",
        "setup",
        "start",
        "tables",
        "top",
    )

    def __init__(self, tables: Tables) -> None:
        self.tables = tables
        self.hands = tables.day.begun.now_min if tables.day.begun else 0.0
        self.ready = tables.ready[:]
        self.due = tables.due[:]
        self.at = [0] * len(tables.ready)
        self.cups: list[InHand] = tables.held()
        self.start = self.setup = 0.0
        self.fresh = self.top = self.rinsed = False

    def look(self, t: int, blown: bool, airbrush: int) -> None:
        """Where a task would come now: `start`, `setup` [min], and whether its cup is fresh.

        Parameters
        ----------
        t : int, task
        blown : whether it is blown dry
        airbrush : int
        """
        tables = self.tables
        minutes = tables.minutes[t][blown]
        self.top = False
        key = tables.key[t]
        if key is None:
            self.fresh = False
            self._fit(t, tables.setup[t], minutes, blown)
            return
        cup = self.cups[airbrush]
        if cup.key == key:
            self.fresh = False
            self.top = cup.used_ml + tables.volume[t] > CUP_ML + 1e-9
            setup = REFILL_MIN if self.top else 0.0
            self._fit(t, setup, minutes, blown)
            until = self.start - setup if self.top else self.start + minutes
            if until - cup.poured_min <= tables.life[t] + 1e-9:
                return
        self.fresh = self.rinsed = True
        self.top = False
        rinse = cup.rinse[t] if cup.rinse is not None else 0.0
        self._fit(t, rinse + tables.setup[t], minutes, blown)
        if tables.cleaned and rinse and self._is_another_day(cup.last_min):
            self._fit(t, tables.setup[t], minutes, blown)
            if not self._is_another_day(cup.last_min):  # without a rinse it fits today
                self._fit(t, rinse + tables.setup[t], minutes, blown)
            self.rinsed = False

    def _is_another_day(self, before: float) -> bool:
        return int((self.start - self.setup + 1e-6) // DAY_MIN) > int((before - 1e-6) // DAY_MIN)

    def _fit(self, t: int, setup: float, minutes: float, blown: bool) -> None:
        tables = self.tables
        time = tables.time
        early = self.ready[tables.lane[t]] - setup
        if early < self.hands:
            early = self.hands
        begin = time.fit(early, setup + minutes)
        if tables.hasty[t]:
            begin = self._in_time(t, begin, setup, minutes, blown)
        self.start = begin + setup
        self.setup = setup

    def _in_time(self, t: int, begin: float, setup: float, minutes: float, blown: bool) -> float:
        """The first begin after which what must follow soon finds working time."""
        tables = self.tables
        time, after = tables.time, tables.next[t]
        if after is None:
            return begin
        least, most = min(tables.least[t][blown]), max(tables.most[t][blown])
        needs = min(tables.minutes[after])
        for _ in range(LOOKS_AHEAD):
            start = begin + setup
            if time.fit(start + least, needs) <= start + most + 1e-9:
                return begin
            begin = time.fit(time.next_window(begin), setup + minutes)
        return begin

    def take(self, t: int, blown: bool, airbrush: int, then_blown: bool) -> None:
        """Do what was last looked at.

        Parameters
        ----------
        t, blown, airbrush : as they were looked at
        then_blown : whether the next task of its lane is blown dry
        """
        tables = self.tables
        start, lane = self.start, tables.lane[t]
        if tables.key[t] is not None:
            cup = self.cups[airbrush]
            if self.fresh or self.top:
                cup.key = tables.key[t]
                cup.used_ml = tables.used[t][blown]
                cup.poured_min = start + tables.refilled[t][blown]
            else:
                cup.used_ml += tables.volume[t]
            cup.rinse = tables.rinse[t]
            cup.last_min = start + tables.minutes[t][blown]
        self.hands = start + tables.minutes[t][blown]
        self.at[lane] += 1
        after = tables.next[t]
        if after is not None:
            early = start + tables.least[t][blown][then_blown]
            late = start + tables.most[t][blown][then_blown]
            self.ready[lane] = max(early, tables.early[after])
            self.due[lane] = min(late, tables.late[after])


def lay(tables: Tables, choice: Choice, entries: list[Entry] | None = None) -> Sums:
    """The sums of an order, each task as early as it can be.

    Parameters
    ----------
    tables : of the day
    choice : order, what is blown, which airbrush
    entries : filled with the steps as they are laid, when given
    """
    bench = WorkState(tables)
    of_lane, blown, airbrush = tables.of_lane, choice.blown, choice.airbrush
    ends = [0.0] * len(of_lane)
    hands = late = 0.0
    changes = 0
    if entries is not None:
        _lead(tables, entries)
    for lane in choice.order:
        t = of_lane[lane][bench.at[lane]]
        dried = blown[t]
        bench.look(t, dried, airbrush[t])
        due = bench.due[lane]
        if bench.start > due + 1e-9:
            late += bench.start - due
        if bench.fresh and bench.rinsed and bench.cups[airbrush[t]].key is not None:
            changes += 1
        after = tables.next[t]
        if entries is not None:
            _record(tables, bench, t, choice, entries)
        bench.take(t, dried, airbrush[t], after is not None and blown[after])
        hands += tables.minutes[t][dried] + bench.setup
        ends[lane] = bench.hands
    finish = max(ends, default=0.0)
    lanes_end = sum(ends) / len(ends) if ends else 0.0
    return Sums(finish, changes, hands, late if finish < NEVER else inf, lanes_end)


def _lead(tables: Tables, entries: list[Entry]) -> None:
    for lane, led in enumerate(tables.led):
        tasks = tables.day.lanes[lane].tasks
        entries.extend(Entry(lane, n, None, at, at + tasks[n].dry_min) for n, at in led)


def _record(tables: Tables, bench: WorkState, t: int, choice: Choice, entries: list[Entry]) -> None:
    one, blown = tables.active[t], choice.blown[t]
    start, timing = bench.start, one.timings[blown]
    sprayed = one.task.key is not None
    poured = (start,) if bench.fresh or bench.top else ()
    entries.append(
        Entry(
            one.lane,
            one.step,
            choice.airbrush[t] + 1 if sprayed else None,
            start,
            start + timing.minutes,
            bench.setup,
            blown and one.task.blow_min is not None,
            (*poured, *(start + p for p in timing.pours)),
        )
    )
    tasks = tables.day.lanes[one.lane].tasks
    entries.extend(
        Entry(one.lane, n, None, start + at, start + at + tasks[n].dry_min)
        for n, at in one.rests[blown]
    )


def entries_of(tables: Tables, choice: Choice) -> list[Entry]:
    """The steps of an order as they are laid, by their start.

    Parameters
    ----------
    tables : of the day
    choice : order, what is blown, which airbrush
    """
    found: list[Entry] = []
    lay(tables, choice, found)
    return sorted(found, key=lambda e: (e.start_min, e.end_min, e.lane, e.step))


def orders_of(entries: Sequence[Entry], tables: Tables) -> Choice:
    """The choice behind steps that are laid: what is not in the tables is passed over.

    Parameters
    ----------
    entries : laid
    tables : of the day, some of it perhaps done
    """
    number = {(a.lane, a.step): t for t, a in enumerate(tables.active)}
    blown = [False] * len(tables.active)
    airbrush = [0] * len(tables.active)
    order = []
    for e in sorted(entries, key=lambda e: (e.start_min, e.step)):
        t = number.get((e.lane, e.step))
        if t is None:
            continue
        order.append(e.lane)
        blown[t] = e.blown
        airbrush[t] = (e.airbrush or 1) - 1
    return Choice(order, blown, airbrush)
