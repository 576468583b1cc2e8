"""The booth of a day: its steps as they are now, what was pressed, and the rest replanned."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from sqlite3 import Connection
from typing import Annotated

from pydantic import BaseModel, Field

from haze.core.day.schedule.again import Missed, kept_order, plan_again
from haze.core.day.schedule.planning import Laid, Usual, reversed_neighbours
from haze.core.day.schedule.problem import Entry
from haze.core.errors import HazeError
from haze.core.plan.base import Strict
from haze.core.plan.document import Plan
from haze.service.booth.checked import OfDay, OtherDayError, require_known
from haze.service.booth.pressed import (
    MOST_EVENTS,
    EventIn,
    EventOut,
    events_of,
    pressed,
    row_of,
)
from haze.service.booth.sessions import at_booth as session_at
from haze.service.booth.sessions import keep_presses
from haze.service.booth.steps import BoothDay, BoothStep, entry_id
from haze.service.booth.turning import turned_plans
from haze.service.cups import trials
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.trial_session import RoomThen
from haze.service.cups.trials import TrialBody
from haze.service.day import days
from haze.service.day.asked import timed
from haze.service.day.days import DayView
from haze.service.day.document import CLOSE_MIN, OPEN_MIN
from haze.service.day.drawn import LaidDay, drawn
from haze.service.day.lanes import Group, PlanLane, day_of, plan_lane
from haze.service.forms.moments import MOST_MINUTES
from haze.service.forms.records import UnreadableError, reading
from haze.service.piece.layers import layers_of
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.store import booth as store
from haze.store import days as day_store
from haze.store import trials as trial_store
from haze.store.connection import Database, MissingError

AGAIN_S = 0.35
SEED = 1
TOO_EARLY_MIN = 0.01


NOT_LAID = "This day is not planned yet: plan it on the Day screen first."


class NotLaidError(HazeError):
    """The booth needs a day that is laid as its plans are now."""

    code = "not_laid"


class BoothView(BaseModel):
    """A day at the booth: its steps in order and all that was pressed.

    `start` is the moment the day starts on the painter's own clock, as "2026-11-28T14:00".
    """

    day: str
    name: str
    start: str
    steps: list[BoothStep]
    events: list[EventOut]
    finish_min: float
    missed: list[str]
    moved: int | None = None


class EventsBody(Strict):
    """Events a browser holds that the server may not have, and what it has seen."""

    events: Annotated[list[EventIn], Field(max_length=MOST_EVENTS)]
    since: int = Field(default=0, ge=0, le=2**53)


class EventsOut(BaseModel):
    """What came since: others' events, and the browser's own as they are stored."""

    events: list[EventOut]


class AgainBody(Strict):
    """Replan the rest; `minute` is now, from the start of the day."""

    minute: float = Field(ge=0, le=MOST_MINUTES)


Opened = Callable[[Plan], OnPiece]


def take_events(
    db: Database, day: str, body: EventsBody, *, measured: RoomThen | None = None
) -> EventsOut:
    """Store events once each, all of them or none; what came since the browser last asked.

    What they teach is learned by `learn_from_presses`, now or after a cut.

    Parameters
    ----------
    db : holds days, plans and events
    day : identity
    body : what the browser holds
    measured : the room, where a sensor tells it; it goes into the notebook

    Raises
    ------
    UnknownStepError, OtherDayError : naming the press; none of them was stored
    MissingError : when there is no such day
    """
    with db.atomic() as tx:
        held = day_store.one(tx, day)
        of_day = OfDay(tx, held)
        new = [event for event in body.events if _is_new(tx, day, event)]
        require_known(new, of_day)
        for event in new:
            store.add(tx, row_of(day, event))
        keep_presses(tx, held, new, measured=measured)
    return EventsOut(events=events_of(store.since(db.connection(), day, body.since)))


def _is_new(tx: Connection, day: str, event: EventIn) -> bool:
    stored_with = store.day_of(tx, event.id)
    if stored_with not in (None, day):
        raise OtherDayError(
            f"Press {event.id} is stored with another day already. It was not stored again.",
            field=f"events.{event.id}",
        )
    return stored_with is None


def learn_from_presses(db: Database, beliefs: Beliefs, day: str, opened: Opened) -> None:
    """Learn from the presses of a day that nothing was learned from yet.

    A look at a card teaches the model as a trial does; taken back, it no longer counts. Each is
    learned and marked in one transaction. While the day is not planned as its plans are now, its
    presses wait.

    Parameters
    ----------
    db : holds days, plans and events
    beliefs : of all trials
    day : identity
    opened : a plan's piece

    Raises
    ------
    MissingError : when a piece is not worked out yet, by `opened`
    """
    rows = store.untaught(db.connection(), day)
    if not rows:
        return
    waiting = {event.id: event for event in events_of(rows)}
    steps: dict[str, BoothStep] = {}
    if any(event.kind == "tried" for event in waiting.values()):
        try:
            booth, _ = _booth(db, days.one(db, day), opened)
        except (NotLaidError, UnreadableError):
            return
        steps = {step.id: step for step in booth.steps}
    for row in rows:
        with db.atomic() as tx:
            event = waiting.get(row.id)
            if event is not None and event.kind == "tried":
                _learn(tx, day, event, steps.get(event.step))
            elif event is not None:
                _take_back(tx, day, event)
            store.taught(tx, row.id)
    beliefs.changed()


def _learn(tx: Connection, day: str, event: EventOut, step: BoothStep | None) -> None:
    if event.look is None or step is None or step.through is None:
        return
    named = {"id": event.id, "look": event.look, "plan": step.plan, "step": step.coat}
    card = TrialBody.model_validate(step.through.model_dump() | named)
    held = day_store.one(tx, day)
    own = session_at(tx, held, plan=step.plan or "", minute=event.minute)
    trials.keep(tx, card, session=own)


def _take_back(tx: Connection, day: str, event: EventOut) -> None:
    for tried in events_of(store.since(tx, day, 0)):
        if tried.kind == "tried" and tried.step == event.step and tried.at < event.at:
            with suppress(MissingError):
                trial_store.take_back(tx, tried.id, back=True)


def open_booth(db: Database, day: str, opened: Opened) -> BoothView:
    """A day at the booth, as it stands.

    Parameters
    ----------
    db : holds days, plans and events
    day : identity
    opened : a plan's piece

    Raises
    ------
    NotLaidError : when the day is not laid, or its plans have changed since
    MissingError : when there is no such day
    """
    try:
        view = days.one(db, day)
    except MissingError:
        # nobody has looked at its Day screen yet
        raise MissingError(NOT_LAID, field="day") from None
    booth, events = _booth(db, view, opened)
    with reading("day", day):
        return _view(view, booth, events, missed=[])


def lay_rest(db: Database, day: str, body: AgainBody, opened: Opened) -> BoothView:
    """Replan what is left of a day from now; nothing that was done is moved."""
    view = days.one(db, day)
    booth, events = _booth(db, view, opened)
    before = booth.laid.found.entries
    now = max(body.minute - OPEN_MIN, 0.0)
    done = [*done_entries(booth), *_under_way(booth, now)]
    found, missed = plan_again(
        booth.laid.day,
        before=before,
        done=done,
        now_min=max([now, *(e.end_min for e in done if e.start_min <= now)]),
        seed=SEED,
        effort=timed(AGAIN_S),
    )
    moved = reversed_neighbours(before, found.entries)
    entries = (*done, *found.entries)
    laid = replace(booth.laid, found=replace(found, entries=tuple(_by_start(entries))))
    assert view.laid is not None
    sheet = drawn(laid, version=view.version, plans=view.laid.plans, moved=moved)
    with db.atomic() as tx:
        day_store.lay(tx, day, laid=sheet.model_dump_json())
    words = [_missed_words(booth.laid, one) for one in missed]
    again = replace(booth, laid=laid)
    return _view(days.one(db, day), again, events, missed=words).model_copy(update={"moved": moved})


def _by_start(entries: tuple[Entry, ...]) -> list[Entry]:
    return sorted(entries, key=lambda e: (e.start_min, e.end_min, e.lane, e.step))


def _missed_words(laid: LaidDay, one: Missed) -> str:
    task, group = laid.day.lanes[one.lane].tasks[one.step], laid.groups[one.lane]
    return (
        f"{task.name} on {group.name} comes {max(one.minutes, 1):.0f} min too late at the least, "
        "whatever is done first. Do it next and look at it closely; the others are still in time."
    )


def _booth(db: Database, view: DayView, opened: Opened) -> tuple[BoothDay, list[EventOut]]:
    with reading("day", view.id):
        return _as_it_stands(db, view, opened)


def _as_it_stands(db: Database, view: DayView, opened: Opened) -> tuple[BoothDay, list[EventOut]]:
    if view.laid is None:
        raise NotLaidError(NOT_LAID)
    if view.stale:
        raise NotLaidError(f"{view.stale} Lay it again on the Day screen first.")
    events = events_of(store.since(db.connection(), view.id, 0))
    state = pressed(events)
    held = [(p, plans.open_plan(db, p).plan) for p in view.doc.plans]
    pieces = {identity: opened(plan) for identity, plan in held}
    lanes = {identity: plan_lane(identity, plan, pieces[identity]) for identity, plan in held}
    laid = _laid(view, lanes)
    turned = turned_plans([(i, p, pieces[i]) for i, p in held], state.turned)
    now = {identity: plan for (identity, _), plan in zip(held, turned, strict=True)}
    layers = {identity: layers_of(plan, pieces[identity]) for identity, plan in now.items()}
    return BoothDay(laid, now, pieces, state, layers), events


def _laid(view: DayView, lanes: dict[str, PlanLane]) -> LaidDay:
    """The day as it was laid, from what is stored of it."""
    assert view.laid is not None
    groups = [Group(lanes[v.plan], v.copy_from, v.copies) for v in view.laid.lanes]
    for finer in (False, True):
        day, all_groups = day_of(view.doc, list(lanes.values()), finer=finer)
        if [(g.of.identity, g.copy_from, g.copies) for g in all_groups] == [
            (g.of.identity, g.copy_from, g.copies) for g in groups
        ]:
            break
    else:
        raise NotLaidError(
            "This day was planned by another version of Haze. Plan it again on the Day screen."
        )
    entries = tuple(e.entry for e in view.laid.entries)
    f = view.laid.figures
    found = Laid(entries, f.finish_min, f.changes, f.hands_min, f.bound_min, (), 0)
    return LaidDay(view.doc, day, all_groups, found, Usual(f.one_by_one_min, f.coat_by_coat_min))


def _view(
    view: DayView, booth: BoothDay, events: list[EventOut], *, missed: list[str]
) -> BoothView:
    done = done_entries(booth)
    planned = max((e.end_min for e in booth.laid.work), default=0.0)
    finish = planned
    if done:
        now = max(e.end_min for e in done)
        finish = kept_order(
            booth.laid.day, before=booth.laid.found.entries, done=done, now_min=now
        ).finish_min
        finish = max(finish, now)
    return BoothView(
        day=view.id,
        name=", ".join(p.name for p in view.plans),
        start=f"{view.doc.date}T{view.doc.start}",
        steps=booth.steps,
        events=events,
        finish_min=finish + OPEN_MIN + CLOSE_MIN,
        missed=missed,
    )


def done_entries(booth: BoothDay) -> list[Entry]:
    """What is over, with its real times; of each lane from its beginning, with rests between."""
    found = []
    over: dict[int, list[Entry]] = {}
    for e in sorted(booth.laid.found.entries, key=lambda e: (e.lane, e.step)):
        mine = over.setdefault(e.lane, [])
        if len(mine) != e.step:
            continue
        if booth.laid.task(e).kind == "rest":
            mine.append(e)
            continue
        real = _really(
            booth, e, booth.by_entry.get(entry_id(booth.laid.groups[e.lane], e.step), [])
        )
        if real is not None:
            mine.append(real)
    for mine in over.values():
        # a rest counts only with what was done after it, or before it
        while mine and booth.laid.task(mine[-1]).kind == "rest":
            mine.pop()
        found += mine
    return found


def _under_way(booth: BoothDay, now_min: float) -> list[Entry]:
    """What the hands are in the middle of; it is done to its end first."""
    over = {(e.lane, e.step) for e in done_entries(booth)}
    found = []
    for e in booth.laid.work:
        mine = booth.by_entry.get(entry_id(booth.laid.groups[e.lane], e.step), [])
        pressed_at = [m for s in mine for m in booth.pressed.minutes(s.id, s.count)]
        if (e.lane, e.step) in over or not pressed_at:
            continue
        count = sum(s.count for s in mine)
        left = (e.end_min - e.start_min) * (1 - len(pressed_at) / max(count, 1))
        end = max(now_min, max(pressed_at) - OPEN_MIN) + left
        start = min(end - (e.end_min - e.start_min), min(pressed_at) - OPEN_MIN)
        shift = start - e.start_min
        pours = tuple(p + shift for p in e.pours)
        found.append(replace(e, start_min=start, end_min=end, pours=pours))
    return found


def _really(booth: BoothDay, e: Entry, steps: list[BoothStep]) -> Entry | None:
    """A stretch with the times it was really done at; None while it is not over."""
    state = booth.pressed
    if not steps or not all(state.over(s.id, s.count) for s in steps):
        return None
    minutes = [m for s in steps for m in state.minutes(s.id, s.count)]
    working = [m for s in steps if s.kind in ("hold", "hand") for m in state.minutes(s.id, s.count)]
    end = max(minutes) - OPEN_MIN
    start = min(min(working or minutes) - OPEN_MIN, end - TOO_EARLY_MIN)
    shift = start - e.start_min
    return replace(e, start_min=start, end_min=end, pours=tuple(p + shift for p in e.pours))
