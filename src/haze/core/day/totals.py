"""A day in sum: hands, waits, sittings and nights, never one sum of hands and nights."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, hypot, log

import numpy as np

from haze.core.arrays import Array
from haze.core.day.alike import Alike
from haze.core.day.runsheet import Step
from haze.core.spray.unsure import HIGH, LOW

NIGHT_FROM_S = 6 * 3600.0  # nobody stays at the bench for a wait so long (judged)
HANDS_FACTOR = 1.3  # a quick hand and a slow one differ by about that, both ways (judged)
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")


@dataclass(frozen=True, slots=True)
class DayTotals:
    """Hands, waits at the bench, and all from the first step to the last, nights too [s].

    Low to high holds hands and waits in eight of ten hands and airbrushes alike. `sittings` is how
    often one sits down; `nights` the long waits between.
    """

    hands_s: float
    hands_low_s: float
    hands_high_s: float
    waits_s: float
    waits_low_s: float
    waits_high_s: float
    elapsed_s: float
    sittings: int

    @property
    def nights(self) -> int:
        """Long waits between the sittings."""
        return self.sittings - 1


def day_totals(steps: Sequence[Step], alike: Mapping[str, Alike]) -> DayTotals:
    """The sums of a run sheet.

    Parameters
    ----------
    steps : of the run sheet, in order
    alike : of each sprayed coat by its id
    """
    if not steps:
        return DayTotals(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0)
    hands = sum(s.seconds - s.idle_s for s in steps if not s.beside)
    ends = max(s.start_s + s.seconds for s in steps)
    long = [s.seconds for s in steps if s.beside and s.seconds >= NIGHT_FROM_S]
    waits = max(0.0, ends - hands - sum(long))
    more_hands, more_waits = np.zeros(1), np.zeros(1)
    rinsed = {s.coat: s.seconds for s in steps if s.kind == "rinse"}
    for step in steps:
        if step.kind == "spray":
            times = alike[step.coat].rounds - 1
            more_hands = more_hands + (step.seconds - step.idle_s) * times
            more_waits = more_waits + step.idle_s * times
        elif step.kind == "dry" and step.seconds < NIGHT_FROM_S:
            least = rinsed.get(step.coat, 0.0)
            longer = np.maximum(alike[step.coat].recoat_s, least) - max(step.seconds, least)
            more_waits = more_waits + longer
    hands_low, hands_high = _ends(hands, more_hands, factor=HANDS_FACTOR)
    waits_low, waits_high = _ends(waits, more_waits, factor=1.0)
    return DayTotals(
        hands, hands_low, hands_high, waits, waits_low, waits_high, ends, len(long) + 1
    )


def _ends(middle: float, more: Array, *, factor: float) -> tuple[float, float]:
    """Low and high of a time [s]: the airbrushes' spread and the hand's own, as two that differ."""
    if middle <= 0:
        return 0.0, 0.0
    low, high = np.quantile(np.maximum(middle + more, 0.01 * middle), (LOW, HIGH)) / middle
    return (
        middle * exp(-hypot(log(factor), min(0.0, log(low)))),
        middle * exp(hypot(log(factor), max(0.0, log(high)))),
    )


def _rounded_min(seconds: float) -> int:
    """Minutes as one tells them: to one below ten, five below two hours, fifteen above."""
    step = 1 if seconds < 600 else 5 if seconds < 2 * 3600 else 15
    return max(step, round(seconds / 60 / step) * step) if seconds > 0 else 0


def long_words(seconds: float) -> str:
    """A long time as a painter says it: to five minutes below two hours, to fifteen above.

    Parameters
    ----------
    seconds : float [s]
    """
    hours, rest = divmod(_rounded_min(seconds), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest:02}" if rest else f"{hours} h"


def range_words(low_s: float, high_s: float) -> str:
    """A long time that is not sure, from and to; once when both read alike.

    Parameters
    ----------
    low_s, high_s : float [s]
    """
    low, high = long_words(low_s), long_words(high_s)
    if low == high:
        return low
    return (
        f"{low.removesuffix(' min')} to {high}" if _both_minutes(low, high) else f"{low} to {high}"
    )


def _both_minutes(low: str, high: str) -> bool:
    return "h" not in low and "h" not in high


def totals_words(totals: DayTotals) -> str:
    """The sums in words.

    Parameters
    ----------
    totals : of a run sheet
    """
    hands = range_words(totals.hands_low_s, totals.hands_high_s)
    return f"Hands {hands}, {waits_words(totals)}"


def waits_words(totals: DayTotals) -> str:
    """What is waited for, and how often one sits down.

    Parameters
    ----------
    totals : of a run sheet
    """
    words = f"waits {range_words(totals.waits_low_s, totals.waits_high_s)}"
    if totals.nights < 1:
        return f"{words}, in one sitting."
    nights = f"{_number(totals.nights)} night{'' if totals.nights == 1 else 's'}"
    return f"{words}; {_number(totals.sittings)} sittings, {nights} between."


def _number(count: int) -> str:
    return NUMBERS[count] if count < len(NUMBERS) else str(count)
