"""Stations as ways to hold the piece for a level airbrush (models.md part 0)."""

from __future__ import annotations

from haze.core.day.hands import round_counts
from haze.core.directions import signed_azimuth
from haze.core.plan.coat import Aim, Coat, StationAt
from haze.core.plan.words import AIM_WORDS

LEVEL = 3.0
OVERHEAD = 70.0
SHOULDER = 25.0
RING = 3  # so many sides at one height go all round


def _turn(azimuth_deg: float) -> str:
    turn = signed_azimuth(azimuth_deg)
    if abs(turn) < LEVEL:
        return "hold the front toward you"
    if abs(turn) > 180.0 - LEVEL:
        return "turn the front away from you"
    return f"turn the front {abs(turn):.0f}° to your {'right' if turn > 0 else 'left'}"


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


def side_name(azimuth_deg: float, elevation_deg: float) -> str:
    """The side a station sprays, as a painter calls it.

    Parameters
    ----------
    azimuth_deg : float [°], 0 from the show side, 90 from the painter's left
    elevation_deg : float [°], 0 level, 90 straight above
    """
    if elevation_deg >= OVERHEAD:
        return "overhead"
    if elevation_deg <= -OVERHEAD:
        return "from below"
    turn = signed_azimuth(azimuth_deg)
    hand = "left" if turn > 0 else "right"
    if abs(turn) <= 22.5:
        return "front"
    if abs(turn) >= 157.5:
        return "back"
    if 67.5 <= abs(turn) <= 112.5:
        return hand
    if abs(turn) > 112.5:
        return f"back {hand}"
    return f"{hand} shoulder" if elevation_deg >= SHOULDER else f"front {hand}"


def side_words(azimuth_deg: float, elevation_deg: float) -> str:
    """From which side, and how high: "from the left shoulder, 45° up".

    Parameters
    ----------
    azimuth_deg : float [°], 0 from the show side, 90 from the painter's left
    elevation_deg : float [°], 0 level, 90 straight above
    """
    name = side_name(azimuth_deg, elevation_deg)
    if name == "from below":
        return name
    if name == "overhead":
        return "from overhead"
    up = f"{abs(elevation_deg):.0f}° {'up' if elevation_deg > 0 else 'down'}"
    return f"from the {name}, {'level' if abs(elevation_deg) < LEVEL else up}"


def rounds_words(coat: Coat) -> str:
    """How many rounds from how many sides: "2 rounds from each of 8 sides".

    Parameters
    ----------
    coat : sprayed or planned
    """
    counts = round_counts(coat)
    if not counts:
        return "no sides yet"
    most, least = max(counts), min(counts)
    rounds = f"{most} round{'' if most == 1 else 's'}"
    if coat.aim:
        return rounds
    if len(counts) == 1:
        one = coat.stations[0]
        return f"{rounds} {side_words(one.azimuth_deg, one.elevation_deg)}"
    if most == least:
        return f"{rounds} from each of {len(counts)} sides"
    return f"{least} to {rounds} from {len(counts)} sides"


def all_sides_words(coat: Coat) -> str:
    """Every side and its rounds, those that go round at one height together.

    Such as "4 rounds all round, 20° up (4 sides); 4 rounds from overhead".

    Parameters
    ----------
    coat : swept from stations
    """
    rings: dict[tuple[int, float], list[StationAt]] = {}
    for s in coat.stations:
        rings.setdefault((s.passes, s.elevation_deg), []).append(s)
    by_rounds: dict[int, list[str]] = {}
    for (rounds, elevation), members in rings.items():
        if len(members) >= RING:
            words = side_words(0.0, elevation).removeprefix("from the front, ")
            sides = [f"all round, {words} ({len(members)} sides)"]
        else:
            sides = [side_words(s.azimuth_deg, s.elevation_deg) for s in members]
        by_rounds.setdefault(rounds, []).extend(sides)
    return "; ".join(
        f"{rounds} round{'' if rounds == 1 else 's'} {', '.join(sides)}"
        for rounds, sides in by_rounds.items()
    )


def aim_words(aim: Aim) -> str:
    """Where an aimed coat goes, in words.

    Parameters
    ----------
    aim : where it goes instead of a sweep
    """
    words = AIM_WORDS[aim.field]
    return f"everywhere but {words}" if aim.reversed and aim.field != "ramp" else words
