"""Presses checked against the day and the plans they speak of, before any of them is stored."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property

from haze.core.errors import HazeError
from haze.core.plan.document import Plan
from haze.core.plan.knobs import DIALS
from haze.service.booth.pressed import EventIn, EventOut
from haze.service.day.document import DayDoc, Drawn
from haze.service.forms.records import UnreadableError, reading
from haze.store import plans
from haze.store.connection import MissingError
from haze.store.days import DayRow


class UnknownStepError(HazeError):
    """A press that is about nothing in its day or its plan."""

    code = "unknown_step"


class OtherDayError(HazeError):
    """A press whose name is that of another one, pressed on another day."""

    code = "other_day"


@dataclass(frozen=True)
class KnownSteps:
    """What a press may be about in one plan: its steps, and how many copies there are.

    A plan that cannot be read is not known: no press is lost for that.
    """

    steps: frozenset[str]
    copies: int
    known: bool = True

    @classmethod
    def of(cls, plan: Plan) -> KnownSteps:
        """What a plan has."""
        return cls(frozenset(step.id for step in plan.coats), plan.piece.copies)

    def joined(self, other: KnownSteps) -> KnownSteps:
        """What either has: a day may have been planned before the plan was changed."""
        return KnownSteps(
            self.steps | other.steps, max(self.copies, other.copies), self.known and other.known
        )


@dataclass(frozen=True)
class OfDay:
    """A stored day, with the plans it speaks of as they are stored now."""

    tx: sqlite3.Connection
    row: DayRow

    @cached_property
    def plans(self) -> Mapping[str, KnownSteps] | None:
        """What may be pressed, by plan: as the plans are, and as the day was planned with them.

        None when the day cannot be read: a press is never lost for that.
        """
        try:
            with reading("day", self.row.id):
                asked = DayDoc.model_validate_json(self.row.document).plans
        except UnreadableError:
            return None
        found = {plan: self._now(plan) for plan in asked}
        for plan, planned in self._planned().items():
            found[plan] = found[plan].joined(planned) if plan in found else planned
        return found

    def _now(self, plan: str) -> KnownSteps:
        try:
            with reading("plan", plan):
                return KnownSteps.of(Plan.model_validate_json(plans.get(self.tx, plan).document))
        except (MissingError, UnreadableError):
            return KnownSteps(frozenset(), 1, known=False)

    def _planned(self) -> dict[str, KnownSteps]:
        if self.row.laid is None:
            return {}
        try:
            with reading("day", self.row.id):
                laid = Drawn.model_validate_json(self.row.laid)
        except UnreadableError:
            return {}
        steps: dict[str, set[str]] = {plan: set() for plan in laid.plans}
        for row in laid.rows:
            if row.plan is not None and row.step is not None:
                steps.setdefault(row.plan, set()).add(row.step)
        last = {lane.plan: 1 for lane in laid.lanes}
        for lane in laid.lanes:
            last[lane.plan] = max(last[lane.plan], lane.copy_from + lane.copies - 1)
        return {plan: KnownSteps(frozenset(of), last.get(plan, 1)) for plan, of in steps.items()}


def require_known(events: Iterable[EventIn], of_day: OfDay) -> None:
    """Refuse presses that are about nothing in this day, its plans or their steps.

    Parameters
    ----------
    events : as they came
    of_day : the day they were sent for

    Raises
    ------
    UnknownStepError
    """
    for event in events:
        if of_day.plans is not None:
            _require(event, of_day.plans)


def require_of_one_plan(log: Iterable[EventOut]) -> None:
    """Refuse presses of a session that are about more than one plan, or about no knob there is.

    A step need not be in the plan any more: it may have been taken out on the same evening.

    Parameters
    ----------
    log : the presses

    Raises
    ------
    UnknownStepError
    """
    own: str | None = None
    for event in log:
        plan = event.of.plan
        own = own or plan
        if plan is not None and plan != own:
            raise _unknown(event.id, f"plan {plan}, and those before it about {own}")
        _require_knob(event)


def _require(event: EventIn, known: Mapping[str, KnownSteps]) -> None:
    stretch = event.of.stretch
    if stretch is not None:
        _require_step(event.id, known, stretch.plan, stretch.step)
        plan = known[stretch.plan]
        if plan.known and stretch.copy_from > plan.copies:
            raise _unknown(event.id, f"copy {stretch.copy_from}, and there are fewer")
    if event.plan is not None and event.plan in known and event.coat is not None:
        _require_step(event.id, known, event.plan, event.coat)
    elif event.plan is not None and event.plan not in known:
        raise _unknown(event.id, f"plan {event.plan}, which is not in this day")
    _require_knob(event)


def _require_knob(event: EventIn | EventOut) -> None:
    if event.knob is not None and event.knob not in DIALS:
        raise _unknown(event.id, f"the knob {event.knob!r}, which no airbrush has")


def _require_step(identity: str, known: Mapping[str, KnownSteps], plan: str, step: str) -> None:
    if plan not in known:
        raise _unknown(identity, f"plan {plan}, which is not in this day")
    if known[plan].known and step not in known[plan].steps:
        raise _unknown(identity, f"step {step}, which its plan does not have")


def _unknown(identity: str, what: str) -> UnknownStepError:
    return UnknownStepError(
        f"Press {identity} is about {what}. It was not stored.", field=f"events.{identity}"
    )
