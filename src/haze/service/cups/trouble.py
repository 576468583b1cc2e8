"""From a symptom to its cause and the knob to turn, as JSON for the command line and the web."""

from __future__ import annotations

from collections.abc import Callable

from pydantic import BaseModel, ConfigDict, Field

from haze.core.plan.base import Identity, Strict
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at
from haze.core.plan.knobs import DIALS, by_hand
from haze.core.spray.calibrate import Belief, believe, tables
from haze.core.spray.setting import Setting
from haze.core.spray.trouble import TROUBLES, Cause, Symptom, diagnose
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.setting import AssessIn, setting_of
from haze.service.cups.trials import ThroughBody
from haze.service.cups.trouble_here import causes_here
from haze.service.piece.onpiece import OnPiece


class TroubleIn(Strict):
    """What was set and what is seen."""

    setting: AssessIn
    symptom: Symptom


class TroubleOfBody(ThroughBody):
    """Trouble with a paint on the shelf in an airbrush; of a plan's coat when both are named."""

    symptom: Symptom
    plan: Plan | None = None
    step: Identity | None = None


class CauseOut(BaseModel):
    """One cause; `knob` null when nothing on the airbrush cures it."""

    model_config = ConfigDict(populate_by_name=True)

    cause: str
    share: float
    knob: str | None
    value: float | None = Field(serialization_alias="from", validation_alias="from")
    to: float | None
    why: str


class TroubleOut(BaseModel):
    """Causes, likeliest first, and how to save the piece.

    `expected` is the share of airbrushes like this one in which the model expects the symptom here,
    null where it does not know it; `unexpected` says what to look for when it hardly does. Shares
    are `measured` where the model or the piece gives them, else they are the trade's order alone.
    """

    causes: list[CauseOut]
    measured: bool
    expected: float | None
    unexpected: str | None
    repair: str


class SymptomOut(BaseModel):
    id: Symptom
    label: str
    repair: str


class SymptomList(BaseModel):
    symptoms: list[SymptomOut]


def symptoms() -> SymptomList:
    """All that can be seen to be wrong."""
    return SymptomList(
        symptoms=[
            SymptomOut(id=name, label=one.label, repair=one.repair)
            for name, one in TROUBLES.items()
        ]
    )


def trouble(given: TroubleIn) -> TroubleOut:
    """`haze trouble`."""
    return _diagnosed(setting_of(given.setting), given.symptom, None, ())


def trouble_of(beliefs: Beliefs, on: Callable[[Plan], OnPiece], body: TroubleOfBody) -> TroubleOut:
    """Trouble with a paint on the shelf, by its trials, and by the piece when it is a plan's coat.

    Parameters
    ----------
    beliefs : of all trials
    on : what plans do on their pieces
    body : what was set, what is seen, and on which plan's coat
    """
    here: tuple[Cause, ...] = ()
    if body.plan is not None and body.step is not None:
        _, coat = coat_at(body.plan, body.step)
        here = causes_here(body.plan, coat, body.symptom, on(body.plan))
    return _diagnosed(body.sprayed, body.symptom, beliefs.of(body.through), here)


def _diagnosed(
    setting: Setting, symptom: Symptom, belief: Belief | None, here: tuple[Cause, ...]
) -> TroubleOut:
    """Causes as the piece shows them, before what the trade's order says."""
    found = diagnose(setting, symptom, believe([], tables()) if belief is None else belief)
    return TroubleOut(
        causes=[
            CauseOut(
                cause=c.cause,
                share=c.share,
                knob=c.knob,
                value=c.value,
                to=_set(c.knob, c.value, c.to),
                why=c.why,
            )
            for c in here or found.causes
        ],
        measured=bool(here) or found.expected is not None,
        expected=found.expected,
        unexpected=found.unexpected,
        repair=found.repair,
    )


def _set(knob: str | None, value: float | None, to: float | None) -> float | None:
    if knob is None or value is None or to is None or knob not in DIALS:
        return to
    return by_hand(knob, value, to)
