"""A sensor of the room: temperature and humidity, which drift through an afternoon."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from math import exp, sin, tau
from typing import Literal, Protocol

from haze.core.errors import require_range

DRIFT_S = 240.0  # the room follows what it is driven to
SWAY_C, SWAY_PCT, SWAY_S = 0.3, 1.5, 1500.0  # people, doors, the sun (judged)
RoomFault = Literal["none", "silent"]


@dataclass(frozen=True, slots=True)
class RoomReading:
    """Temperature [°C] and relative humidity [%]."""

    temperature_c: float
    humidity_pct: float


class RoomSensor(Protocol):
    """What Haze asks of a sensor."""

    def read(self) -> RoomReading | None:
        """What it measures now; None when it does not answer."""


class SimulatedRoom:
    """A room that drifts to what it is driven to, and sways a little round it."""

    def __init__(self, clock: Callable[[], float]) -> None:
        """`clock` gives seconds that only grow."""
        self._clock = clock
        self._lock = threading.Lock()
        self._at = self._began = clock()
        self._now = self._to = RoomReading(20.0, 50.0)
        self.fault: RoomFault = "none"

    def read(self) -> RoomReading | None:
        """What it measures now; None when it is silent."""
        if self.fault == "silent":
            return None
        with self._lock:
            at = self._clock()
            share = 1 - exp(-(at - self._at) / DRIFT_S)
            self._at = at
            now, to = self._now, self._to
            self._now = RoomReading(
                now.temperature_c + (to.temperature_c - now.temperature_c) * share,
                now.humidity_pct + (to.humidity_pct - now.humidity_pct) * share,
            )
            sway = sin(tau * (at - self._began) / SWAY_S)
            return RoomReading(
                round(self._now.temperature_c + SWAY_C * sway, 1),
                round(min(max(self._now.humidity_pct - SWAY_PCT * sway, 1.0), 99.0), 1),
            )

    def drive(self, temperature_c: float, humidity_pct: float, *, at_once: bool) -> None:
        """Where the room drifts to, or stands at once; `OutOfRangeError` outside of rooms."""
        require_range("temperature_c", temperature_c, 0.0, 45.0, "°C")
        require_range("humidity_pct", humidity_pct, 1.0, 99.0, "%")
        self.read()
        with self._lock:
            self._to = RoomReading(temperature_c, humidity_pct)
            if at_once:
                self._now = self._to
