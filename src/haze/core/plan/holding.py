"""Stations told as how to hold the piece for a level airbrush (models.md part 0)."""

from __future__ import annotations

from haze.core.plan.document import Aim

LEVEL = 3.0


def signed_azimuth(azimuth_deg: float) -> float:
    """Azimuth as -180..180 [°]; positive turns the show side to the painter's right."""
    return (azimuth_deg + 180.0) % 360.0 - 180.0


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
    """
    if abs(elevation_deg) > 90.0 - LEVEL:
        return f"{_tip(elevation_deg)}; its turn does not matter"
    return f"{_turn(azimuth_deg)}, {_tip(elevation_deg)}"


AIM_WORDS = {
    "recesses": "into the recesses only",
    "panels": "into the middle of each panel, borders left alone",
    "edges": "along the edges that face up",
    "ramp": "from one end, lifting off toward the other",
    "glow": "round the glow, nearest parts most",
    "part": "over this part only",
}


def aim_words(aim: Aim) -> str:
    """Where an aimed coat goes, in words."""
    words = AIM_WORDS[aim.field]
    return f"everywhere but {words}" if aim.reversed and aim.field != "ramp" else words
