"""A day in sum: hands, waits, sittings and nights, never one sum of hands and nights."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from haze.core.day.runsheet import Step

NIGHT_FROM_S = 6 * 3600.0  # nobody stays at the bench for a wait so long (judged)
NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")


@dataclass(frozen=True, slots=True)
class DayTotals:
    """Hands, waits at the bench, and all from the first step to the last, nights too [s].

    `sittings` is how often one sits down; `nights` the long waits between.
    """

    hands_s: float
    waits_s: float
    elapsed_s: float
    sittings: int

    @property
    def nights(self) -> int:
        """Long waits between the sittings."""
        return self.sittings - 1


def day_totals(steps: Sequence[Step]) -> DayTotals:
    """The sums of a run sheet.

    Parameters
    ----------
    steps : of the run sheet, in order
    """
    if not steps:
        return DayTotals(0.0, 0.0, 0.0, 0)
    hands = sum(s.seconds - s.idle_s for s in steps if not s.beside)
    ends = max(s.start_s + s.seconds for s in steps)
    long = [s.seconds for s in steps if s.beside and s.seconds >= NIGHT_FROM_S]
    waits = max(0.0, ends - hands - sum(long))
    return DayTotals(hands, waits, ends, len(long) + 1)


def long_words(seconds: float) -> str:
    """A long time as a painter says it: to five minutes below two hours, to ten above.

    Parameters
    ----------
    seconds : float [s]
    """
    step = 5 if seconds < 2 * 3600 else 10
    minutes = max(step, round(seconds / 60 / step) * step) if seconds > 0 else 0
    hours, rest = divmod(minutes, 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest:02}" if rest else f"{hours} h"


def totals_words(totals: DayTotals) -> str:
    """The sums in words.

    Parameters
    ----------
    totals : of a run sheet
    """
    return f"Hands {long_words(totals.hands_s)}, {waits_words(totals)}"


def waits_words(totals: DayTotals) -> str:
    """What is waited for, and how often one sits down.

    Parameters
    ----------
    totals : of a run sheet
    """
    words = f"waits {long_words(totals.waits_s)}"
    if totals.nights < 1:
        return f"{words}, in one sitting."
    nights = f"{_number(totals.nights)} night{'' if totals.nights == 1 else 's'}"
    return f"{words}; {_number(totals.sittings)} sittings, {nights} between."


def _number(count: int) -> str:
    return NUMBERS[count] if count < len(NUMBERS) else str(count)
