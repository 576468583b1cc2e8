"""Better orders by annealing on the sequence of lanes, what is blown, and which airbrush.

Two searches: the earliest finish, then the fewest cup changes and the least hands that finish
within `TOLERANCE_MIN` of it (models.md part E).
"""

from __future__ import annotations

from collections.abc import Callable
from math import exp
from random import Random

from haze.core.day.schedule.dispatching import dispatch, tails
from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.exact import polish
from haze.core.day.schedule.laying import Choice, Sums, lay
from haze.core.day.schedule.tables import Tables

TOLERANCE_MIN = 2.0
HOT_MIN, COLD_MIN = 8.0, 0.15
LATE_WEIGHT = 50.0
DISPATCHES = 24
FIRST_SHARE = 0.5  # of the effort that goes to the finish
RESTARTS = 2
MOST_BLOCK = 6
Score = Callable[[Choice, Sums], float]


def finish_first(choice: Choice, sums: Sums) -> float:
    """Cost [min] of the first search.

    Parameters
    ----------
    choice : the order; what it comes to is all that counts
    sums : of it
    """
    del choice
    return (
        sums.finish
        + LATE_WEIGHT * sums.late
        + 0.05 * sums.changes
        + 0.005 * sums.hands
        + 0.05 * sums.lanes_end
    )


def changes_then(finish: float) -> Score:
    """Cost of the second search: changes, then hands, within the tolerance of the finish found.

    Parameters
    ----------
    finish : float [min], of the first search
    """

    def cost(_: Choice, sums: Sums) -> float:
        over = max(0.0, sums.finish - finish - TOLERANCE_MIN)
        return (
            LATE_WEIGHT * (sums.late + over)
            + 6.0 * sums.changes
            + 0.2 * sums.hands
            + 0.02 * sums.finish
            + 0.05 * sums.lanes_end
        )

    return cost


class Search:
    """One search for a good order; it can be asked for the best so far at any time."""

    def __init__(self, tables: Tables, *, seed: int, effort: Effort) -> None:
        """With an effort that counts orders, a seed gives one plan."""
        self.tables = tables
        self.rng = Random(seed)
        self.effort = effort
        self.tried = 0
        self.best: Choice | None = None
        self.sums: Sums | None = None

    def quick(self) -> Choice:
        """The best of many dispatches."""
        tail = tails(self.tables)
        found: tuple[float, Choice] | None = None
        for _ in range(DISPATCHES):
            choice = dispatch(self.tables, self.rng, tail)
            cost = self._cost(finish_first, choice)
            if found is None or cost < found[0]:
                found = cost, choice
            if self.effort.share(self.tried) >= 1.0:
                break
        assert found is not None
        self._keep(found[1])
        return found[1]

    def run(self) -> Choice:
        """Both searches, from quick orders."""
        first = self.quick()
        begin = self.effort.share(self.tried)
        parted = begin + (1.0 - begin) * FIRST_SHARE
        first = self.anneal(first, finish_first, begin, parted)
        first = polish(self.tables, first, seed=self.rng.randrange(2**30), effort=self.effort)
        finish = lay(self.tables, first).finish
        return self.anneal(first, changes_then(finish), parted, 1.0, cool=0.5)

    def _keep(self, choice: Choice) -> None:
        self.best, self.sums = choice.copy(), lay(self.tables, choice)

    def _cost(self, score: Score, choice: Choice) -> float:
        self.tried += 1
        return score(choice, lay(self.tables, choice))

    def anneal(
        self, start: Choice, score: Score, begin: float, end: float, *, cool: float = 1.0
    ) -> Choice:
        """The best order found from one, by the cost `score`.

        Parameters
        ----------
        start : where it sets out
        score : cost of an order
        begin, end : float [0..1], shares of the effort between which it runs
        cool : float, of the usual temperature
        """
        now, best = start.copy(), start.copy()
        cost = lowest = self._cost(score, start)
        self._keep(best)
        if len(start.order) < 2:
            return best
        heat, share = HOT_MIN * cool, 0.0
        while share < 1.0:
            if self.tried % 32 == 0 or share == 0.0:
                spent = self.effort.share(self.tried)
                share = 1.0 if spent >= end else (spent - begin) / (end - begin)
                # every restart begins at what is best
                part = share * RESTARTS % 1.0
                heat = HOT_MIN * cool * (COLD_MIN / HOT_MIN) ** min(part, 1.0)
                if part < 0.02:
                    now, cost = best.copy(), lowest
                share = max(share, 1e-9)
            tried = self._moved(now)
            new = self._cost(score, tried)
            if new <= cost or self.rng.random() < exp((cost - new) / heat):
                now, cost = tried, new
                if new < lowest - 1e-9:
                    best, lowest = tried.copy(), new
                    self._keep(best)
        return best

    def _moved(self, choice: Choice) -> Choice:
        rng, tables = self.rng, self.tables
        tried = choice.copy()
        which = rng.random()
        if tables.blowable and which < 0.12:
            t = rng.choice(tables.blowable)
            tried.blown[t] = not tried.blown[t]
        elif tables.day.airbrushes > 1 and tables.sprayed and which < 0.22:
            t = rng.choice(tables.sprayed)
            tried.airbrush[t] = 1 - tried.airbrush[t]
        elif which < 0.5:
            self._beside_its_like(tried)
        elif which < 0.65:
            self._block(tried)
        else:
            self._one(tried)
        return tried

    def _one(self, tried: Choice) -> None:
        order, rng = tried.order, self.rng
        one = order.pop(rng.randrange(len(order)))
        order.insert(rng.randrange(len(order) + 1), one)

    def _block(self, tried: Choice) -> None:
        order, rng = tried.order, self.rng
        at = rng.randrange(len(order))
        size = min(rng.randint(2, MOST_BLOCK), len(order) - at)
        block = order[at : at + size]
        del order[at : at + size]
        to = rng.randrange(len(order) + 1)
        order[to:to] = block

    def _beside_its_like(self, tried: Choice) -> None:
        """Lay a sprayed task right after one that has the same cup."""
        tables, rng = self.tables, self.rng
        if not tables.sprayed:
            self._one(tried)
            return
        t = rng.choice(tables.sprayed)
        alike = [u for u in tables.sprayed if tables.key[u] == tables.key[t] and u != t]
        if not alike:
            self._one(tried)
            return
        place = _places(tables, tried.order)
        u = rng.choice(alike)
        one, to = place[t], place[u]
        lane = tried.order.pop(one)
        tried.order.insert(to if one < to else to + 1, lane)


def _places(tables: Tables, order: list[int]) -> list[int]:
    """Where each task stands in an order."""
    at = [0] * len(tables.of_lane)
    place = [0] * len(order)
    for n, lane in enumerate(order):
        place[tables.of_lane[lane][at[lane]]] = n
        at[lane] += 1
    return place
