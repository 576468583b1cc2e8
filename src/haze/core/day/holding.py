"""Stations told as how to hold the piece for a level airbrush (models.md part 0)."""

from __future__ import annotations

from haze.core.directions import signed_azimuth
from haze.core.plan.coat import Aim
from haze.core.plan.words import AIM_WORDS

LEVEL = 3.0


def _turn(azimuth_deg: float) -> str:
    turn = signed_azimuth(azimuth_deg)
    if abs(turn) < LEVEL:
        return "hold the show side toward you"
    if abs(turn) > 180.0 - LEVEL:
        return "turn the show side away from you"
    return f"turn the show side {abs(turn):.0f}° to your {'right' if turn > 0 else 'left'}"


def _tip(elevation_deg: float) -> str:
    if abs(elevation_deg) < LEVEL:
        return "keep it upright"
    way = "toward" if elevation_deg > 0 else "away from"
    return f"tip the head {abs(elevation_deg):.0f}° {way} the airbrush"


def holding_words(azimuth_deg: float, elevation_deg: float) -> str:
    """One sentence: how to hold the piece so that a level airbrush sprays from this station.

    Straight from above or below the turn no longer matters and is left out.

    Parameters
    ----------
    azimuth_deg : float [°], 0 from the show side, 90 from the painter's left
    elevation_deg : float [°], 0 level, 90 straight above
    """
    if abs(elevation_deg) > 90.0 - LEVEL:
        return f"{_tip(elevation_deg)}; its turn does not matter"
    return f"{_turn(azimuth_deg)}, {_tip(elevation_deg)}"


def aim_words(aim: Aim) -> str:
    """Where an aimed coat goes, in words.

    Parameters
    ----------
    aim : where it goes instead of a sweep
    """
    words = AIM_WORDS[aim.field]
    return f"everywhere but {words}" if aim.reversed and aim.field != "ramp" else words
