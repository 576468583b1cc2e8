"""A compressor with its regulator: what it is set to, what stands at the airbrush, how it fares."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, replace
from math import exp
from typing import Literal, Protocol

from haze.core.errors import require_range

MOST_PSI = 60.0
CUT_IN_PSI, CUT_OUT_PSI = 45.0, 58.0  # the motor runs between (a common small tank)
FILL_PSI_S = 0.45  # what the motor adds to the tank
DRAW_PSI_S = 0.30  # what an open airbrush takes from it
SETTLE_S = 0.8  # the line follows the regulator so quickly
SAG_SHARE = 0.03  # a sound regulator gives way by so much while it sprays
WEAK_SHARE = 0.16  # a worn one by so much
LEAK_PSI_S = 0.25
HOT_AFTER_S = 15 * 60.0  # of motor in the last half hour: then it wants a rest
DUTY_OVER_S = 30 * 60.0
DAMP_PER_S = 1 / (90 * 60.0)  # moisture the trap gathers while the motor runs
STEP_S = 0.25
CompressorFault = Literal["none", "sag", "leak", "hot", "wet"]


@dataclass(frozen=True, slots=True)
class CompressorReading:
    """What the gauges say.

    Parameters
    ----------
    set_psi : float [psi], of the regulator
    line_psi : float [psi], at the airbrush
    tank_psi : float [psi]
    motor : whether it runs
    duty_share : float [0..1], of the last half hour the motor ran
    moisture : float [0..1], of what the trap holds
    spraying : whether the trigger is down
    """

    set_psi: float
    line_psi: float
    tank_psi: float
    motor: bool
    duty_share: float
    moisture: float
    spraying: bool


class CompressorDevice(Protocol):
    """What Haze asks of a compressor."""

    def read(self) -> CompressorReading:
        """What the gauges say now."""

    def set_psi(self, psi: float) -> None:
        """Turn the regulator; `OutOfRangeError` beyond what it takes."""


class SimulatedCompressor:
    """A small tank compressor worked out step by step from when it was last asked."""

    def __init__(self, clock: Callable[[], float]) -> None:
        """`clock` gives seconds that only grow."""
        self._clock = clock
        self._lock = threading.Lock()
        self._at = clock()
        self._duty_s = 0.0
        self._stopped_hot = False
        self.fault: CompressorFault = "none"
        self._now = CompressorReading(20.0, 20.0, CUT_OUT_PSI, False, 0.0, 0.1, False)

    def read(self) -> CompressorReading:
        """What the gauges say now."""
        with self._lock:
            until = self._clock()
            # after a long silence everything has settled; the last minutes tell where
            self._at = max(self._at, until - 600.0)
            while self._at + STEP_S <= until:
                self._step()
                self._at += STEP_S
            return self._now

    def set_psi(self, psi: float) -> None:
        """Turn the regulator."""
        require_range("set_psi", psi, 0.0, MOST_PSI, "psi")
        self.read()
        with self._lock:
            self._now = replace(self._now, set_psi=psi)

    def spray(self, *, spraying: bool) -> None:
        """Open or close the airbrush."""
        self.read()
        with self._lock:
            self._now = replace(self._now, spraying=spraying)

    def drain(self) -> None:
        """Let the water out."""
        self.read()
        with self._lock:
            self._now = replace(self._now, moisture=0.0)

    def _step(self) -> None:
        now = self._now
        tank = now.tank_psi - (DRAW_PSI_S * STEP_S if now.spraying else 0.0)
        tank -= LEAK_PSI_S * STEP_S if self.fault == "leak" else 0.0
        motor = self._motor(now.motor, tank)
        tank = min(max(tank + (FILL_PSI_S * STEP_S if motor else 0.0), 0.0), CUT_OUT_PSI)
        forget = exp(-STEP_S / DUTY_OVER_S)
        self._duty_s = self._duty_s * forget + (STEP_S if motor else 0.0)
        gives = WEAK_SHARE if self.fault == "sag" else SAG_SHARE
        wanted = min(now.set_psi * (1 - gives if now.spraying else 1.0), tank)
        line = now.line_psi + (wanted - now.line_psi) * (1 - exp(-STEP_S / SETTLE_S))
        damp = DAMP_PER_S * STEP_S if motor else 0.0
        moisture = 0.9 if self.fault == "wet" else min(now.moisture + damp, 1.0)
        self._now = replace(
            now,
            line_psi=line,
            tank_psi=tank,
            motor=motor,
            duty_share=min(self._duty_s / DUTY_OVER_S, 1.0),
            moisture=moisture,
        )

    def _motor(self, running: bool, tank: float) -> bool:
        if self.fault == "hot":
            return False
        if self._duty_s > HOT_AFTER_S:
            self._stopped_hot = True
        elif self._duty_s < 0.5 * HOT_AFTER_S:
            self._stopped_hot = False
        if self._stopped_hot:
            return False
        return tank < CUT_OUT_PSI if running else tank < CUT_IN_PSI
