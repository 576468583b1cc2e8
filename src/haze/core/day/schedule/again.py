"""The rest of a day replanned from now: what is done stays, and the order changes little."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise, permutations
from math import inf

from haze.core.day.schedule.annealing import Score, Search, finish_first
from haze.core.day.schedule.bound import bound_min
from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.laying import Choice, Sums, WorkState, orders_of
from haze.core.day.schedule.planning import Laid, laid
from haze.core.day.schedule.problem import Begun, Day, Entry, InCup, dry_after, lags, timing
from haze.core.day.schedule.tables import NEVER, Tables
from haze.core.errors import OutOfRangeError

REVERSED_MIN = 3.0  # a changed order of neighbours has to save so much (judged)
MOST_OPEN = 7  # latest times of which all orders are tried


@dataclass(frozen=True, slots=True)
class Missed:
    """A step whose latest time nothing can keep any more: by how many minutes, at the least."""

    lane: int
    step: int
    minutes: float


def begun_at(day: Day, done: Sequence[Entry], now_min: float) -> Begun:
    """How far a day has come, by what was really done.

    Parameters
    ----------
    day : as it was asked for
    done : steps that are over, with their real times; of each lane the first ones
    now_min : float [min]

    Raises
    ------
    OutOfRangeError : a step is reported done before one it needs
    """
    counts, ready, due = [], [], []
    for lane, one in enumerate(day.lanes):
        mine = sorted((e for e in done if e.lane == lane), key=lambda e: e.step)
        if [e.step for e in mine] != list(range(len(mine))):
            raise OutOfRangeError(
                f"On {one.name} a step is reported done before the one it needs.", field="done"
            )
        counts.append(len(mine))
        early, late = _next_of(day, mine[-1]) if mine else (0.0, inf)
        ready.append(early)
        due.append(late)
    cups = tuple(_in_cup(day, done, n + 1) for n in range(day.airbrushes))
    return Begun(now_min, tuple(counts), tuple(ready), tuple(due), cups)


def _next_of(day: Day, last: Entry) -> tuple[float, float]:
    """When the step after one that is done may begin, and must at the latest."""
    lane = day.lanes[last.lane]
    task = lane.tasks[last.step]
    if task.kind == "rest":
        until = inf if task.latest_min is None else last.start_min + task.latest_min
        return last.start_min + task.dry_min, until
    minutes = timing(task, lane.copies, blown=last.blown).minutes
    if last.step + 1 == len(lane.tasks):
        return last.end_min + dry_after(task, blown=last.blown), inf
    after = lane.tasks[last.step + 1]
    least, most = lags(task, after, lane.copies, blown=(last.blown, False))
    begun = last.end_min - minutes
    return begun + least, begun + most


def _in_cup(day: Day, done: Sequence[Entry], airbrush: int) -> InCup | None:
    held: InCup | None = None
    for e in sorted((e for e in done if e.airbrush == airbrush), key=lambda e: e.start_min):
        task, copies = day.lanes[e.lane].tasks[e.step], day.lanes[e.lane].copies
        if e.pours or held is None:
            used = timing(task, copies, blown=e.blown).used_ml
            held = InCup(e.lane, e.step, used, max(e.pours, default=e.start_min))
        else:
            used = held.used_ml + task.ml_per_copy * copies
            held = InCup(e.lane, e.step, used, held.poured_min)
    return held


def what_is_missed(tables: Tables) -> list[Missed]:
    """Latest times that are open now and that no order can keep, by the fewest that are missed.

    Every order does the steps with an open latest time in some order of their own; whatever lies
    between only makes them later. So when none of these orders keeps all, nothing does.

    Parameters
    ----------
    tables : of the rest of the day
    """
    open_lanes = [n for n, due in enumerate(tables.due) if due < NEVER and tables.of_lane[n]]
    open_lanes = sorted(open_lanes, key=lambda n: tables.due[n])[:MOST_OPEN]
    best: list[Missed] | None = None
    for order in permutations(open_lanes):
        missed = _missed(tables, order)
        if best is None or len(missed) < len(best):
            best = missed
        if not best:
            break
    return best or []


def _missed(tables: Tables, order: Sequence[int]) -> list[Missed]:
    bench = WorkState(tables)
    found = []
    for lane in order:
        t = tables.of_lane[lane][0]
        starts = []
        for brush in range(tables.day.airbrushes if tables.key[t] is not None else 1):
            bench.look(t, False, brush)
            starts.append((bench.start, brush))
        start, brush = min(starts)
        if start > tables.due[lane] + 1e-6:
            found.append(Missed(lane, tables.active[t].step, start - tables.due[lane]))
            continue
        bench.look(t, False, brush)
        bench.take(t, False, brush, False)
    return found


def plan_again(
    day: Day,
    *,
    before: Sequence[Entry],
    done: Sequence[Entry],
    now_min: float,
    seed: int,
    effort: Effort,
) -> tuple[Laid, list[Missed]]:
    """The rest of a day from now, near the order it had; with what can not be kept any more.

    Parameters
    ----------
    day : as it was asked for
    before : as it was laid
    done : steps that are over, with their real times
    now_min : float [min]
    seed : int
    effort : what may be spent
    """
    rest = replace(day, begun=begun_at(day, done, now_min))
    tables = Tables(rest)
    missed = what_is_missed(tables)
    for one in missed:
        tables.due[one.lane] = inf
    kept = _in_the_old_order(tables, before)
    search = Search(tables, seed=seed, effort=effort)
    best = search.anneal(kept, _near(tables, kept), 0.0, 1.0, cool=0.3)
    bound = bound_min(tables)
    return laid(tables, best, bound=bound, tried=search.tried), missed


def _in_the_old_order(tables: Tables, before: Sequence[Entry]) -> Choice:
    choice = orders_of(before, tables)
    # what the old day did not know comes last
    for lane, numbers in enumerate(tables.of_lane):
        choice.order.extend([lane] * (len(numbers) - choice.order.count(lane)))
    return choice


def _near(tables: Tables, kept: Choice) -> Score:
    """Cost of an order: its finish, and every pair of neighbours that was turned round."""
    old = _tasks(tables, kept.order)

    def cost(choice: Choice, sums: Sums) -> float:
        place = [0] * len(old)
        for n, t in enumerate(_tasks(tables, choice.order)):
            place[t] = n
        turned = sum(place[a] > place[b] for a, b in pairwise(old))
        return finish_first(choice, sums) + REVERSED_MIN * turned

    return cost


def _tasks(tables: Tables, order: Sequence[int]) -> list[int]:
    at = [0] * len(tables.of_lane)
    found = []
    for lane in order:
        found.append(tables.of_lane[lane][at[lane]])
        at[lane] += 1
    return found


def kept_order(day: Day, *, before: Sequence[Entry], done: Sequence[Entry], now_min: float) -> Laid:
    """The rest of a day from now in the order it had, at once.

    Parameters
    ----------
    day : as it was asked for
    before : as it was laid
    done : steps that are over, with their real times
    now_min : float [min]
    """
    tables = Tables(replace(day, begun=begun_at(day, done, now_min)))
    choice = _in_the_old_order(tables, before)
    return laid(tables, choice, bound=0.0, tried=1)
