"""The notebook as the painter reads it: sessions, one of them, notes, the trash, and searching."""

from __future__ import annotations

import logging
import re
import sqlite3
from collections import defaultdict
from collections.abc import Container
from functools import lru_cache, partial
from typing import Annotated, NamedTuple

from pydantic import BaseModel, Field, TypeAdapter

from haze.core.plan.base import Strict
from haze.core.plan.document import Plan
from haze.core.spray.calibrate import Look, believe, tables
from haze.core.spray.taught import shifted
from haze.service.booth.pressed import events_of
from haze.service.booth.sessions import date_of, keep_presses
from haze.service.cups.beliefs import Beliefs, can_be_read, named_trial, pair_of
from haze.service.cups.setting import AssessIn
from haze.service.cups.trial_session import RoomThen
from haze.service.day.document import DayDoc
from haze.service.forms.moments import Date, Moment
from haze.service.forms.records import Unreadable, UnreadableError, is_readable, readable, reading
from haze.service.notebook.summary import (
    LOOK_WORDS,
    Opened,
    Summary,
    planned_of,
    summarised,
    words_of,
)
from haze.service.plan.plans import DoneSoFar
from haze.service.work.jobs import NotReadyError
from haze.store import booth, days, photos, plans, sessions, trials
from haze.store.connection import Database, MissingError
from haze.store.photos import PhotoRow
from haze.store.sessions import SessionRow
from haze.store.trials import TrialRow

MOMENT = TypeAdapter(Moment)
MOST_FOUND = 500
LONGEST_QUERY = 200
KEPT_SUMMARIES = 2000
log = logging.getLogger(__name__)


class SessionLine(BaseModel):
    """A session in the list; minutes [min], `planned_min` null where nothing was planned."""

    id: str
    kind: str
    date: Date
    name: str
    what: str
    minutes: float
    planned_min: float | None
    troubles: int
    rating: int | None
    plan: str | None


class PhotoLine(BaseModel):
    """A photo that lies in the trash."""

    id: str
    at: str
    note: str
    name: str


class Notebook(BaseModel):
    """All sessions, the last first, what lies in the trash, and what could not be read."""

    sessions: list[SessionLine]
    trashed: list[SessionLine]
    trashed_photos: list[PhotoLine]
    unreadable: list[Unreadable]


class TrialOfSession(BaseModel):
    """A trial as it was looked at; `counts` is false when it was taken back."""

    id: str
    at: Moment
    paint: str
    paint_name: str
    airbrush: str
    airbrush_name: str
    needle_mm: float
    look: Look
    setting: AssessIn
    counts: bool


class PairTaught(BaseModel):
    """What the trials of a paint through a needle taught, and which they are."""

    paint: str
    paint_name: str
    airbrush: str
    airbrush_name: str
    words: str
    trials: list[str]
    counts: bool


class PhotoView(BaseModel):
    """A photo of a session."""

    id: str
    at: Moment
    width: int
    height: int
    note: str


class SessionView(BaseModel):
    """One session with everything that is known of it; `pictured` when its plan can be shown."""

    line: SessionLine
    began_at: Moment
    ended_at: Moment
    room: RoomThen | None
    told: Summary
    trials: list[TrialOfSession]
    taught: list[PairTaught]
    photos: list[PhotoView]
    note: str
    plan_exists: bool
    has_plan: bool


class MarkBody(Strict):
    """What the painter writes beside a session."""

    note: str = Field(default="", max_length=4000)
    rating: int | None = Field(default=None, ge=1, le=5)


class FindQuery(BaseModel):
    """What is looked for; empty is everything."""

    find: Annotated[str, Field(max_length=LONGEST_QUERY)] = ""


class Telling(NamedTuple):
    """Sessions that could not be read, and those whose piece is not worked out yet, by identity."""

    failed: frozenset[str]
    waiting: frozenset[str]


def everything(db: Database, unreadable: Container[str], find: str = "") -> Notebook:
    """All sessions, or those whose words match.

    Parameters
    ----------
    db : holds them
    unreadable : identities of sessions that `summarise_all` could not sum up
    find : words, each of them or its beginning must be there
    """
    tx = db.connection()
    live, trashed = (
        readable(rows, partial(_line, unreadable=unreadable), named_session)
        for rows in (sessions.live(tx), sessions.trashed(tx))
    )
    lines = live.views
    query = query_of(find)
    if query:
        found = set(sessions.search(tx, query, most=MOST_FOUND))
        lines = [line for line in lines if line.id in found]
    away = readable(photos.trashed(tx), partial(_photo_line, tx), named_session_photo)
    return Notebook(
        sessions=lines,
        trashed=trashed.views,
        trashed_photos=away.views,
        unreadable=[*live.unreadable, *trashed.unreadable, *away.unreadable],
    )


def named_session(row: SessionRow) -> Unreadable:
    """What can be said of a session without reading it."""
    return Unreadable(kind="session", id=row.id, name=row.name, at=row.began_at)


def named_session_photo(row: PhotoRow) -> Unreadable:
    """What can be said of a photo of a session without reading it."""
    return Unreadable(kind="photo", id=row.id, name="A photo", at=row.at)


def _line(row: SessionRow, *, unreadable: Container[str]) -> SessionLine:
    if row.id in unreadable:
        raise UnreadableError("What came of this session could not be worked out.")
    return line_of(row)


def summarise_all(db: Database, opened: Opened) -> Telling:
    """Work out what came of sessions something was done in since it was last summed up.

    Parameters
    ----------
    db : holds sessions
    opened : a plan's piece; `NotReadyError` when it is not worked out yet
    """
    failed, waiting = set(), set()
    for row in sessions.live(db.connection()):
        if _summary(row) is not None:
            continue
        try:
            if not is_readable("session", row.id, partial(_summarise, db, row.id, opened)):
                failed.add(row.id)
        except NotReadyError:
            waiting.add(row.id)
    return Telling(frozenset(failed), frozenset(waiting))


def query_of(find: str) -> str:
    """A painter's words as a query of the full-text search: all of them, by their beginnings.

    Parameters
    ----------
    find : as typed; signs between words say nothing
    """
    return " ".join(f'"{word}"*' for word in re.findall(r"\w+", find))


def _summarise(db: Database, identity: str, opened: Opened) -> Summary:
    row = sessions.one(db.connection(), identity)
    summary = summarised(db, row, opened)
    with db.atomic() as tx:
        words = _words(tx, row, summary)
        sessions.tell(tx, identity, told=summary.model_dump_json(), words=words)
    return summary


def _words(tx: sqlite3.Connection, row: SessionRow, summary: Summary) -> str:
    tried = [
        f"{t.paint_name} {t.airbrush_name} {LOOK_WORDS[t.look]}"  # type: ignore[index]
        for t in trials.of_session(tx, row.id)
    ]
    notes = [p.note for p in photos.of_session(tx, row.id)]
    return words_of(row, summary, tried, notes)


def find_anew(tx: sqlite3.Connection, identity: str) -> None:
    """Let a session be found by the words it has now; what was never summed up is found later."""
    row = sessions.one(tx, identity)
    summary = _summary(row)
    if summary is not None:
        sessions.find_by(tx, identity, words=_words(tx, row, summary))


def _summary(row: SessionRow) -> Summary | None:
    return None if row.told is None else _kept(row.told)


@lru_cache(maxsize=KEPT_SUMMARIES)
def _kept(summary: str) -> Summary | None:
    """A stored summary; None when another Haze wrote it."""
    try:
        return Summary.model_validate_json(summary)
    except ValueError:
        log.info("what came of a session cannot be read; it is worked out again")
        return None


def read_session(row: SessionRow) -> None:
    """Read all that is stored of a session, whole; refused when it cannot be."""
    with reading("session", row.id):
        line_of(row)
        for moment in (row.began_at, row.ended_at):
            MOMENT.validate_python(moment)
        if row.room is not None:
            RoomThen.model_validate_json(row.room)
        if row.document is not None:
            Plan.model_validate_json(row.document)
        planned_of(row)


def line_of(row: SessionRow) -> SessionLine:
    """A session for the list."""
    summary = _summary(row)
    return SessionLine(
        id=row.id,
        kind=row.kind,
        date=row.date,
        name=row.name,
        what=_what(row, summary),
        minutes=summary.minutes if summary else 0.0,
        planned_min=summary.planned_min if summary else None,
        troubles=len(summary.troubles) if summary else 0,
        rating=row.rating,
        plan=row.plan,
    )


def _what(row: SessionRow, summary: Summary | None) -> str:
    if summary is None:
        return ""
    if row.kind == "cards":
        return "one card" if summary.cards == 1 else f"{summary.cards} cards"
    count = len(summary.coats_done)
    steps = "one step" if count == 1 else f"{count} steps"
    if summary.copies > 1:
        return f"{summary.copies_done} of {summary.copies} × {summary.piece} · {steps}"
    return f"{summary.piece} · {steps}"


def _photo_line(tx: sqlite3.Connection, row: PhotoRow) -> PhotoLine:
    return PhotoLine(id=row.id, at=row.at, note=row.note, name=sessions.one(tx, row.session).name)


def one(db: Database, beliefs: Beliefs, identity: str, opened: Opened) -> SessionView:
    """A session with everything that is known of it."""
    with reading("session", identity):
        return _view(db, beliefs, identity, opened)


def _view(db: Database, beliefs: Beliefs, identity: str, opened: Opened) -> SessionView:
    tx = db.connection()
    row = sessions.one(tx, identity)
    summary = _summary(row) or _summarise(db, identity, opened)
    row = sessions.one(tx, identity)
    tried = trials.of_session(tx, identity)
    return SessionView(
        line=line_of(row),
        began_at=row.began_at,
        ended_at=row.ended_at,
        room=None if row.room is None else RoomThen.model_validate_json(row.room),
        told=summary,
        trials=readable(tried, trial_view, named_trial).views,
        taught=taught(beliefs, [t for t in tried if can_be_read(t)]),
        photos=readable(photos.of_session(tx, identity), photo_view, named_session_photo).views,
        note=row.note,
        plan_exists=row.plan is not None and _is_live(tx, row.plan),
        has_plan=row.document is not None,
    )


def photo_view(row: PhotoRow) -> PhotoView:
    """A photo for the screen."""
    return PhotoView(id=row.id, at=row.at, width=row.width, height=row.height, note=row.note)


def _is_live(tx: sqlite3.Connection, plan: str) -> bool:
    try:
        return plans.get(tx, plan).trashed_at is None
    except MissingError:
        return False


def trial_view(row: TrialRow) -> TrialOfSession:
    """A trial for the screen."""
    return TrialOfSession(
        id=row.id,
        at=row.at,
        paint=row.paint,
        paint_name=row.paint_name,
        airbrush=row.airbrush,
        airbrush_name=row.airbrush_name,
        needle_mm=row.needle_mm,
        look=row.look,
        setting=AssessIn.model_validate_json(row.setting),
        counts=row.taken_back_at is None,
    )


def taught(beliefs: Beliefs, tried: list[TrialRow]) -> list[PairTaught]:
    """What trials taught, for each paint through each needle.

    Parameters
    ----------
    beliefs : of all trials
    tried : those of a session, taken back or not
    """
    of: dict[tuple[str, str, float], list[TrialRow]] = defaultdict(list)
    for row in tried:
        of[row.paint, row.airbrush, row.needle_mm].append(row)
    return [_taught(beliefs, rows) for rows in of.values()]


def _taught(beliefs: Beliefs, rows: list[TrialRow]) -> PairTaught:
    first = rows[0]
    counting = [r.id for r in rows if r.taken_back_at is None]
    return PairTaught(
        paint=first.paint,
        paint_name=first.paint_name,
        airbrush=first.airbrush,
        airbrush_name=first.airbrush_name,
        words=_taught_words(beliefs, first, counting, len(rows)),
        trials=[r.id for r in rows],
        counts=bool(counting),
    )


def _taught_words(beliefs: Beliefs, first: TrialRow, counting: list[str], all_of: int) -> str:
    who = f"{first.paint_name} in the {first.airbrush_name}"
    if not counting:
        gone = "its trial was" if all_of == 1 else f"its {all_of} trials were"
        return f"{who}: {gone} taken back and teach nothing."
    pair = pair_of(first)
    nothing = believe([], tables())
    before = beliefs.without(pair, *counting) or nothing
    after = beliefs.of(pair) or nothing
    moved = shifted(before.gaussian, after.gaussian)
    count = "One trial says so." if len(counting) == 1 else f"{len(counting)} trials say so."
    if moved is None:
        return f"{who} fits what was thought of it. {count}"
    return f"{who}: {moved.words}. {count}"


def mark(db: Database, identity: str, body: MarkBody) -> None:
    """Keep a painter's note and rating."""
    with db.atomic() as tx:
        sessions.mark(tx, identity, note=body.note.strip(), rating=body.rating)
        find_anew(tx, identity)


def put_away(db: Database, identity: str, *, trashed: bool) -> None:
    """Into the trash, or out of it; the trials of a session go on counting."""
    with db.atomic() as tx:
        sessions.set_trashed(tx, identity, trashed=trashed)


def empty_trash(db: Database) -> int:
    """Delete sessions and photos in the trash for good; how many went."""
    with db.atomic() as tx:
        gone = photos.empty_trash(tx)
        return gone + sessions.empty_trash(tx)


def done_so_far(db: Database) -> dict[str, DoneSoFar]:
    """How far each plan has been done, by its identity; of those nothing was done of, nothing."""
    finished: dict[str, dict[str, int]] = {}
    last: dict[str, tuple[SessionRow, Summary]] = {}
    for row in sessions.live(db.connection()):
        summary = _summary(row)
        if row.plan is None or summary is None:
            continue
        last.setdefault(row.plan, (row, summary))
        steps = finished.setdefault(row.plan, {})
        for coat in summary.coats:
            steps[coat.id] = steps.get(coat.id, 0) + coat.copies
    found = {}
    for plan, (row, summary) in last.items():
        own = finished[plan]
        count = sum(own.get(c.id, 0) >= summary.copies or c.skipped for c in summary.coats)
        found[plan] = DoneSoFar(
            steps=count, of=len(summary.coats), session=row.id, date=row.date, rating=row.rating
        )
    return found


def plan_then(db: Database, identity: str) -> Plan:
    """The plan of a session as it was; `MissingError` of trial cards, which have none."""
    row = sessions.one(db.connection(), identity)
    if row.document is None:
        raise MissingError("Trial cards have no plan.", field="session")
    with reading("session", identity):
        return Plan.model_validate_json(row.document)


def catch_up(db: Database) -> None:
    """Sessions of days that were pressed before there was a notebook; a day that cannot be read
    keeps its presses."""
    for identity in sessions.days_without(db.connection()):
        is_readable("day", identity, partial(_catch_up, db, identity))


def _catch_up(db: Database, identity: str) -> None:
    events = events_of(booth.since(db.connection(), identity, 0))
    with db.atomic() as tx:
        day = days.one(tx, identity)
        keep_presses(tx, day, events)
        for e in events:
            if e.kind == "tried":
                _adopt(tx, day.id, DayDoc.model_validate_json(day.document), e.id, e.minute)


def _adopt(tx: sqlite3.Connection, day: str, doc: DayDoc, trial: str, minute: float) -> None:
    try:
        row = trials.one(tx, trial)
    except MissingError:
        return
    if row.plan is not None:
        on = date_of(doc, minute)
        own = sessions.at_booth(tx, day=day, plan=row.plan, date=on)
        if own is not None:
            trials.belong(tx, trial, session=own)
