"""What lies between two cups of an airbrush: the table of rinses (models.md part E, P27)."""

from __future__ import annotations

from haze.core.day.cleaning import LIGHTER_BY, RINSE_S, THOROUGH_S, TO_LIGHT_S
from haze.core.day.schedule.problem import Task

CARRIED_MIN = 0.5  # inside a ladder the rest goes into the next cup
THOROUGH_MIN = THOROUGH_S / 60.0


def rinse_min(last: Task, following: Task, *, carried: bool) -> float:
    """Minutes to clean an airbrush between two cups.

    Parameters
    ----------
    last : in the cup now
    following : what is poured next
    carried : it is the next step of the same lane
    """
    if carried and last.carry:
        return CARRIED_MIN
    if last.key == following.key:
        return RINSE_S / 60.0
    if last.metal or last.sticky or last.chemistry != following.chemistry:
        return THOROUGH_MIN
    lighter = following.light - last.light >= LIGHTER_BY
    return (TO_LIGHT_S if lighter else RINSE_S) / 60.0
