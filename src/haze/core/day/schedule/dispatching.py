"""Quick orders: always the task next that costs least waiting and rinsing for what hangs on it."""

from __future__ import annotations

from random import Random

from haze.core.day.schedule.laying import Choice, WorkState
from haze.core.day.schedule.tables import Tables

LATE = 1e6
WAITS = (0.2, 1.5)  # ranges the weights are drawn from
SETS_UP = (0.3, 3.0)
TAIL = (0.0, 0.5)


def tails(tables: Tables) -> list[float]:
    """Least minutes from the start of each task to the end of its lane's last.

    Parameters
    ----------
    tables : of the day
    """
    found = [0.0] * len(tables.active)
    for t in reversed(range(len(found))):
        after = tables.next[t]
        if after is None:
            found[t] = tables.minutes[t][False]
        else:
            found[t] = min(min(row) for row in tables.least[t]) + found[after]
    return found


def dispatch(tables: Tables, rng: Random, tail: list[float]) -> Choice:
    """One order by weights drawn at random; open latest times are kept where they can be.

    Parameters
    ----------
    tables : of the day
    rng : gives the weights, and how much is blown dry
    tail : (tasks,) float [min], see `tails`
    """
    waits, sets_up, hangs = rng.uniform(*WAITS), rng.uniform(*SETS_UP), rng.uniform(*TAIL)
    blows = rng.random()
    blown = [False] * len(tables.active)
    for t in tables.blowable:
        blown[t] = rng.random() < blows
    airbrush = [0] * len(tables.active)
    bench = WorkState(tables)
    order: list[int] = []
    left = {lane for lane, tasks in enumerate(tables.of_lane) if tasks}
    while left:
        best: tuple[float, int, int] | None = None
        for lane in sorted(left):
            t = tables.of_lane[lane][bench.at[lane]]
            for brush in range(tables.day.airbrushes if tables.key[t] is not None else 1):
                bench.look(t, blown[t], brush)
                wait = bench.start - bench.setup - bench.hands
                score = waits * wait + sets_up * bench.setup - hangs * tail[t]
                score += LATE * _misses(bench, lane, bench.start + tables.minutes[t][blown[t]])
                if best is None or score < best[0]:
                    best = score, lane, brush
        assert best is not None
        _, lane, brush = best
        t = tables.of_lane[lane][bench.at[lane]]
        airbrush[t] = brush
        after = tables.next[t]
        bench.look(t, blown[t], brush)
        bench.take(t, blown[t], brush, after is not None and blown[after])
        order.append(lane)
        if after is None:
            left.remove(lane)
    return Choice(order, blown, airbrush)


def _misses(bench: WorkState, lane: int, end: float) -> int:
    """How many open latest times would be missed if the hands were busy until then."""
    own = bench.start > bench.due[lane] + 1e-9
    tables = bench.tables
    others = 0
    for other, due in enumerate(bench.due):
        if due < 1e8 and other != lane and bench.at[other] < len(tables.of_lane[other]):
            others += end > due + 1e-9
    return int(own) + others
