"""What came of a session: planned beside done, troubles, copies, and the words it is found by."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from pydantic import Field, TypeAdapter

from haze.core.errors import HazeError
from haze.core.plan.coat import Coat, HandStep, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.words import airbrush_words
from haze.core.spray.calibrate import Look
from haze.core.spray.trouble import TROUBLES, Symptom
from haze.service.booth.pressed import EventOut, Pressed, events_of, pressed
from haze.service.booth.sessions import WORKED, date_of
from haze.service.booth.step_id import parse
from haze.service.booth.turning import turned_plans
from haze.service.day.document import DayDoc
from haze.service.forms.moments import MOST_MINUTES
from haze.service.forms.records import Unreadable, readable
from haze.service.forms.wire import Kept
from haze.service.piece.onpiece import OnPiece
from haze.service.work.jobs import NotReadyError
from haze.store import booth, days, trials
from haze.store.connection import Database, MissingError
from haze.store.sessions import SessionRow

PLANNED = TypeAdapter(dict[str, Annotated[float, Field(ge=0, le=MOST_MINUTES)]])
Opened = Callable[[Plan], OnPiece]
LOOK_WORDS: dict[Look, str] = {
    "clean": "clean",
    "spiders": "spiders",
    "specks": "specks",
    "dust": "dust",
    "nothing": "nothing came",
    "pooled": "pooled",
    "tip_dry": "tip dried",
}


class TroubleMet(Kept):
    """A problem: on which coat, what was seen, and what was turned for it."""

    coat: str
    symptom: str
    knob: str | None = None
    to: float | None = None


class CoatDone(Kept):
    """A step of the plan as it was planned and as it was done.

    Minutes [min] are from the end of what was done before; rounds are those of the busiest side.
    `copies` are those it was finished on; `done` is null of what was not sprayed.
    """

    id: str
    name: str
    colour: str | None
    planned: SprayAt | None
    planned_rounds: int
    done: SprayAt | None
    done_rounds: int
    planned_min: float
    done_min: float
    copies: int
    skipped: bool
    again: int


class Summary(Kept):
    """What came of a session; of trial cards `coats` is empty and `cards` counts them."""

    minutes: float
    planned_min: float | None
    coats: list[CoatDone]
    copies_done: int
    copies: int
    wrong: list[int]
    troubles: list[TroubleMet]
    cards: int
    piece: str
    airbrush: str

    @property
    def coats_done(self) -> list[CoatDone]:
        """Steps something was finished of."""
        return [c for c in self.coats if c.copies]


@dataclass(frozen=True, slots=True)
class _Pressed:
    """What was pressed until a session ended: `identity` is the plan's in the steps pressed.

    `sitting` is all of the session's day, other plans' too; `mine` the plan's own of it.
    """

    identity: str
    until: list[EventOut]
    sitting: list[EventOut]

    @property
    def mine(self) -> list[EventOut]:
        return [e for e in self.sitting if e.of.plan == self.identity]


def _pressed_in(db: Database, row: SessionRow) -> _Pressed:
    """What was pressed, from the booth, or from the file the session came in."""
    if row.day is None:
        log = readable(json.loads(row.log), EventOut.model_validate, lambda _: _press(row)).views
        return _Pressed(next((e.of.plan for e in log if e.of.plan), ""), log, log)
    tx = db.connection()
    doc = DayDoc.model_validate_json(days.one(tx, row.day).document)
    every = events_of(booth.since(tx, row.day, 0))
    until = [e for e in every if e.at <= row.ended_at]
    return _Pressed(row.plan or "", until, [e for e in every if date_of(doc, e.minute) == row.date])


def _press(row: SessionRow) -> Unreadable:
    return Unreadable(kind="booth_event", id=row.id, name="A press", at=row.began_at)


def log_of(db: Database, row: SessionRow) -> list[EventOut]:
    """What was pressed on the plan of a session, in the order it came.

    Parameters
    ----------
    db : holds what was pressed
    row : the session, whole
    """
    return _pressed_in(db, row).mine


def summarised(db: Database, row: SessionRow, opened: Opened) -> Summary:
    """What came of a session, worked out from what was pressed.

    Parameters
    ----------
    db : holds days, presses and trials
    row : the session, whole
    opened : a plan's piece, for the film after a knob was turned
    """
    if row.kind == "cards" or row.document is None:
        return _of_cards(db, row)
    plan = Plan.model_validate_json(row.document)
    then = _pressed_in(db, row)
    mine = then.mine
    turned = _as_sprayed(plan, then, opened)
    sprayed = {c.id: c for c in turned.sprayed}
    minutes = _minutes(then.sitting)
    planned = planned_of(row)
    # a rest is nothing the hands do
    steps = [s for s in plan.done if s.kind == "spray" or s.role != "rest"]
    coats = [_coat(plan, sprayed, step, mine, minutes, planned) for step in steps]
    wrong = pressed(then.until).wrong
    return Summary(
        minutes=sum(minutes.get(e.id, 0.0) for e in mine),
        planned_min=_planned_min(mine, planned) if planned else None,
        coats=coats,
        copies_done=max((c.copies for c in coats), default=0),
        copies=plan.piece.copies,
        wrong=sorted(n for p, n in wrong if p == then.identity),
        troubles=list(_troubles(plan, mine)),
        cards=sum(e.kind == "tried" for e in mine),
        piece=plan.piece.name,
        airbrush=airbrush_words(plan.airbrush.name, plan.airbrush.needle_mm),
    )


def planned_of(row: SessionRow) -> dict[str, float]:
    """Minutes [min] each stretch of a session was planned to take."""
    return PLANNED.validate_json(row.planned)


def _of_cards(db: Database, row: SessionRow) -> Summary:
    tried = trials.of_session(db.connection(), row.id)
    span = (_moment(row.ended_at) - _moment(row.began_at)).total_seconds() / 60.0
    faults = [t for t in tried if t.look != "clean"]
    return Summary(
        minutes=span,
        planned_min=None,
        coats=[],
        copies_done=0,
        copies=0,
        wrong=[],
        troubles=[TroubleMet(coat=t.paint_name, symptom=LOOK_WORDS[t.look]) for t in faults],  # type: ignore[index]
        cards=len(tried),
        piece="",
        airbrush=airbrush_words(tried[0].airbrush_name, tried[0].needle_mm) if tried else "",
    )


def _moment(at: str) -> datetime:
    return datetime.fromisoformat(at)


def _as_sprayed(plan: Plan, then: _Pressed, opened: Opened) -> Plan:
    """A plan with what was turned at the booth, rounds scaled to the same film."""
    turned = [t for t in pressed(then.until).turned if t.plan == then.identity]
    if turned:
        try:
            return turned_plans([(then.identity, plan, opened(plan))], turned)[0]
        except NotReadyError:
            raise
        except HazeError:
            return plan  # a piece that cannot be worked out leaves it as it was
    return plan


def plan_as_sprayed(db: Database, row: SessionRow, opened: Opened) -> Plan:
    """The plan of a session as it was sprayed; `MissingError` of trial cards, which have none.

    Parameters
    ----------
    db : holds what was pressed
    row : the session, whole
    opened : a plan's piece
    """
    if row.document is None:
        raise MissingError("Trial cards have no plan.", field="session")
    plan = Plan.model_validate_json(row.document)
    return _as_sprayed(plan, _pressed_in(db, row), opened)


def _minutes(events: Sequence[EventOut]) -> dict[str, float]:
    """Minutes [min] each press of a sitting ends, from the one before it; by its identity."""
    found: dict[str, float] = {}
    last: float | None = None
    for e in sorted(events, key=lambda e: (e.minute, e.id)):
        if e.kind in WORKED:
            found[e.id] = 0.0 if last is None else e.minute - last
            last = e.minute
    return found


def _coat(
    plan: Plan,
    sprayed: dict[str, Coat],
    coat: Coat | HandStep,
    mine: Sequence[EventOut],
    minutes: dict[str, float],
    planned: dict[str, float],
) -> CoatDone:
    own = [e for e in mine if e.of.stretch is not None and e.of.stretch.step == coat.id]
    was = coat if coat.kind == "spray" else None
    state = pressed(own)
    copies = _finished(state, "check" if was else "hand")
    now = sprayed.get(coat.id) if copies else None
    return CoatDone(
        id=coat.id,
        name=coat.mix.name if coat.mix else coat.name,
        colour=coat.mix.hex if coat.mix else None,
        planned=was.spray if was else None,
        planned_rounds=was.most_passes if was else 0,
        done=now.spray if now else None,
        done_rounds=now.most_passes if now else 0,
        planned_min=_planned_min(own, planned),
        done_min=sum(minutes.get(e.id, 0.0) for e in own),
        copies=min(copies, plan.piece.copies),
        skipped=bool(state.skipped),
        again=_again(own),
    )


def _planned_min(mine: Iterable[EventOut], planned: dict[str, float]) -> float:
    """Minutes planned for what was worked on."""
    touched = {e.of.entry for e in mine if e.kind in WORKED}
    return sum(minutes for key, minutes in planned.items() if key in touched)


def _finished(state: Pressed, last: str) -> int:
    """Copies a step was finished on: its last step is pressed once for each of a group."""
    done = set()
    for text, number in state.done:
        step = parse(text)
        if step.what == last and step.stretch is not None:
            done.add((step.stretch.copy_from, number))
    return len(done)


def _again(own: Sequence[EventOut]) -> int:
    """How often a coat was restarted: its steps are named one by one, most of them once."""
    times = Counter(e.step for e in own if e.kind == "redone")
    return max(times.values(), default=0)


def _troubles(plan: Plan, mine: Sequence[EventOut]) -> Iterable[TroubleMet]:
    names = {c.id: c.mix.name if c.mix else c.name for c in plan.coats}
    turns = [e for e in mine if e.kind == "turned" and e.coat]
    for e in mine:
        if e.kind != "problem" or e.symptom is None:
            continue
        coat = e.coat or ""
        met = TroubleMet(coat=names.get(coat, coat), symptom=symptom_words(e.symptom))
        after = next((t for t in turns if t.coat == e.coat and t.at >= e.at), None)
        if after is not None:
            met = met.model_copy(update={"knob": after.knob, "to": after.to})
        yield met


def symptom_words(symptom: Symptom) -> str:
    """A symptom as it is said."""
    return TROUBLES[symptom].label


def words_of(row: SessionRow, summary: Summary, tried: Iterable[str], photos: Iterable[str]) -> str:
    """Everything a session may be looked for by.

    Parameters
    ----------
    row : the session
    summary : what came of it
    tried : words of its trials
    photos : notes of its photos
    """
    document = Plan.model_validate_json(row.document) if row.document else None
    paints = [p.name for c in document.done if c.mix for p in c.mix.paints] if document else []
    steps = [c.name for c in document.done] if document else []
    troubles = [t.symptom for t in summary.troubles]
    parts = [row.name, summary.piece, summary.airbrush, *paints, *steps, *troubles, *tried, *photos]
    return "\n".join([*dict.fromkeys(parts), row.note])
