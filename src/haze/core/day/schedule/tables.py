"""A day in flat tables, so that an order of its tasks is laid in microseconds."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import dataclass
from math import ceil, inf

from haze.core.day.schedule.cups import rinse_min
from haze.core.day.schedule.problem import (
    DAY_MIN,
    Calendar,
    Day,
    Task,
    Timing,
    dry_after,
    lags,
    timing,
)
from haze.core.errors import OutOfRangeError

MOST_DAYS = 120
NEVER = 1e9


class WorkingTime:
    """The calendar, to ask where a stretch of work fits."""

    def __init__(self, calendar: Calendar, days: int) -> None:
        windows = calendar.windows(days)
        self.begins = [a for a, _ in windows]
        self.ends = [b for _, b in windows]

    def fit(self, begin: float, minutes: float) -> float:
        """The first moment [min] from `begin` on at which so many `minutes` fit in one window."""
        ends, begins = self.ends, self.begins
        at = bisect_right(ends, begin + minutes - 1e-9)
        while at < len(ends):
            start = begins[at] if begins[at] > begin else begin
            if start + minutes <= ends[at] + 1e-9:
                return start
            at += 1
        return NEVER

    def last_fit(self, end: float, minutes: float) -> float:
        """The last moment [min] at which so many `minutes` begin in one window and end by `end`."""
        at = bisect_right(self.begins, end) - 1
        while at >= 0:
            start = min(self.ends[at], end) - minutes
            if start >= self.begins[at] - 1e-9:
                return start
            at -= 1
        return -inf

    def next_window(self, after: float) -> float:
        """When the window after the one that holds `after` begins [min]."""
        at = bisect_right(self.begins, after)
        return self.begins[at] if at < len(self.begins) else NEVER


@dataclass(frozen=True, slots=True)
class Active:
    """A task that takes hands: where it stands, its timings unblown and blown, and what follows.

    `least` and `most` [min] are from its start to the start of the lane's next active task, by
    whether each is blown; rests between are in them. `rests` are the steps passed, by whether it is
    blown [min from its start].
    """

    lane: int
    step: int
    task: Task
    timings: tuple[Timing, Timing]
    least: tuple[tuple[float, float], tuple[float, float]]
    most: tuple[tuple[float, float], tuple[float, float]]
    rests: tuple[tuple[tuple[int, float], ...], tuple[tuple[int, float], ...]]


@dataclass(slots=True)
class InHand:
    """What an airbrush holds: its key (None when clean), minutes to rinse it out before each task,
    what was sprayed of it [ml], when it was poured and last used [min]."""

    key: str | None
    rinse: list[float] | None
    used_ml: float
    poured_min: float
    last_min: float = 0.0


class Tables:
    """All tasks of a day that take hands, numbered lane by lane.

    Parameters
    ----------
    day : as it is asked for; what is done already is left out
    """

    def __init__(self, day: Day) -> None:
        self.day = day
        self.active: list[Active] = []
        self.of_lane: list[list[int]] = []
        self.ready: list[float] = []
        self.due: list[float] = []
        self.led: list[list[tuple[int, float]]] = []  # rests before the first task of a lane
        for lane in range(len(day.lanes)):
            self._add(lane)
        self._tabulate_tasks()
        self._tabulate_timings()
        self._tabulate_order()
        self.time = WorkingTime(day.calendar, self._days())
        self.cleaned = day.calendar.cleaned

    def _tabulate_tasks(self) -> None:
        """What each task is, whatever the way it is done in."""
        tasks = [a.task for a in self.active]
        self.lane = [a.lane for a in self.active]
        self.key = [task.key for task in tasks]
        self.keys = sorted({k for k in self.key if k is not None})
        self.setup = [task.setup_min for task in tasks]
        self.volume = [a.task.ml_per_copy * self.day.lanes[a.lane].copies for a in self.active]
        self.life = [task.life_min for task in tasks]
        self.early = [task.not_before_min for task in tasks]
        self.late = [task.not_after_min for task in tasks]
        self.blowable = [t for t, task in enumerate(tasks) if task.blow_min is not None]
        self.sprayed = [t for t, task in enumerate(tasks) if task.key is not None]

    def _tabulate_timings(self) -> None:
        """What each way of doing a task takes."""
        self.minutes = [[t.minutes for t in a.timings] for a in self.active]
        self.used = [[t.used_ml for t in a.timings] for a in self.active]
        self.refilled = [[t.pours[-1] if t.pours else 0.0 for t in a.timings] for a in self.active]

    def _tabulate_order(self) -> None:
        """What follows what, after how long, and the rinse between."""
        count = len(self.active)
        self.least = [a.least for a in self.active]
        self.most = [a.most for a in self.active]
        self.hasty = [min(min(row) for row in most) < NEVER for most in self.most]
        self.next = [
            t + 1 if t + 1 < count and self.lane[t + 1] == self.lane[t] else None
            for t in range(count)
        ]
        self.rinse = [[self._rinse(last, t) for t in range(count)] for last in range(count)]

    def _add(self, lane: int) -> None:
        begun = self.day.begun
        tasks, copies = self.day.lanes[lane].tasks, self.day.lanes[lane].copies
        first, at, due = (
            (begun.done[lane], begun.ready[lane], begun.due[lane]) if begun else (0, 0.0, inf)
        )
        led: list[tuple[int, float]] = []
        steps = range(first, len(tasks))
        lead = [n for n in steps if all(tasks[m].kind == "rest" for m in range(first, n + 1))]
        for n in lead:
            led.append((n, at))
            at += tasks[n].dry_min
        self.led.append(led)
        working = [n for n in steps if tasks[n].kind != "rest"]
        numbers = []
        for place, n in enumerate(working):
            after = working[place + 1] if place + 1 < len(working) else None
            numbers.append(len(self.active))
            self.active.append(_active(lane, tasks, n, after, copies))
        self.of_lane.append(numbers)
        first_task = self.active[numbers[0]].task if numbers else None
        self.ready.append(max(at, first_task.not_before_min) if first_task else at)
        self.due.append(min(due, first_task.not_after_min) if first_task else inf)

    def _rinse(self, last: int, following: int) -> float:
        one, other = self.active[last], self.active[following]
        if one.task.key is None or other.task.key is None:
            return 0.0
        return rinse_min(one.task, other.task, carried=self.next[last] == following)

    def _days(self) -> int:
        """So many days that any order ends within them."""
        work = sum(a.timings[0].minutes + a.task.setup_min + 10.0 for a in self.active)
        waits = sum(a.least[0][0] for a in self.active) + max([*self.ready, *self.early], default=0)
        windows = self.day.calendar.windows(1)
        a_day = max((b - a for a, b in windows), default=0.0)
        longest = max((a.timings[0].minutes for a in self.active), default=0.0)
        worth = max(a_day - longest, 0.1 * a_day, 1.0)
        days = ceil(work / worth) + ceil(waits / DAY_MIN) + 3
        if days > MOST_DAYS:
            raise OutOfRangeError(
                f"This is work for about {days} days; at most {MOST_DAYS} can be planned. "
                "Finish later, or take fewer plans.",
                field="lanes",
            )
        return days

    def held(self) -> list[InHand]:
        """What each airbrush holds when the day begins, or goes on."""
        found = []
        for airbrush in range(self.day.airbrushes):
            held = self.day.begun.cups[airbrush] if self.day.begun else None
            if held is None:
                found.append(InHand(None, None, 0.0, 0.0))
                continue
            last = self.day.lanes[held.lane].tasks[held.step]
            row = [
                0.0
                if a.task.key is None
                else rinse_min(last, a.task, carried=(a.lane, a.step) == (held.lane, held.step + 1))
                for a in self.active
            ]
            found.append(InHand(last.key, row, held.used_ml, held.poured_min, held.poured_min))
        return found


def _active(
    lane: int, tasks: tuple[Task, ...], step: int, after: int | None, copies: int
) -> Active:
    task = tasks[step]
    timings = tuple(
        timing(task, copies, blown=blown and task.blow_min is not None) for blown in (False, True)
    )
    rests: list[tuple[tuple[int, float], ...]] = []
    least = [[0.0, 0.0], [0.0, 0.0]]
    most = [[inf, inf], [inf, inf]]
    passed = range(step + 1, len(tasks) if after is None else after)
    for one in (False, True):
        blown = one and task.blow_min is not None
        at = max(timings[one].ends) + dry_after(task, blown=blown)
        found = []
        for n in passed:
            found.append((n, at))
            at += tasks[n].dry_min
        rests.append(tuple(found))
        if after is None:
            continue
        for then in (False, True):
            drying = then and tasks[after].blow_min is not None
            if found:
                last = tasks[found[-1][0]]
                least[one][then] = at
                if last.latest_min is not None:
                    off = max(timing(tasks[after], copies, blown=drying).starts)
                    most[one][then] = found[-1][1] + last.latest_min - off
            else:
                low, high = lags(task, tasks[after], copies, blown=(blown, drying))
                least[one][then], most[one][then] = max(low, 0.0), high
    return Active(
        lane,
        step,
        task,
        (timings[0], timings[1]),
        ((least[0][0], least[0][1]), (least[1][0], least[1][1])),
        ((most[0][0], most[0][1]), (most[1][0], most[1][1])),
        (rests[0], rests[1]),
    )
