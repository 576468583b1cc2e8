"""Whether gauge and room are what the setting was made for; what to change when they are not."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from haze.core.plan.knobs import DIALS
from haze.core.plan.piece import Room
from haze.service.booth.devices import DevicesView
from haze.service.cups.beliefs import Beliefs
from haze.service.cups.setting import assessment
from haze.service.cups.trials import ThroughBody

# a needle trembles, a sensor is a little off: less is not reported (judged)
OFF_PSI, OFF_SHARE = 0.7, 0.05
OFF_C, OFF_PCT = 1.5, 5.0


class DriftOut(BaseModel):
    """What has left what the setting was made for; nothing while all is as planned.

    `knob` and `to` are the one thing to change when it is no longer clean so.
    """

    sign: Literal["clean", "mind", "stop"]
    words: list[str]
    knob: str | None
    to: float | None


def drift(beliefs: Beliefs, body: ThroughBody, devices: DevicesView) -> DriftOut:
    """A setting against gauge and room as they are.

    Parameters
    ----------
    beliefs : of all trials
    body : paint, airbrush and the setting as it was planned
    devices : as they stand
    """
    planned = body.whole
    words: list[str] = []
    update: dict[str, object] = {}
    pressure = _pressure(devices, planned.pressure_psi, words)
    if pressure is not None:
        update["pressure_psi"] = pressure
    room = _room(devices, Room(**planned.room.model_dump()), words)
    if room is not None:
        update["room"] = planned.room.model_copy(update=room)
    if not update:
        return DriftOut(sign="clean", words=[], knob=None, to=None)
    now = body.model_copy(update={"setting": planned.model_copy(update=update)})
    found = assessment(now.sprayed, beliefs.of(body.through))
    if found.verdict == "clean":
        words.append("It stays clean so.")
        return DriftOut(sign="mind", words=words, knob=None, to=None)
    first = next((a for a in found.advice if a.knob in DIALS), None)
    if first is None:
        words.append("It is no longer clean so.")
        return DriftOut(sign="stop", words=words, knob=None, to=None)
    words.append(f"It is no longer clean so: {first.why}.")
    return DriftOut(sign="stop", words=words, knob=first.knob, to=first.by_hand)


def _pressure(devices: DevicesView, planned_psi: float, words: list[str]) -> float | None:
    """The pressure at the airbrush when it is off, in words; None when it is as planned."""
    said = devices.compressor
    if said is None:
        return None
    words.extend(said.warnings)
    off = said.line_psi - planned_psi
    if abs(off) <= max(OFF_PSI, OFF_SHARE * planned_psi):
        return None
    way = "up" if off < 0 else "down"
    if said.sags and off < 0:
        words.append(
            f"The line sags to {said.line_psi:.1f} psi while you spray; planned are "
            f"{planned_psi:.1f}. Turn the regulator up by {-off:.1f} psi."
        )
    else:
        words.append(
            f"The gauge stands at {said.line_psi:.1f} psi, planned are {planned_psi:.1f}. Turn the "
            f"regulator {way} by {abs(off):.1f} psi."
        )
    return max(said.line_psi, 1.0)


def _room(devices: DevicesView, planned: Room, words: list[str]) -> dict[str, float] | None:
    said = devices.room
    if said is None:
        return None
    off_c = said.temperature_c - planned.temperature_c
    off_pct = said.humidity_pct - planned.humidity_pct
    if abs(off_c) <= OFF_C and abs(off_pct) <= OFF_PCT:
        return None
    words.append(
        f"The room has {said.temperature_c:.1f} °C and {said.humidity_pct:.0f} %, planned were "
        f"{planned.temperature_c:.1f} °C and {planned.humidity_pct:.0f} %."
    )
    return {"temperature_c": said.temperature_c, "humidity_pct": said.humidity_pct}
