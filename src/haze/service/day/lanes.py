"""Plans as the lanes of a day: groups of copies, their tasks, and their colour after each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from haze.core.day.schedule.problem import Day, Lane, Task, cut
from haze.core.day.tasks import DayTask, plan_tasks
from haze.core.film.looks import shown
from haze.core.film.skin import seen
from haze.core.plan.document import Plan
from haze.service.cups.cups import needs_of
from haze.service.day.document import OPEN_MIN, PINNED_MIN, DayDoc, Wish
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.run_sheet import hand_areas_cm2

MOST_CUT_TASKS = 160  # a larger day is not cut finer: searching it would take too long


@dataclass(frozen=True, slots=True)
class PlanLane:
    """A plan as one lane of all its copies.

    `colours` are "#rrggbb" on the show side, bare and after each task; `sides` are words for where
    each task is sprayed from.
    """

    identity: str
    plan: Plan
    tasks: tuple[DayTask, ...]
    colours: tuple[str, ...]

    @property
    def lane(self) -> Lane:
        """The whole plan as a lane."""
        tasks = tuple(t.task for t in self.tasks)
        return Lane(self.plan.piece.name, tasks, self.plan.piece.copies)


@dataclass(frozen=True, slots=True)
class Group:
    """A lane of the day: some copies of a plan, counted from 1."""

    of: PlanLane
    copy_from: int
    copies: int

    @property
    def name(self) -> str:
        """The piece, and which of its copies."""
        return copies_words(self.of, range(self.copy_from, self.copy_from + self.copies))

    @property
    def which(self) -> str:
        """Which copies; empty for all of them."""
        copies = range(self.copy_from, self.copy_from + self.copies)
        return "" if len(copies) == self.of.plan.piece.copies else _runs(copies)


def plan_lane(identity: str, plan: Plan, on: OnPiece) -> PlanLane:
    """A plan as a lane of a day."""
    tasks = plan_tasks(
        plan,
        sprayed=needs_of(plan, on),
        tip_dry_min={c.id: float(on.outcome(plan, c).tip_dry_min) for c in plan.sprayed},
        parts={part.id: part.name for part in on.piece.parts_in(plan)},
        areas_cm2=hand_areas_cm2(plan, on),
    )
    return PlanLane(identity, plan, tuple(tasks), tuple(_colours(plan, on, tasks)))


def _colours(plan: Plan, on: OnPiece, tasks: Sequence[DayTask]) -> list[str]:
    """The mean colour of the show side, bare and after each task."""
    counts = on.place_weights(plan)[on.sampled]
    weight = counts if counts.sum() > 0 else np.ones_like(counts)
    after = {
        step.id: shown(np.average(seen(skin), axis=1, weights=weight))
        for step, skin in zip(plan.coats, on.sampled_skins(plan, len(plan.coats))[1:], strict=True)
    }
    return [plan.piece.surface, *(after[t.step] for t in tasks)]


def day_of(doc: DayDoc, plans: Sequence[PlanLane], *, finer: bool) -> tuple[Day, list[Group]]:
    """The day the core lays, and what each of its lanes stands for.

    Parameters
    ----------
    doc : what is asked of it
    plans : in it
    finer : whether plans of many copies are cut into groups that take about a quarter of an hour
    """
    groups: list[Group] = []
    lanes: list[Lane] = []
    for one in plans:
        first = 1
        for lane in cut(one.lane) if finer else [one.lane]:
            group = Group(one, first, lane.copies)
            groups.append(group)
            tasks = [_wished(task, doc.wishes, group, n) for n, task in enumerate(lane.tasks)]
            lanes.append(replace(lane, name=group.name, tasks=tuple(tasks)))
            first += lane.copies
    return Day(tuple(lanes), doc.calendar, doc.airbrushes), groups


def part_of_step(tasks: Sequence[DayTask], n: int) -> int:
    """Which of the tasks of its step a task is, from 0."""
    return sum(t.step == tasks[n].step for t in tasks[:n])


def wish_for(wishes: Sequence[Wish], group: Group, n: int) -> Wish | None:
    """What the painter wants of a task; the wish for the whole plan counts for its groups too."""
    step, part = group.of.tasks[n].step, part_of_step(group.of.tasks, n)
    mine = [w for w in wishes if (w.plan, w.step, w.part) == (group.of.identity, step, part)]
    last = group.copy_from + group.copies - 1
    return next((w for w in mine if group.copy_from <= w.copy_from <= last), None)


def _wished(task: Task, wishes: Sequence[Wish], group: Group, n: int) -> Task:
    wish = wish_for(wishes, group, n)
    if wish is None or task.kind == "rest":
        return task
    at = max(wish.at_min - OPEN_MIN, 0.0)
    if wish.kind == "later":
        return replace(task, not_before_min=at)
    return replace(task, not_before_min=at, not_after_min=at + PINNED_MIN)


def is_small(plans: Sequence[PlanLane]) -> bool:
    """Whether a day is small enough to be cut finer."""
    return sum(len(p.tasks) * len(cut(p.lane)) for p in plans) <= MOST_CUT_TASKS


def copies_words(of: PlanLane, copies: Sequence[int]) -> str:
    """The piece and which of its copies: those, in order."""
    name, whole = of.plan.piece.name, of.plan.piece.copies
    if len(copies) == whole:
        return name if whole == 1 else f"{name}, all {whole}"
    return f"{name} {_runs(copies)}"


def _runs(copies: Sequence[int]) -> str:
    runs: list[list[int]] = []
    for n in sorted(copies):
        if runs and n == runs[-1][1] + 1:
            runs[-1][1] = n
        else:
            runs.append([n, n])
    return ", ".join(f"{a}" if a == b else f"{a} to {b}" for a, b in runs)
