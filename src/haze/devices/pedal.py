"""A foot pedal: pressed, and held for a second."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Literal, Protocol

Press = Literal["short", "long"]


@dataclass(frozen=True, slots=True)
class PedalReading:
    """How often it was pressed since it is there, and how the last time."""

    presses: int
    last: Press


class Pedal(Protocol):
    """What Haze asks of a pedal."""

    def read(self) -> PedalReading:
        """How often it was pressed."""


class SimulatedPedal:
    """A pedal that is pressed on a panel."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._now = PedalReading(0, "short")

    def read(self) -> PedalReading:
        """How often it was pressed."""
        return self._now

    def press(self, how: Press) -> None:
        """Press it once."""
        with self._lock:
            self._now = PedalReading(self._now.presses + 1, how)
