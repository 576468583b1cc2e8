"""The piece as asked colours meet it: light values, points of the show side, and sweeps."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from haze.core.arrays import Array, Longs
from haze.core.directions import signed_azimuth
from haze.core.drafting.coats import GROUND, every_side
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim
from haze.core.plan.lights import KeyLight

PLACES = (0.05, 0.3, 0.5, 0.75, 0.95)  # light values the colours are judged at
MIDDLE = 2
EVERY, BASE, WIDE, LIGHT, HIGH, TOP, BELOW, AWAY, PANELS = range(9)  # sweeps; panels are aimed at
END_WIDE, END, START_WIDE, START = range(9, 13)  # toward an end of a gradient, or a part of the way
# where on the way from 0 to 1 a ramp toward each begins and is full
RAMPS = {END_WIDE: (0.0, 1.0), END: (0.5, 1.0), START_WIDE: (1.0, 0.0), START: (0.5, 0.0)}
AWAY_DEG = 115.0


@dataclass(frozen=True, slots=True)
class Sweep:
    """Where a coat may be swept from or aimed at, and what a round of it leaves, mist and all.

    `film` (n,) is the film at each point, 1 for a pass square-on. An aimed one has no stations.
    """

    stations: tuple[Station, ...]
    film: Array
    aim: Aim | None = None


@dataclass(frozen=True, slots=True)
class Places:
    """The show side of the piece as the colours meet it.

    Attributes
    ----------
    sweeps : by their number; PANELS where panels are to fade, the last four where a gradient does
        not follow the light
    wash, brushed : (n,) float [-], share of a wash's and of a dry brush's full film at each point
    place : (n,) int, number of the place among `PLACES` each point belongs to; None when each point
        stands for one
    """

    sweeps: Mapping[int, Sweep]
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


def sweeps_facing() -> dict[int, tuple[Station, ...]]:
    """Stations toward what faces up, and what faces down; a grip below leaves room."""
    return {
        END_WIDE: tuple(every_side(50.0, 25.0)),
        END: (Station(0.0, 88.0, 15.0),),
        START_WIDE: tuple(every_side(-25.0, 25.0, first_deg=60.0)),
        START: tuple(every_side(-50.0, 15.0, first_deg=60.0)),
    }
