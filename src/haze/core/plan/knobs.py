"""Numbers a painter sets, within what the spray model accepts: one range for every edge.

`DIALS` are those of them a hand turns at the booth, with the step it can turn them by.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field

from haze.core.spray.setting import RANGES


def _within(name: str) -> Any:
    low, high, _ = RANGES[name]
    return Field(ge=low, le=high)


ThinnerParts = Annotated[float, _within("thinner_parts")]
FlowAidParts = Annotated[float, _within("flow_aid_parts")]
RetarderParts = Annotated[float, _within("retarder_parts")]
Needle = Annotated[float, _within("needle_mm")]
Trigger = Annotated[float, _within("trigger")]
Pressure = Annotated[float, _within("pressure_psi")]
Distance = Annotated[float, _within("distance_mm")]
Speed = Annotated[float, _within("speed_mm_s")]
Temperature = Annotated[float, _within("temperature_c")]
Humidity = Annotated[float, _within("humidity_pct")]
Rest = Annotated[float, _within("rest_s")]
Passes = Annotated[int, _within("passes")]


@dataclass(frozen=True, slots=True)
class Dial:
    """A knob as a hand turns it: what it is called, from where to where, and by what step."""

    label: str
    low: float
    high: float
    step: float


def _dial(name: str, label: str, step: float) -> Dial:
    low, high, _ = RANGES[name]
    return Dial(label, low, high, step)


DIALS: dict[str, Dial] = {
    "pressure_psi": _dial("pressure_psi", "Pressure", 0.5),
    "thinner_parts": _dial("thinner_parts", "Thinner to paint", 0.25),
    "trigger": _dial("trigger", "Trigger stop", 0.01),
    "distance_mm": _dial("distance_mm", "Distance", 5.0),
    "speed_mm_s": _dial("speed_mm_s", "Speed of the hand", 5.0),
    "retarder_parts": _dial("retarder_parts", "Retarder to paint", 0.02),
    "rest_s": _dial("rest_s", "Rest between passes", 1.0),
}


def by_hand(knob: str, value: float, to: float) -> float:
    """Where a hand can set a knob that advice moves: the next step beyond `to`.

    Advice stops where the setting becomes clean, so a step short of it would not be.

    Parameters
    ----------
    knob : one of `DIALS`
    value : float, where the knob stands, in its own unit
    to : float, where advice wants it, in its own unit
    """
    dial = DIALS[knob]
    steps = to / dial.step
    # a step away from `to` by no more than the arithmetic is `to`
    whole = math.ceil(steps - 1e-9) if to > value else math.floor(steps + 1e-9)
    return min(dial.high, max(dial.low, round(whole * dial.step, 6)))
