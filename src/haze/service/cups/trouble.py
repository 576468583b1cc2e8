"""From a symptom to its cause and the knob to turn, as JSON for the command line and the web."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from haze.core.plan.base import Strict
from haze.core.plan.knobs import DIALS, by_hand
from haze.core.spray.calibrate import Belief, believe, tables
from haze.core.spray.trouble import TROUBLES, Symptom, diagnose
from haze.service.cups.setting import AssessIn, setting_of


class TroubleIn(Strict):
    """What was set and what is seen."""

    setting: AssessIn
    symptom: Symptom


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
    null where it does not know it; `unexpected` says what to look for when it hardly does.
    """

    causes: list[CauseOut]
    expected: float | None
    unexpected: str | None
    repair: str


class SymptomOut(BaseModel):
    id: Symptom
    label: str


class SymptomList(BaseModel):
    symptoms: list[SymptomOut]


def symptoms() -> SymptomList:
    """All that can be seen to be wrong."""
    return SymptomList(
        symptoms=[SymptomOut(id=name, label=one.label) for name, one in TROUBLES.items()]
    )


def trouble(given: TroubleIn, belief: Belief | None = None) -> TroubleOut:
    """`haze trouble`.

    Parameters
    ----------
    given : setting and symptom
    belief : of this paint in this airbrush; None for what the tables say
    """
    known = believe([], tables()) if belief is None else belief
    found = diagnose(setting_of(given.setting), given.symptom, known)
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
            for c in found.causes
        ],
        expected=found.expected,
        unexpected=found.unexpected,
        repair=found.repair,
    )


def _set(knob: str | None, value: float | None, to: float | None) -> float | None:
    if knob is None or value is None or to is None or knob not in DIALS:
        return to
    return by_hand(knob, value, to)
