"""The piece as asked colours meet it: light values, points of the show side, and sweeps."""

from __future__ import annotations

from dataclasses import dataclass

from haze.core.arrays import Array, Longs
from haze.core.directions import signed_azimuth
from haze.core.drafting.coats import GROUND, every_side
from haze.core.light.stations import Station
from haze.core.plan.lights import KeyLight

PLACES = (0.05, 0.3, 0.5, 0.75, 0.95)  # light values the colours are judged at
MIDDLE = 2
EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY, PANELS = range(9)  # sweeps; panels are aimed at
AWAY_DEG = 115.0


@dataclass(frozen=True, slots=True)
class Sweep:
    """Where a coat may be swept from, and what a round from all its stations leaves, mist and all.

    `film` (n,) is the film at each point, 1 for a pass square-on.
    """

    stations: tuple[Station, ...]
    film: Array


@dataclass(frozen=True, slots=True)
class Places:
    """The show side of the piece as the colours meet it.

    Attributes
    ----------
    sweeps : in the order EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY; PANELS where panels are
        to fade, which has no stations
    wash, brushed : (n,) float [-], share of a wash's and of a dry brush's full film at each point
    place : (n,) int, number of the place among `PLACES` each point belongs to; None when each point
        stands for one
    """

    sweeps: tuple[Sweep, ...]
    wash: Array
    brushed: Array
    place: Longs | None = None


@dataclass(frozen=True, slots=True)
class Sites:
    """The piece twice: roughly, a point for each light value, and finely, points of each range."""

    rough: Places
    fine: Places


def sweeps_for(light: KeyLight) -> tuple[tuple[Station, ...], ...]:
    """Stations of each sweep: EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY.

    Parameters
    ----------
    light : the plan's key light
    """

    def lit(rise: float, spread: float) -> tuple[Station, ...]:
        return (
            Station(light.azimuth_deg, min(88.0, light.elevation_deg + rise), max(5.0, spread)),
        )

    soft = light.softness_deg
    # the shade of the show side lies a good quarter turn from the light, toward the front
    side = -AWAY_DEG if signed_azimuth(light.azimuth_deg) >= 0 else AWAY_DEG
    return (
        tuple(every_side(25.0, 28.0)),
        GROUND,
        lit(0.0, max(35.0, soft)),
        lit(0.0, soft),
        lit(12.0, 0.8 * soft),
        lit(25.0, 0.55 * soft),
        tuple(every_side(-20.0, 20.0, first_deg=60.0)),
        (Station((light.azimuth_deg + side) % 360.0, -10.0, 20.0),),
    )
