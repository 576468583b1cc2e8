"""The devices at the bench as the screens see them: read together, driven when simulated."""

from __future__ import annotations

import threading
import time
from collections.abc import Generator
from dataclasses import asdict
from typing import Literal

from pydantic import BaseModel, Field

from haze.core.errors import NothingToDoError
from haze.core.plan.base import Strict
from haze.core.plan.knobs import Humidity, Temperature
from haze.devices.compressor import MOST_PSI, CompressorFault, SimulatedCompressor
from haze.devices.pedal import Press, SimulatedPedal
from haze.devices.room import RoomFault, SimulatedRoom
from haze.service.work.jobs import LOOK_EVERY_S

SAGS_SHARE = 0.05  # of the set point: so much less while spraying is more than a sound line
DAMP = 0.6  # of the trap: from here it should be drained
BUSY = 0.45  # of the last half hour: from here the motor wants a rest


class CompressorView(BaseModel):
    """What the gauges say; `warnings` are sentences of what needs the painter."""

    set_psi: float
    line_psi: float
    tank_psi: float
    motor: bool
    duty_share: float
    moisture: float
    spraying: bool
    sags: bool
    fault: CompressorFault
    warnings: list[str]


class RoomView(BaseModel):
    """What the sensor measures."""

    temperature_c: float
    humidity_pct: float


class DevicesView(BaseModel):
    """All devices as they stand; null what is not there or does not answer."""

    simulated: bool
    compressor: CompressorView | None
    room: RoomView | None
    room_fault: RoomFault
    presses: int
    last_press: Press


class DriveBody(Strict):
    """What the panel drives the simulated devices to; what is null stays as it is."""

    set_psi: float | None = Field(default=None, ge=0, le=MOST_PSI)
    spraying: bool | None = None
    drain: bool = False
    compressor_fault: CompressorFault | None = None
    temperature_c: Temperature | None = None
    humidity_pct: Humidity | None = None
    at_once: bool = True
    room_fault: RoomFault | None = None
    press: Literal["short", "long"] | None = None


class Devices:
    """The devices of one bench."""

    def __init__(self) -> None:
        self.compressor = SimulatedCompressor(time.monotonic)
        self.room = SimulatedRoom(time.monotonic)
        self.pedal = SimulatedPedal()
        self.on = False
        self._changed = threading.Condition()
        self._closed = False

    def switch(self, *, on: bool) -> None:
        """Whether the simulated devices are there."""
        self.on = on
        self._tell()

    def view(self) -> DevicesView:
        """All devices as they stand."""
        pressed = self.pedal.read()
        if not self.on:
            return DevicesView(
                simulated=False,
                compressor=None,
                room=None,
                room_fault="none",
                presses=pressed.presses,
                last_press=pressed.last,
            )
        room = self.room.read()
        return DevicesView(
            simulated=True,
            compressor=self._compressor(),
            room=None if room is None else RoomView(**asdict(room)),
            room_fault=self.room.fault,
            presses=pressed.presses,
            last_press=pressed.last,
        )

    def _compressor(self) -> CompressorView:
        said = self.compressor.read()
        warnings = []
        if said.moisture >= DAMP:
            warnings.append("Water in the trap: drain it, or it spits.")
        if said.duty_share >= BUSY:
            warnings.append("The motor has run for long: let it rest before it stops by itself.")
        if said.tank_psi < said.set_psi:
            warnings.append("The tank is below what the regulator is set to: wait, or find a leak.")
        last = {
            name: round(v, 2) if isinstance(v, float) else v for name, v in asdict(said).items()
        }
        sags = said.spraying and said.line_psi < said.set_psi * (1 - SAGS_SHARE)
        return CompressorView(**last, sags=sags, fault=self.compressor.fault, warnings=warnings)

    def drive(self, body: DriveBody) -> DevicesView:
        """Drive the simulated devices; `NothingToDoError` while they are switched off."""
        if not self.on:
            raise NothingToDoError("The simulated devices are switched off: switch them on first.")
        if body.set_psi is not None:
            self.compressor.set_psi(body.set_psi)
        if body.spraying is not None:
            self.compressor.spray(spraying=body.spraying)
        if body.drain:
            self.compressor.drain()
        if body.compressor_fault is not None:
            self.compressor.fault = body.compressor_fault
        if body.room_fault is not None:
            self.room.fault = body.room_fault
        if body.temperature_c is not None and body.humidity_pct is not None:
            self.room.drive(body.temperature_c, body.humidity_pct, at_once=body.at_once)
        if body.press is not None:
            self.pedal.press(body.press)
        self._tell()
        return self.view()

    def _tell(self) -> None:
        with self._changed:
            self._changed.notify_all()

    def listen(self) -> Generator[DevicesView | None, None, None]:
        """All devices now and whenever they change; None when nothing does for a while."""
        last: DevicesView | None = None
        while not self._closed:
            now = self.view()
            yield now if now != last else None
            last = now
            with self._changed:
                self._changed.wait(timeout=LOOK_EVERY_S)

    def close(self) -> None:
        """Let everybody go."""
        self._closed = True
        self._tell()
