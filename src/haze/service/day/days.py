"""Days as the painter uses them: open the one a plan is in, ask for something else, lay it."""

from __future__ import annotations

import time
import uuid
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import replace
from math import inf

from pydantic import BaseModel, Field

from haze.core.day.schedule.again import plan_again
from haze.core.day.schedule.planning import (
    Laid,
    Usual,
    plan_day,
    reversed_neighbours,
    usual_ways,
)
from haze.core.day.schedule.problem import Day, Entry, Lane, Task, require_feasible
from haze.core.day.schedule.tables import NEVER
from haze.core.errors import NoOrderError
from haze.core.plan.base import Strict
from haze.core.plan.document import Plan
from haze.service.day.asked import timed
from haze.service.day.document import DayDoc, Drawn
from haze.service.day.drawn import LaidDay, drawn
from haze.service.day.lanes import Group, PlanLane, day_of, is_small, plan_lane
from haze.service.forms.moments import Date
from haze.service.forms.records import Unreadable, UnreadableError, reading
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.work.jobs import Report
from haze.store import days
from haze.store.connection import Database, MissingError
from haze.store.days import DayRow

SEARCH_S = 3.0
AGAIN_S = 0.6
TRIED_S = 0.5  # on each way to group the copies, before the better one is searched
SEED = 1


class DayPlan(BaseModel):
    """A plan that is in the day, or could be."""

    id: str
    version: int
    name: str
    piece: str
    copies: int


class DayView(BaseModel):
    """A day: what is asked, what was laid; `stale` says why that no longer holds, empty if it does.

    Version 0 has not been stored yet.
    """

    id: str
    version: int
    doc: DayDoc
    plans: list[DayPlan]
    others: list[DayPlan]
    laid: Drawn | None
    stale: str


class PutDay(Strict):
    """A day as it shall be."""

    version: int = Field(ge=0, le=2**53)
    doc: DayDoc


class AnotherBody(Strict):
    """A day is over; `today` is the date of the next on the painter's own clock."""

    today: Date


class LayBody(Strict):
    """How a day is laid; `near` keeps close to the order it was laid in before."""

    near: bool = False


def of_plan(db: Database, plan: str, *, today: str) -> DayView:
    """The day a plan is in; a new one with nothing but this plan when it is in none."""
    plans.open_plan(db, plan)
    row = days.open_of_plan(db.connection(), plan)
    if row is not None:
        with suppress(UnreadableError):  # a new one takes its place
            return _view(db, row)
    doc = DayDoc(date=today, plans=[plan])
    return _day_view(db, uuid.uuid4().hex, 0, doc, None)


def one(db: Database, identity: str) -> DayView:
    """A day; `MissingError` when there is none."""
    return _view(db, days.one(db.connection(), identity))


def put(db: Database, identity: str, body: PutDay) -> DayView:
    """Store a day as it is asked for now."""
    known = {p.id for p in plans.every(db)}
    for plan in body.doc.plans:
        if plan not in known:
            raise MissingError("One of these plans is no longer there.", field="plans")
    with db.atomic() as tx:
        row = days.put(
            tx,
            identity,
            version=body.version,
            document=body.doc.model_dump_json(),
            plans=body.doc.plans,
        )
    return _view(db, row)


def begin_another(db: Database, identity: str, body: AnotherBody) -> DayView:
    """End a day, and begin another of the same plans and habits."""
    with db.atomic() as tx:
        ended = days.end(tx, identity)
        with reading("day", identity):
            doc = DayDoc.model_validate_json(ended.document)
        new = doc.model_copy(update={"date": body.today, "wishes": []})
        document = new.model_dump_json()
        row = days.put(tx, uuid.uuid4().hex, version=0, document=document, plans=new.plans)
    return _view(db, row)


def named_day(row: DayRow) -> Unreadable:
    """What can be said of a day without reading it."""
    return Unreadable(kind="day", id=row.id, name="A day", at=row.created_at)


def read_day(row: DayRow) -> None:
    """Read a stored day as it is asked for, and as it was planned; refused when it cannot be."""
    with reading("day", row.id):
        DayDoc.model_validate_json(row.document)
        if row.laid is not None:
            Drawn.model_validate_json(row.laid)


def _view(db: Database, row: DayRow) -> DayView:
    laid: Drawn | None = None
    if row.laid is not None:
        with suppress(UnreadableError), reading("day", row.id):  # it is planned again
            laid = Drawn.model_validate_json(row.laid)
    with reading("day", row.id):
        return _day_view(db, row.id, row.version, DayDoc.model_validate_json(row.document), laid)


def _day_view(
    db: Database, identity: str, version: int, doc: DayDoc, laid: Drawn | None
) -> DayView:
    every = {
        p.id: DayPlan(id=p.id, version=p.version, name=p.name, piece=p.piece, copies=p.copies)
        for p in plans.every(db)
    }
    kept = [p for p in doc.plans if p in every]
    doc = doc.model_copy(update={"plans": kept or doc.plans})
    return DayView(
        id=identity,
        version=version,
        doc=doc,
        plans=[every[p] for p in kept],  # in the order they were taken in
        others=[p for p in every.values() if p.id not in kept],
        laid=laid,
        stale="" if laid is None else _stale(laid, version, every, kept),
    )


def _stale(laid: Drawn, version: int, known: dict[str, DayPlan], kept: Sequence[str]) -> str:
    changed = [known[p].name for p in kept if p in laid.plans and known[p].version != laid.plans[p]]
    if changed:
        return f"{changed[0]} has changed since this day was planned."
    if laid.version != version or set(laid.plans) != set(kept):
        return "You asked for something else since this day was planned."
    return ""


def lay(
    db: Database,
    identity: str,
    body: LayBody,
    *,
    opened: Callable[[Plan, Report], OnPiece],
    report: Report,
) -> DayView:
    """Lay a day and keep it; when it is stopped, the best order so far is kept.

    Parameters
    ----------
    db : holds days and plans
    identity : of the day
    body : how
    opened : a plan's piece, worked out where it was not
    report : called with how far it is
    """
    row = days.one(db.connection(), identity)
    view = _view(db, row)
    lanes, versions = [], {}
    for n, plan in enumerate(view.doc.plans):
        held = plans.open_plan(db, plan)
        versions[plan] = held.version
        report(0.3 * n / len(view.doc.plans), f"Reading {held.plan.name}")
        lanes.append(plan_lane(plan, held.plan, opened(held.plan, report)))
    if not any(lane.tasks for lane in lanes):
        raise NoOrderError("These plans have no steps yet: there is nothing to plan.")
    found, moved = _found(view, lanes, body, report)
    sheet = drawn(found, version=row.version, plans=versions, moved=moved)
    with db.atomic() as tx:
        if days.one(tx, identity).version == row.version:
            days.lay(tx, identity, laid=sheet.model_dump_json())
    return one(db, identity)


def _found(
    view: DayView, lanes: Sequence[PlanLane], body: LayBody, report: Report
) -> tuple[LaidDay, int | None]:
    doc, before = view.doc, view.laid
    whole, _ = day_of(doc, lanes, finer=False)
    usual = usual_ways(replace(whole, lanes=tuple(_free(whole))))
    ways = [day_of(doc, lanes, finer=False)]
    if is_small(lanes):
        ways.append(day_of(doc, lanes, finer=True))
    stopping = _Stopping(report)
    if body.near and before is not None:
        old = [e.entry for e in before.entries]
        near = next((w for w in ways if _fits(w[0], old)), None)
        if near is not None:
            require_feasible(near[0])
            effort = timed(AGAIN_S, stopped=stopping)
            found, _ = plan_again(
                near[0], before=old, done=(), now_min=0.0, seed=SEED, effort=effort
            )
            return _laid(doc, near, found, usual), reversed_neighbours(old, found.entries)
    return _laid(doc, *_best(ways, stopping), usual), None


def _free(day: Day) -> list[Lane]:
    """Its lanes without what the painter pinned: so the usual ways would be done."""
    return [
        replace(
            lane,
            tasks=tuple(replace(t, not_before_min=0.0, not_after_min=inf) for t in lane.tasks),
        )
        for lane in day.lanes
    ]


def _fits(day: Day, entries: Sequence[Entry]) -> bool:
    """Whether entries are those of a day."""
    mine = sorted((n, m) for n, lane in enumerate(day.lanes) for m in range(len(lane.tasks)))
    return mine == sorted((e.lane, e.step) for e in entries)


def _best(
    ways: Sequence[tuple[Day, list[Group]]], stopping: _Stopping
) -> tuple[tuple[Day, list[Group]], Laid]:
    """The better way to group the copies, searched at length."""
    if len(ways) > 1:
        tried = [
            plan_day(day, seed=SEED, effort=timed(TRIED_S, stopped=stopping)) for day, _ in ways
        ]
        ways = [min(zip(ways, tried, strict=True), key=lambda w: _worth(w[1]))[0]]
    way = ways[0]
    stopping.begin()
    found = plan_day(way[0], seed=SEED, effort=timed(SEARCH_S, stopped=stopping))
    return way, found


def _worth(found: Laid) -> tuple[float, float, float]:
    return len(found.late), round(found.finish_min), found.hands_min


def _laid(doc: DayDoc, way: tuple[Day, list[Group]], found: Laid, usual: Usual) -> LaidDay:
    if found.finish_min >= NEVER:
        raise NoOrderError("No working time is left for all of it; stop later or take less.")
    day, groups = way
    return LaidDay(doc, day, groups, in_order(day, groups, found), usual)


def in_order(day: Day, groups: Sequence[Group], found: Laid) -> Laid:
    """The same order with groups that are alike begun by their numbers: 1 to 3 before 4 to 6."""
    begun = {
        lane: min(e.start_min for e in found.entries if e.lane == lane)
        for lane in {e.lane for e in found.entries}
    }
    new = list(range(len(groups)))
    for lanes in _alike(day, groups):
        for lane, begun_as in zip(lanes, sorted(lanes, key=lambda n: begun[n]), strict=True):
            new[begun_as] = lane
    return replace(
        found,
        entries=tuple(replace(e, lane=new[e.lane]) for e in found.entries),
        late=tuple((new[lane], step, minutes) for lane, step, minutes in found.late),
    )


def _alike(day: Day, groups: Sequence[Group]) -> list[list[int]]:
    found: dict[tuple[int, int, tuple[Task, ...]], list[int]] = {}
    for n, group in enumerate(groups):
        if group.of.tasks:
            key = id(group.of), group.copies, day.lanes[n].tasks
            found.setdefault(key, []).append(n)
    return list(found.values())


class _Stopping:
    """Tells how far the search is, and hears when the painter has enough."""

    def __init__(self, report: Report) -> None:
        self._report = report
        self._begun = time.monotonic()
        self._day_view = 0.0
        self._stopped = False

    def begin(self) -> None:
        """The long search begins."""
        self._begun = time.monotonic()

    def __call__(self) -> bool:
        now = time.monotonic()
        if now - self._day_view > 0.05 and not self._stopped:
            self._day_view = now
            share = min((now - self._begun) / SEARCH_S, 1.0)
            self._stopped = not self._report(0.3 + 0.7 * share, "Trying orders")
        return self._stopped
