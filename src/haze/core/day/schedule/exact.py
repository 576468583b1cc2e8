"""Small days polished by an exact solver: intervals of the hands, a circuit of cups an airbrush.

The order found by annealing is its hint and stays when nothing better is found. It works in ticks
of half a minute, work and waits rounded up; what it finds is timed again to the second.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from math import ceil, floor
from threading import Event, Thread
from typing import TYPE_CHECKING

from haze.core.day.schedule.effort import Effort
from haze.core.day.schedule.laying import Choice, entries_of, lay
from haze.core.day.schedule.problem import CUP_ML, REFILL_MIN, Entry
from haze.core.day.schedule.tables import NEVER, InHand, Tables

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

    Arc = tuple[int, int, cp_model.IntVar]

TICKS = 2  # of a minute
ML_TICKS = 20  # of a millilitre
MOST_TASKS = 40
LOOKED_EVERY_S = 0.05
SLACK_MIN = 120.0  # the horizon beyond the order that is known


def polish(tables: Tables, known: Choice, *, seed: int, effort: Effort) -> Choice:
    """A choice with an earlier finish than a known one, or the known one.

    Parameters
    ----------
    tables : of the day
    known : an order that keeps all latest times
    seed : int
    effort : what the solver may spend
    """
    sums = lay(tables, known)
    small = 2 <= len(tables.active) <= MOST_TASKS
    if not small or sums.late > 0 or sums.finish >= NEVER or effort.stopped():
        return known
    from ortools.sat.python import cp_model  # takes a second to load

    program = _Program(tables, sums.finish)
    program.hint(entries_of(tables, known), known)
    solver = cp_model.CpSolver()
    solver.parameters.random_seed = seed
    solver.parameters.num_workers = 1
    solver.parameters.linearization_level = 0
    solver.parameters.symmetry_level = 0
    solver.parameters.cp_model_probing_level = 0
    if effort.exact_seconds is not None:
        solver.parameters.max_time_in_seconds = effort.exact_seconds
    if effort.exact_work is not None:
        solver.parameters.max_deterministic_time = effort.exact_work
    with _stopping(solver, effort):
        status = solver.solve(program.model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return known
    found = program.choice(solver)
    new = lay(tables, found)
    better = new.late < 1e-6 and new.finish < sums.finish - 1e-6
    return found if better else known


@contextmanager
def _stopping(solver: cp_model.CpSolver, effort: Effort) -> Iterator[None]:
    """While it lasts, the solver stops soon after somebody asked to."""
    over = Event()

    def watch() -> None:
        while not over.wait(LOOKED_EVERY_S):
            if effort.stopped():
                solver.stop_search()

    watcher = Thread(target=watch, daemon=True)
    watcher.start()
    try:
        yield
    finally:
        over.set()
        watcher.join()


class _Program:
    """The day as a constraint program."""

    def __init__(self, tables: Tables, finish: float) -> None:
        from ortools.sat.python import cp_model

        self.tables = tables
        self.model: cp_model.CpModel = cp_model.CpModel()
        begun = tables.day.begun
        self.first = floor((begun.now_min if begun else 0.0) * TICKS)
        self.end = ceil((finish + SLACK_MIN) * TICKS)
        count = len(tables.active)
        self.start = [self._time(f"start{t}") for t in range(count)]
        self.setup = [
            self.model.new_int_var(0, _up(60.0 + tables.setup[t]), f"setup{t}")
            for t in range(count)
        ]
        self.blown = [
            self.model.new_bool_var(f"blown{t}") if t in set(tables.blowable) else None
            for t in range(count)
        ]
        self.minutes = [self._minutes(t) for t in range(count)]
        self.finish = self._time("finish")
        self.arcs: dict[tuple[int, int, int, int], cp_model.IntVar] = {}
        self._hands()
        self._lanes()
        self._cups()
        self.model.minimize(self.finish)

    def _time(self, name: str) -> cp_model.IntVar:
        return self.model.new_int_var(self.first, self.end, name)

    def _minutes(self, t: int) -> cp_model.LinearExprT:
        plain, dried = (_up(m) for m in self.tables.minutes[t])
        blown = self.blown[t]
        return plain if blown is None else plain + (dried - plain) * blown

    def _hands(self) -> None:
        model, intervals = self.model, []
        for t, start in enumerate(self.start):
            end = self._time(f"end{t}")
            size = model.new_int_var(0, self.end, f"size{t}")
            begin = self._time(f"begin{t}")
            model.add(begin == start - self.setup[t])
            model.add(end == start + self.minutes[t])
            model.add(size == end - begin)
            model.add(self.finish >= end)
            intervals.append(model.new_interval_var(begin, size, end, f"work{t}"))
        begins, ends = self.tables.time.begins, self.tables.time.ends
        before = float(self.first) / TICKS
        for n, begin_min in enumerate(begins):
            closed, opened = floor(before * TICKS), ceil(begin_min * TICKS)
            if opened > closed:
                intervals.append(
                    model.new_fixed_size_interval_var(closed, opened - closed, f"off{n}")
                )
            before = max(before, ends[n])
            if before * TICKS > self.end:
                break
        model.add_no_overlap(intervals)

    def _lanes(self) -> None:
        tables, model = self.tables, self.model
        for lane, numbers in enumerate(tables.of_lane):
            if not numbers:
                continue
            model.add(self.start[numbers[0]] >= _up(tables.ready[lane]))
            if tables.due[lane] < NEVER:
                model.add(self.start[numbers[0]] <= floor(tables.due[lane] * TICKS))
            for t in numbers:
                model.add(self.start[t] >= _up(tables.early[t]))
                if tables.late[t] < NEVER:
                    model.add(self.start[t] <= floor(tables.late[t] * TICKS))
                if tables.next[t] is not None:
                    self._lag(t, tables.next[t] or 0)

    def _lag(self, t: int, after: int) -> None:
        tables, model = self.tables, self.model
        for one in (False, True) if self.blown[t] is not None else (False,):
            for then in (False, True) if self.blown[after] is not None else (False,):
                only = [
                    blown if wanted else blown.negated()
                    for blown, wanted in ((self.blown[t], one), (self.blown[after], then))
                    if blown is not None
                ]
                apart = self.start[after] - self.start[t]
                model.add(apart >= _up(tables.least[t][one][then])).only_enforce_if(only)
                if tables.most[t][one][then] < NEVER:
                    most = floor(tables.most[t][one][then] * TICKS)
                    model.add(apart <= most).only_enforce_if(only)

    def _cups(self) -> None:
        """A circuit an airbrush: who is sprayed after whom, out of which cup."""
        tables, model = self.tables, self.model
        self.used = {
            t: model.new_int_var(0, round(CUP_ML * ML_TICKS), f"used{t}") for t in tables.sprayed
        }
        self.poured = {t: self._time(f"poured{t}") for t in tables.sprayed}
        for t in range(len(self.start)):
            if t not in self.used:
                model.add(self.setup[t] == _up(tables.setup[t]))
        for airbrush, held in enumerate(tables.held()):
            model.add_circuit(self._circuit(airbrush, held))
        if tables.day.airbrushes > 1:
            for j in tables.sprayed:
                self.model.add_exactly_one(
                    self.arcs[a, j, j, 0].negated() for a in range(tables.day.airbrushes)
                )

    def _circuit(self, airbrush: int, held: InHand) -> list[Arc]:
        """All ways through the day of an airbrush: node 0 is its begin and end, j + 1 task j."""
        tables, model = self.tables, self.model
        arcs: list[Arc] = [(0, 0, model.new_bool_var(f"idle{airbrush}"))]
        for j in tables.sprayed:
            cost = (held.rinse[j] if held.rinse is not None else 0.0) + tables.setup[j]
            arcs.append((0, j + 1, self._fresh(airbrush, -1, j, cost)))
            arcs.append((j + 1, 0, model.new_bool_var(f"last{airbrush}.{j}")))
            if tables.day.airbrushes > 1:
                arcs.append((j + 1, j + 1, self._arc(airbrush, j, j, 0)))
            before = [i for i in tables.sprayed if i != j and not self._never(i, j)]
            arcs += [(i + 1, j + 1, arc) for i in before for arc in self._between(airbrush, i, j)]
        return arcs

    def _between(self, airbrush: int, i: int, j: int) -> list[cp_model.IntVar]:
        """The ways task j may follow task i: fresh, and of one paint from the same cup."""
        tables = self.tables
        fresh = self._fresh(airbrush, i, j, tables.rinse[i][j] + tables.setup[j])
        if tables.key[i] != tables.key[j]:
            return [fresh]
        return [fresh, self._same(airbrush, i, j), self._topped(airbrush, i, j)]

    def _never(self, i: int, j: int) -> bool:
        return self.tables.lane[i] == self.tables.lane[j] and i > j

    def _arc(self, airbrush: int, i: int, j: int, way: int) -> cp_model.IntVar:
        arc = self.model.new_bool_var(f"arc{airbrush}.{i}.{j}.{way}")
        self.arcs[airbrush, i, j, way] = arc
        return arc

    def _after(self, i: int, j: int, arc: cp_model.IntVar) -> None:
        if i >= 0:
            free = self.start[i] + self.minutes[i]
            self.model.add(self.start[j] - self.setup[j] >= free).only_enforce_if(arc)

    def _fresh(self, airbrush: int, i: int, j: int, cost: float) -> cp_model.IntVar:
        arc = self._arc(airbrush, i, j, 1)
        self._poured_anew(j, cost, arc)
        self._after(i, j, arc)
        return arc

    def _poured_anew(self, j: int, cost: float, arc: cp_model.IntVar) -> None:
        tables, model = self.tables, self.model
        model.add(self.setup[j] == _up(cost)).only_enforce_if(arc)
        used = min(tables.used[j][False], CUP_ML)
        model.add(self.used[j] >= ceil(used * ML_TICKS - 1e-6)).only_enforce_if(arc)
        refilled = floor(tables.refilled[j][False] * TICKS)
        model.add(self.poured[j] <= self.start[j] + refilled).only_enforce_if(arc)

    def _same(self, airbrush: int, i: int, j: int) -> cp_model.IntVar:
        tables, model = self.tables, self.model
        arc = self._arc(airbrush, i, j, 2)
        model.add(self.setup[j] == 0).only_enforce_if(arc)
        volume = ceil(tables.volume[j] * ML_TICKS - 1e-6)
        model.add(self.used[j] >= self.used[i] + volume).only_enforce_if(arc)
        model.add(self.poured[j] <= self.poured[i]).only_enforce_if(arc)
        life = floor(tables.life[j] * TICKS)
        age = self.start[j] + self.minutes[j] - self.poured[i]
        model.add(age <= life).only_enforce_if(arc)
        self._after(i, j, arc)
        return arc

    def _topped(self, airbrush: int, i: int, j: int) -> cp_model.IntVar:
        tables, model = self.tables, self.model
        arc = self._arc(airbrush, i, j, 3)
        self._poured_anew(j, REFILL_MIN, arc)
        age = self.start[j] - self.setup[j] - self.poured[i]
        model.add(age <= floor(tables.life[j] * TICKS)).only_enforce_if(arc)
        self._after(i, j, arc)
        return arc

    def hint(self, entries: list[Entry], known: Choice) -> None:
        """Set out from an order that is known."""
        number = {(a.lane, a.step): t for t, a in enumerate(self.tables.active)}
        for e in entries:
            t = number.get((e.lane, e.step))
            if t is None:
                continue
            self.model.add_hint(self.start[t], ceil(e.start_min * TICKS))
            self.model.add_hint(self.setup[t], _up(e.setup_min))
            blown = self.blown[t]
            if blown is not None:
                self.model.add_hint(blown, known.blown[t])

    def choice(self, solver: cp_model.CpSolver) -> Choice:
        """What the solver chose."""
        count = len(self.start)
        blown = [b is not None and bool(solver.value(b)) for b in self.blown]
        airbrush = [0] * count
        for (a, i, j, way), arc in self.arcs.items():
            if way and i != j and solver.value(arc):
                airbrush[j] = a
        order = sorted(range(count), key=lambda t: (solver.value(self.start[t]), t))
        return Choice([self.tables.lane[t] for t in order], blown, airbrush)


def _up(minutes: float) -> int:
    return ceil(minutes * TICKS - 1e-6)
