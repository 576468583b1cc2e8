"""A ladder in words: how far each rung reaches, what is uneven, chalky or turns."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from haze.core.film.ladder import EVEN, Ladder
from haze.core.film.ladder_ends import CHALK_WARNS

COVERS = (0.9, 0.5, 0.33, 0.2, 0.08)  # most, half, a third, a fifth, a touch (P10)
TURN_WARNS_DEG = 12.0
END_OFF = 0.03  # OKLab an end may lie off before it counts as out of reach
T = TypeVar("T")


def covers_of(rungs: int) -> list[float]:
    """Share of the surface [-] each rung should still reach, from most to a touch.

    Parameters
    ----------
    rungs : int, how many
    """
    at = np.linspace(0, len(COVERS) - 1, rungs)
    return [round(float(v), 2) for v in np.interp(at, range(len(COVERS)), COVERS)]


def from_the_middle(rungs: Sequence[T]) -> list[T]:
    """Span: begin in the middle, up to the brightest, then down into the darkest.

    Parameters
    ----------
    rungs : dark to light
    """
    middle = len(rungs) // 2
    return [*rungs[middle:], *rungs[:middle][::-1]]


def rung_notes(ladder: Ladder, number: int) -> list[str]:
    """What is wrong with a rung; nothing when it is sound.

    Parameters
    ----------
    ladder : the whole one
    number : int, of the rung, from 0
    """
    rung = ladder.rungs[number]
    middle = float(np.median([r.step for r in ladder.rungs[1:]]))
    notes = []
    if number and rung.step > EVEN * middle:
        notes.append("step too high")
    if rung.chalk > CHALK_WARNS:
        notes.append(f"chalky: {rung.chalk:.0%} of the colour is lost")
    if abs(rung.hue_turn_deg) > TURN_WARNS_DEG:
        notes.append(f"hue turns {abs(rung.hue_turn_deg):.0f}°")
    return notes


def uneven_words(ladder: Ladder) -> str:
    """Why the steps of an uneven ladder are so, and what helps.

    Parameters
    ----------
    ladder : an uneven one
    """
    first, last = ladder.ends_off
    end = "first" if first > last else "last"
    if max(first, last) > END_OFF:
        return (
            f"The steps are uneven: the {end} colour cannot be reached with these paints at this "
            "film. Give more passes, or name another paint."
        )
    return "The steps are uneven: these paints make too few mixes between. Allow more drops."


def left_over_words(left_delta_e: float) -> str:
    """That later films pull a colour too far.

    Parameters
    ----------
    left_delta_e : float [ΔE00], what stays off
    """
    return (
        "The films that come later pull it farther than any paint can make up for: "
        f"{left_delta_e:.0f} stay off. Make them thinner, or aim for a calmer colour."
    )
