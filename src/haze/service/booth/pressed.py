"""What was pressed at the booth, and how it stands: for each count of each step the last word.

Tabs and lost connections make events come late, twice and in another order. So an event names what
it is about (a step, and which count of it) and its own moment; of all that name the same thing the
last one holds. Two tabs that press the same count have pressed it once.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from haze.core.spray.calibrate import Look
from haze.core.spray.trouble import Symptom
from haze.service.booth.step_id import StepId, StepText, parse
from haze.service.forms.moments import Minute, PressedAt
from haze.service.forms.records import Unreadable, readable
from haze.service.forms.wire import Identity, Kept, Strict
from haze.store.booth import EventRow

EventId = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,64}$")]
# done and undone are about a count of a step, skipped and redone about all of it
Kind = Literal[
    "done",
    "tried",
    "undone",
    "skipped",
    "redone",
    "waiting",
    "problem",
    "turned",
    "wrong",
    "right",
]
MOST_EVENTS = 500
MOST_NUMBER = 100_000


class EventIn(Strict):
    """One press as the browser tells it.

    `look` is what a card looked like (tried), `symptom` what was seen (problem), `knob` and `to`
    what was turned for it, in `plan` and `coat`; `copy_number` is the copy that went wrong.
    """

    id: EventId
    at: PressedAt
    minute: Minute
    kind: Kind
    step: StepText
    number: int = Field(default=0, ge=0, le=MOST_NUMBER)
    look: Look | None = None
    symptom: Symptom | None = None
    knob: Annotated[str, Field(max_length=40)] | None = None
    to: float | None = Field(default=None, ge=-1e6, le=1e6)
    plan: Identity | None = None
    coat: Identity | None = None
    copy_number: int | None = Field(default=None, ge=1, le=200)

    @property
    def of(self) -> StepId:
        """The step it is about."""
        return parse(self.step)


class EventOut(Kept):
    """One press as it is stored; `seq` is its place among all."""

    seq: int
    id: str
    at: PressedAt
    minute: Minute
    kind: Kind
    step: StepText
    number: int
    look: Look | None = None
    symptom: Symptom | None = None
    knob: str | None = None
    to: float | None = None
    plan: str | None = None
    coat: str | None = None
    copy_number: int | None = None

    @property
    def of(self) -> StepId:
        """The step it is about."""
        return parse(self.step)


TEACHING = ("tried", "undone")  # what is learned from when it comes
DETAILS = ("look", "symptom", "knob", "to", "plan", "coat", "copy_number")


def row_of(day: str, event: EventIn) -> EventRow:
    """An event as it is stored."""
    details = {name: getattr(event, name) for name in DETAILS if getattr(event, name) is not None}
    return EventRow(
        id=event.id,
        day=day,
        at=event.at,
        minute=event.minute,
        kind=event.kind,
        step=event.step,
        number=event.number,
        told=json.dumps(details),
        taught=int(event.kind not in TEACHING),
    )


def event_of(row: EventRow) -> EventOut:
    """A stored event."""
    return EventOut.model_validate(
        {
            "seq": row.seq,
            "id": row.id,
            "at": row.at,
            "minute": row.minute,
            "kind": row.kind,
            "step": row.step,
            "number": row.number,
            **json.loads(row.told),
        }
    )


@dataclass(frozen=True, slots=True)
class Turned:
    """A knob turned at the booth for the cup of a coat."""

    plan: str
    coat: str
    knob: str
    to: float


@dataclass(frozen=True, slots=True)
class Pressed:
    """How the booth stands.

    `done` are the minutes each count of a step was done at, by step and count; `skipped` the
    minutes steps were skipped at; `turned` what was turned, the first first; `wrong` are the
    copies that went wrong, as plan and number.
    """

    done: Mapping[tuple[str, int], float]
    skipped: Mapping[str, float]
    turned: tuple[Turned, ...]
    wrong: frozenset[tuple[str, int]]

    def over(self, step: str, count: int) -> bool:
        """Whether a step of so many counts is over."""
        return step in self.skipped or all((step, n) in self.done for n in range(count))

    def minutes(self, step: str, count: int) -> list[float]:
        """When each count of a step that is over was done."""
        at = [self.done[step, n] for n in range(count) if (step, n) in self.done]
        return at + ([self.skipped[step]] if step in self.skipped else [])


def pressed(events: Iterable[EventOut]) -> Pressed:
    """How the booth stands after all events, whatever their order of coming."""
    found = _Fold()
    for e in sorted(events, key=lambda e: (e.at, e.id)):
        found.take(e)
    return Pressed(found.done, found.skipped, tuple(found.turned.values()), frozenset(found.wrong))


class _Fold:
    """The booth after the presses taken so far."""

    def __init__(self) -> None:
        self.done: dict[tuple[str, int], float] = {}
        self.skipped: dict[str, float] = {}
        self.turned: dict[tuple[str, str, str], Turned] = {}
        self.wrong: set[tuple[str, int]] = set()

    def take(self, e: EventOut) -> None:
        if e.kind in ("done", "tried"):
            self.done[e.step, e.number] = e.minute
        elif e.kind == "undone":
            self.done.pop((e.step, e.number), None)
            self.skipped.pop(e.step, None)
        elif e.kind == "skipped":
            self.skipped[e.step] = e.minute
        elif e.kind == "redone":
            self.skipped.pop(e.step, None)
            self.done = {key: at for key, at in self.done.items() if key[0] != e.step}
        elif e.kind == "turned":
            self._turn(e)
        elif e.kind in ("wrong", "right") and e.plan and e.copy_number:
            which = e.plan, e.copy_number
            (self.wrong.add if e.kind == "wrong" else self.wrong.discard)(which)

    def _turn(self, e: EventOut) -> None:
        if e.plan and e.coat and e.knob and e.to is not None:
            key = e.plan, e.coat, e.knob
            self.turned.pop(key, None)  # the last turn comes last
            self.turned[key] = Turned(e.plan, e.coat, e.knob, e.to)


def events_of(rows: Sequence[EventRow]) -> list[EventOut]:
    """Stored events that can be read; the others have no say in how the booth stands."""
    return readable(rows, event_of, named).views


def named(row: EventRow) -> Unreadable:
    """What can be said of a stored event without reading it."""
    return Unreadable(kind="booth_event", id=row.id, name=f"A press, {row.kind}", at=row.at)
