"""How much to mix: stroke length over the silhouette, and whole drops in pouring order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, pi

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, QhullError

from haze.core.light.directions import direction_of
from haze.core.plan.document import Coat
from haze.core.plan.painting import mix_of
from haze.core.spray.footprint import STROKE, footprint_sigma_mm
from haze.core.spray.model import Outcome
from haze.core.units import drops_to_ml, ml_to_drops

Floats = NDArray[np.float32]

CUP_REST_ML = 0.15
TRIAL_ML = 0.1
FLOW_AID_DROP_UL = 50.0
OUTLINE_POINTS = 4000


@dataclass(frozen=True, slots=True)
class Poured:
    """One thing that goes into the cup, in pouring order."""

    what: str
    role: str  # thinner | paint | flow_aid
    drops: int
    ml: float
    colour: str | None


@dataclass(frozen=True, slots=True)
class CoatAmounts:
    """What one coat needs, for all copies."""

    spray_ml: float
    mix_ml: float
    strokes_s: float  # time with the trigger down, for one copy
    cup: list[Poured]
    cup_loads: int


def silhouette_mm2(
    vertices_mm: Floats, *, azimuth_deg: float, elevation_deg: float
) -> tuple[float, float]:
    """Area [mm²] and outline [mm] of the convex silhouette seen from a station."""
    d = direction_of(azimuth_deg, elevation_deg)
    side = np.cross(d, [0.0, 0.0, 1.0])
    if np.linalg.norm(side) < 1e-6:
        side = np.array([1.0, 0.0, 0.0])
    side = side / np.linalg.norm(side)
    top = np.cross(side, d)
    flat = np.asarray(vertices_mm, dtype=np.float64) @ np.stack([side, top], axis=1)
    try:
        hull = ConvexHull(flat)
    except QhullError:
        return 0.0, float(2 * np.ptp(flat, axis=0).max())
    return float(hull.volume), float(hull.area)  # in 2-D these are area and perimeter


def pass_seconds(
    vertices_mm: Floats,
    *,
    azimuth_deg: float,
    elevation_deg: float,
    distance_mm: float,
    speed_mm_s: float,
) -> float:
    """Time [s] of one pass: the silhouette widened by 2σ all round, strokes √(2π)σ apart.

    The widened area follows Steiner's formula A + 2σP + π(2σ)².
    """
    area, outline = silhouette_mm2(
        vertices_mm, azimuth_deg=azimuth_deg, elevation_deg=elevation_deg
    )
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    widened = area + 2 * sigma * outline + pi * (2 * sigma) ** 2
    return widened / (float(STROKE) * sigma) / speed_mm_s


def pour(coat: Coat, *, mix_ml: float) -> list[Poured]:
    """Whole drops that make at least `mix_ml` at the coat's thinning, thinner first.

    A mix is poured in whole multiples of its drops. Among the first few multiples the one is taken
    whose thinner comes out nearest to a whole drop.
    """
    parts, aid = coat.spray.thinner_parts, coat.spray.flow_aid_parts
    mix = mix_of(coat) if coat.also else [(coat.paint, 1)]
    unit_ul = sum(drops * paint.drop_ul for paint, drops in mix)
    paint_ml = mix_ml / (1 + parts + aid)
    least = max(1, ceil(ml_to_drops(paint_ml, drop_ul=unit_ul) - 1e-9))
    per_unit = parts * unit_ul / coat.thinner.drop_ul

    def off(n: int) -> float:
        return abs(per_unit * n - round(per_unit * n)) / max(per_unit * n, 1.0) + 0.004 * n

    units = min(range(least, least + 4), key=off)
    rows: list[tuple[str, str, int, float, str | None]] = [
        (coat.thinner.name, "thinner", round(per_unit * units), coat.thinner.drop_ul, None),
        *(
            (paint.name, "paint", drops * units, paint.drop_ul, paint.masstone)
            for paint, drops in mix
        ),
        (
            "flow aid",
            "flow_aid",
            round(aid * units * unit_ul / FLOW_AID_DROP_UL),
            FLOW_AID_DROP_UL,
            None,
        ),
    ]
    return [
        Poured(what, role, drops, drops_to_ml(drops, drop_ul=ul), colour)
        for what, role, drops, ul, colour in rows
        if drops > 0
    ]


def thin_out(vertices_mm: Floats) -> Floats:
    """At most a few thousand points: enough for a convex outline."""
    step = max(1, len(vertices_mm) // OUTLINE_POINTS)
    return vertices_mm[::step]


def aimed_seconds(area_mm2: float, *, distance_mm: float, speed_mm_s: float) -> float:
    """Time [s] of one pass of an aimed coat: its area in strokes √(2π)σ apart."""
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    return area_mm2 / (float(STROKE) * sigma) / speed_mm_s


def coat_amounts(
    coat: Coat,
    *,
    outcome: Outcome,
    groups_mm: Sequence[Floats],
    copies: int,
    cup_ml: float,
    aimed_mm2: float = 0.0,
) -> CoatAmounts:
    """Volume, time and cup of one coat.

    Parameters
    ----------
    groups_mm : (k, 3) float32 [mm] of each group of parts that is sprayed together
    aimed_mm2 : float [mm²], surface an aimed coat goes over
    """
    s = coat.spray
    if coat.aim:
        one = aimed_seconds(aimed_mm2, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s)
        seconds = coat.aim.passes * one
    else:
        outlines = [thin_out(points) for points in groups_mm]
        seconds = sum(
            station.passes
            * pass_seconds(
                points,
                azimuth_deg=station.azimuth_deg,
                elevation_deg=station.elevation_deg,
                distance_mm=s.distance_mm,
                speed_mm_s=s.speed_mm_s,
            )
            for station in coat.stations
            for points in outlines
        )
    spray_ml = float(outcome.flow_ml_min) * seconds / 60.0 * copies
    mix_ml = spray_ml + CUP_REST_ML + TRIAL_ML
    loads = max(1, ceil(mix_ml / cup_ml))
    # several loads are mixed alike, each with its own rest in the cup
    load_ml = (spray_ml + TRIAL_ML) / loads + CUP_REST_ML
    return CoatAmounts(spray_ml, load_ml * loads, seconds, pour(coat, mix_ml=load_ml), loads)
