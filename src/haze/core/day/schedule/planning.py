"""The best plan found for a day, beside its bound and the usual ways."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from haze.core.day.schedule.annealing import Search
from haze.core.day.schedule.bound import bound_min
from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.laying import Choice, WorkState, entries_of, lay
from haze.core.day.schedule.problem import Day, Entry, require_feasible
from haze.core.day.schedule.reference import coat_by_coat_min, one_by_one_min
from haze.core.day.schedule.tables import NEVER, Tables
from haze.core.errors import NoOrderError

__all__ = ("Laid", "plan_day")


@dataclass(frozen=True, slots=True)
class Laid:
    """A laid day [min from the start of the first].

    Parameters
    ----------
    entries : steps by their start
    finish_min : float [min], end of the last work
    changes : int, cups rinsed out for another
    hands_min : float [min], work and set-up
    bound_min : float [min], no order finishes before
    late : (lane, step, minutes) of each step that begins after its latest time
    tried : int, orders tried
    """

    entries: tuple[Entry, ...]
    finish_min: float
    changes: int
    hands_min: float
    bound_min: float
    late: tuple[tuple[int, int, float], ...]
    tried: int


@dataclass(frozen=True, slots=True)
class Usual:
    """What the usual ways take [min]; None where a latest time cannot be kept this way."""

    one_by_one_min: float | None
    coat_by_coat_min: float | None


def laid(tables: Tables, choice: Choice, *, bound: float, tried: int) -> Laid:
    """A choice as a laid day.

    Parameters
    ----------
    tables : of the day
    choice : order, what is blown, which airbrush
    bound : float [min]
    tried : int, orders tried
    """
    sums = lay(tables, choice)
    return Laid(
        tuple(entries_of(tables, choice)),
        sums.finish,
        sums.changes,
        sums.hands,
        min(bound, sums.finish),
        tuple(late_steps(tables, choice)),
        tried,
    )


def late_steps(tables: Tables, choice: Choice) -> list[tuple[int, int, float]]:
    """Steps that begin after their latest time: lane, step, and by how many minutes.

    Parameters
    ----------
    tables : of the day
    choice : order, what is blown, which airbrush
    """
    bench = WorkState(tables)
    found = []
    for lane in choice.order:
        t = tables.of_lane[lane][bench.at[lane]]
        bench.look(t, choice.blown[t], choice.airbrush[t])
        if bench.start > bench.due[lane] + 1e-6:
            found.append((lane, tables.active[t].step, bench.start - bench.due[lane]))
        after = tables.next[t]
        then = after is not None and choice.blown[after]
        bench.take(t, choice.blown[t], choice.airbrush[t], then)
    return found


def usual_ways(day: Day) -> Usual:
    """What a day takes one by one and coat by coat.

    Parameters
    ----------
    day : with its lanes as they are meant, nothing of it done yet
    """
    return Usual(one_by_one_min(day), coat_by_coat_min(day))


def plan_day(day: Day, *, seed: int, effort: Effort) -> Laid:
    """The best order found for a day, or for the rest of one.

    Parameters
    ----------
    day : lanes, calendar, airbrushes, and what is done
    seed : int
    effort : what may be spent; by orders, the same seed gives the same day

    Raises
    ------
    OutOfRangeError : no working time for a task, or a latest time nothing can keep
    """
    require_feasible(day)
    tables = Tables(day)
    bound = bound_min(tables)
    search = Search(tables, seed=seed, effort=effort)
    best = search.run()
    return laid(tables, best, bound=bound, tried=search.tried)


def require_in_time(day: Day, found: Laid) -> None:
    """Refuse a laid day in which a latest time is missed, or work never fits.

    Parameters
    ----------
    day : that was asked for
    found : as it was laid

    Raises
    ------
    NoOrderError
    """
    if found.finish_min >= NEVER:
        raise NoOrderError("No working time is left for all of it; stop later or take less.")
    if found.late:
        lane, step, minutes = found.late[0]
        task = day.lanes[lane].tasks[step]
        raise NoOrderError(
            f"No order was found in which {task.name} on {day.lanes[lane].name} begins in time; "
            f"the best comes {minutes:.0f} min too late. Stop later, move a break, take fewer at "
            "once, or leave a plan for another day."
        )


def reversed_neighbours(before: Sequence[Entry], now: Sequence[Entry]) -> int:
    """How many steps that followed each other are now done the other way round.

    Parameters
    ----------
    before, now : entries; steps that stand in one of them only do not count
    """
    place = {(e.lane, e.step): n for n, e in enumerate(now)}
    kept = [place[e.lane, e.step] for e in before if (e.lane, e.step) in place]
    return sum(a > b for a, b in pairwise(kept))
