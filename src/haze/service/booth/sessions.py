"""Sessions of the notebook that begin and go on by presses at the booth."""

from __future__ import annotations

import json
import sqlite3
import uuid
from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from haze.core.plan.document import Plan
from haze.service.booth.pressed import EventIn, EventOut
from haze.service.booth.step_id import Stretch
from haze.service.cups.trial_session import RoomThen
from haze.service.day.asked import minutes_of
from haze.service.day.document import DayDoc, Drawn
from haze.service.forms.records import UnreadableError, reading
from haze.store import plans, sessions
from haze.store.connection import MissingError
from haze.store.days import DayRow
from haze.store.sessions import SessionRow

MIDNIGHT = 24 * 60
WORKED = ("done", "tried", "skipped")  # presses that end a step


def date_of(doc: DayDoc, minute: float) -> str:
    """The date of a press on the painter's own clock.

    Parameters
    ----------
    doc : the day
    minute : of the press, from the start of the first day
    """
    days = int((minute + minutes_of(doc.start)) // MIDNIGHT)
    return (date.fromisoformat(doc.date) + timedelta(days=days)).isoformat()


def keep_presses(
    tx: sqlite3.Connection,
    day: DayRow,
    events: Sequence[EventIn | EventOut],
    *,
    measured: RoomThen | None = None,
) -> None:
    """Begin a session for each plan that was worked on, or go on with it.

    Parameters
    ----------
    tx : of the same transaction the presses are stored in
    day : the day they belong to
    events : new presses
    measured : the room, where a sensor tells it
    """
    try:
        with reading("day", day.id):
            doc = DayDoc.model_validate_json(day.document)
    except UnreadableError:  # a press is never lost for the notebook's sake
        return
    of: dict[tuple[str, str], list[EventIn | EventOut]] = defaultdict(list)
    for event in events:
        plan = event.of.plan
        if event.kind in WORKED and plan is not None and plan in doc.plans:
            of[plan, date_of(doc, event.minute)].append(event)
    for (plan, on), pressed in of.items():
        try:
            with reading("plan", plan):
                row = plans.get(tx, plan)
                document = Plan.model_validate_json(row.document)
        except (MissingError, UnreadableError):
            continue
        begun = sessions.at_booth(tx, day=day.id, plan=plan, date=on) is not None
        room = measured or RoomThen(**document.room.model_dump(), measured=False)
        sessions.keep(
            tx,
            SessionRow(
                id=uuid.uuid4().hex,
                kind="booth",
                date=on,
                began_at=min(e.at for e in pressed),
                ended_at=max(e.at for e in pressed),
                name=document.name,
                day=day.id,
                plan=plan,
                document=row.document,
                mesh=document.piece.mesh,
                planned="{}" if begun else json.dumps(_planned(day)),
                room=room.model_dump_json(),
            ),
        )


def _planned(day: DayRow) -> Mapping[str, float]:
    """Minutes [min] of each stretch as the day is laid, from the end of the one before it."""
    if day.laid is None:
        return {}
    try:
        with reading("day", day.id):
            laid = Drawn.model_validate_json(day.laid)
    except UnreadableError:
        return {}
    found: dict[str, float] = {}
    last: dict[int, float] = {}
    for row in sorted(laid.rows, key=lambda r: r.from_min):
        if row.kind == "open":
            last[row.day] = row.to_min
        if row.kind != "work" or row.plan is None:
            continue
        minutes = row.to_min - last.get(row.day, row.from_min)
        last[row.day] = row.to_min
        copies = row.copies_from or [1]
        for first in copies:
            stretch = Stretch(row.plan, row.step or "", row.part, first)
            found[str(stretch)] = round(minutes / len(copies), 2)
    return found


def at_booth(tx: sqlite3.Connection, day: DayRow, *, plan: str, minute: float) -> str | None:
    """The session of a plan a press belongs to; None when there is none."""
    on = date_of(DayDoc.model_validate_json(day.document), minute)
    return sessions.at_booth(tx, day=day.id, plan=plan, date=on)
