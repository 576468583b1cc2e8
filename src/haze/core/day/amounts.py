"""How much to mix: stroke length over the silhouette, and whole drops in pouring order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, pi
from typing import Literal

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from haze.core.arrays import Floats
from haze.core.directions import direction_of
from haze.core.plan.coat import Coat
from haze.core.spray.footprint import STROKE, footprint_sigma_mm
from haze.core.spray.model import Outcome
from haze.core.units import drops_to_ml, ml_to_drops

CUP_REST_ML = 0.15
TRIAL_ML = 0.1
FLOW_AID_DROP_UL = 50.0
OUTLINE_POINTS = 4000
MULTIPLES = 4  # whole multiples of a mix that are tried
Role = Literal["thinner", "paint", "flow_aid"]


@dataclass(frozen=True, slots=True)
class Bottle:
    """What drops come from: its name, its drop [µl], and its colour as "#rrggbb" if it has one."""

    name: str
    drop_ul: float
    colour: str | None = None


@dataclass(frozen=True, slots=True)
class Poured:
    """One thing that goes into the cup, in pouring order."""

    what: str
    role: Role
    drops: int
    ml: float
    colour: str | None


@dataclass(frozen=True, slots=True)
class CoatAmounts:
    """What one coat needs, for all copies; `strokes_s` with the trigger down, for one copy."""

    spray_ml: float
    mix_ml: float
    strokes_s: float
    cup: list[Poured]
    cup_loads: int


@dataclass(frozen=True, slots=True)
class Silhouette:
    """A convex outline as seen from a station: its area and length, in one unit and its square."""

    area: float
    outline: float

    def scaled(self, mm_per_unit: float) -> Silhouette:
        """The same in millimetres.

        Parameters
        ----------
        mm_per_unit : float [mm]
        """
        return Silhouette(self.area * mm_per_unit**2, self.outline * mm_per_unit)


def silhouette_of(vertices: Floats, *, azimuth_deg: float, elevation_deg: float) -> Silhouette:
    """The convex silhouette seen from a station, in the unit of the vertices.

    Parameters
    ----------
    vertices : (n, 3) float32; a few thousand of them are enough and are taken
    azimuth_deg, elevation_deg : float [°]
    """
    some = vertices[:: max(1, len(vertices) // OUTLINE_POINTS)]
    d = direction_of(azimuth_deg, elevation_deg)
    side = np.cross(d, [0.0, 0.0, 1.0])
    if np.linalg.norm(side) < 1e-6:
        side = np.array([1.0, 0.0, 0.0])
    side = side / np.linalg.norm(side)
    top = np.cross(side, d)
    flat = np.asarray(some, dtype=np.float64) @ np.stack([side, top], axis=1)
    try:
        hull = ConvexHull(flat)
    except QhullError:
        return Silhouette(0.0, float(2 * np.ptp(flat, axis=0).max()))
    return Silhouette(float(hull.volume), float(hull.area))  # in 2-D: area and perimeter


def pass_seconds(seen: Silhouette, *, distance_mm: float, speed_mm_s: float) -> float:
    """Time [s] of one pass: the silhouette widened by 2σ all round, strokes √(2π)σ apart.

    The widened area follows Steiner's formula A + 2σP + π(2σ)².

    Parameters
    ----------
    seen : the silhouette in mm
    distance_mm, speed_mm_s : float [mm], [mm/s], of the airbrush
    """
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    widened = seen.area + 2 * sigma * seen.outline + pi * (2 * sigma) ** 2
    return widened / (float(STROKE) * sigma) / speed_mm_s


def aimed_seconds(area_mm2: float, *, distance_mm: float, speed_mm_s: float) -> float:
    """Time [s] of one pass of an aimed coat: its area in strokes √(2π)σ apart.

    Parameters
    ----------
    area_mm2 : float [mm²], surface it goes over
    distance_mm, speed_mm_s : float [mm], [mm/s], of the airbrush
    """
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    return area_mm2 / (float(STROKE) * sigma) / speed_mm_s


def pour(
    paints: Sequence[tuple[Bottle, int]],
    *,
    thinner: Bottle,
    thinner_parts: float,
    flow_aid_parts: float,
    mix_ml: float,
) -> list[Poured]:
    """Whole drops that make at least `mix_ml` at this thinning, thinner first.

    A mix is poured in whole multiples of its drops. Among the first few multiples the one is taken
    whose thinner comes out nearest to a whole drop.

    Parameters
    ----------
    paints : bottles and drops of the mix
    thinner : its bottle
    thinner_parts, flow_aid_parts : float [parts to one of paint, by volume]
    mix_ml : float [ml], least volume in the cup
    """
    unit_ul = sum(drops * bottle.drop_ul for bottle, drops in paints)
    paint_ml = mix_ml / (1 + thinner_parts + flow_aid_parts)
    least = max(1, ceil(ml_to_drops(paint_ml, drop_ul=unit_ul) - 1e-9))
    per_unit = thinner_parts * unit_ul / thinner.drop_ul

    def off(n: int) -> float:
        return abs(per_unit * n - round(per_unit * n)) / max(per_unit * n, 1.0) + 0.004 * n

    units = min(range(least, least + MULTIPLES), key=off)
    aid = Bottle("flow aid", FLOW_AID_DROP_UL)
    rows: list[tuple[Bottle, Role, int]] = [
        (thinner, "thinner", round(per_unit * units)),
        *((bottle, "paint", drops * units) for bottle, drops in paints),
        (aid, "flow_aid", round(flow_aid_parts * units * unit_ul / aid.drop_ul)),
    ]
    return [
        Poured(b.name, role, drops, drops_to_ml(drops, drop_ul=b.drop_ul), b.colour)
        for b, role, drops in rows
        if drops > 0
    ]


def coat_cup(coat: Coat, *, mix_ml: float) -> list[Poured]:
    """What goes into a coat's cup.

    Parameters
    ----------
    coat : gives mix and thinning
    mix_ml : float [ml], least volume in the cup
    """
    return pour(
        [(Bottle(p.name, p.drop_ul, p.masstone), drops) for p, drops in coat.mix.parts],
        thinner=Bottle(coat.thinner.name, coat.thinner.drop_ul),
        thinner_parts=coat.spray.thinner_parts,
        flow_aid_parts=coat.spray.flow_aid_parts,
        mix_ml=mix_ml,
    )


def strokes_seconds(
    coat: Coat, *, silhouettes: Sequence[Sequence[Silhouette]], aimed_mm2: float = 0.0
) -> float:
    """Time [s] with the trigger down, for one copy.

    Parameters
    ----------
    coat : gives passes, distance and speed
    silhouettes : in mm, for each station those of the groups of parts that are sprayed together
    aimed_mm2 : float [mm²], surface an aimed coat goes over
    """
    s = coat.spray
    if coat.aim:
        one = aimed_seconds(aimed_mm2, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s)
        return coat.aim.passes * one
    return sum(
        station.passes
        * sum(
            pass_seconds(seen, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s)
            for seen in groups
        )
        for station, groups in zip(coat.stations, silhouettes, strict=True)
    )


def coat_amounts(
    coat: Coat, *, outcome: Outcome, strokes_s: float, copies: int, cup_ml: float
) -> CoatAmounts:
    """Volume, time and cup of one coat.

    Parameters
    ----------
    coat : what is sprayed
    outcome : of its setting
    strokes_s : float [s], trigger down for one copy
    copies : int
    cup_ml : float [ml], what the cup holds
    """
    spray_ml = float(outcome.flow_ml_min) * strokes_s / 60.0 * copies
    mix_ml = spray_ml + CUP_REST_ML + TRIAL_ML
    loads = max(1, ceil(mix_ml / cup_ml))
    # several loads are mixed alike, each with its own rest in the cup
    load_ml = (spray_ml + TRIAL_ML) / loads + CUP_REST_ML
    cup = coat_cup(coat, mix_ml=load_ml)
    return CoatAmounts(spray_ml, load_ml * loads, strokes_s, cup, loads)
