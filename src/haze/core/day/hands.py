"""What the hands do and how long it takes: rounds from sides, stroke by stroke.

A round goes once over what shows from a side. Hands are not waits: a rest between rounds that the
other sides and copies fill is none. Times are judged (docs/models.md A11.7).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

import numpy as np
from scipy.spatial import ConvexHull, QhullError

from haze.core.arrays import Array, Floats
from haze.core.directions import direction_of
from haze.core.plan.coat import Coat, HandStep
from haze.core.spray.footprint import STROKE, footprint_sigma_mm

STROKE_END_S = 0.5  # the trigger is let go and the hand turns
ROUND_S = 2.0  # begun beside the piece, looked at after
HOLD_S = 5.0  # a copy taken up and held for a side
REFERENCE_CM2 = 25.0  # surface of the figure that the times of steps by hand are meant for
LEAST_HANDS = 0.5  # of that time, however small the part is
LEAST_PATCH = 0.04  # of what an aimed coat goes over
OUTLINE_POINTS = 4000


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


@dataclass(frozen=True, slots=True)
class Round:
    """Once over what shows from a side, on one copy: trigger down [s], strokes, and in all [s]."""

    paint_s: float
    strokes: float
    hands_s: float


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


def swept_round(seen: Sequence[Silhouette], *, distance_mm: float, speed_mm_s: float) -> Round:
    """A round over silhouettes that are sprayed one after the other.

    Each is widened by 2σ all round (Steiner: A + 2σP + π(2σ)²) and gone over in strokes √(2π)σ
    apart. They lie across its mean width, P/π + 4σ (Cauchy), so many strokes there are.

    Parameters
    ----------
    seen : silhouettes in mm
    distance_mm, speed_mm_s : float [mm], [mm/s], of the airbrush
    """
    sigma = float(footprint_sigma_mm(np.asarray(distance_mm)))
    apart = float(STROKE) * sigma
    paint = strokes = 0.0
    for one in seen:
        widened = one.area + 2 * sigma * one.outline + pi * (2 * sigma) ** 2
        paint += widened / apart / speed_mm_s
        strokes += max(1.0, (one.outline / pi + 4 * sigma) / apart)
    return Round(paint, strokes, paint + STROKE_END_S * strokes + ROUND_S * len(seen))


def patches_of(normals: Floats, area: Array) -> list[Silhouette]:
    """What an aimed coat goes over, side by side: the faces that look one of six ways.

    Spray misses past the edge of a patch as past a silhouette. Its outline is that of a disc of the
    same projected area, the least there is (judged); patches of next to nothing are left out.

    Parameters
    ----------
    normals : (n, 3) float32, of the vertices it goes over
    area : (n,) float, of each
    """
    if not len(area):
        return []
    way = np.abs(normals).argmax(axis=1)
    facing = np.take_along_axis(normals, way[:, None], axis=1)[:, 0]
    sides = 2 * way + (facing > 0)
    shown = np.bincount(sides, weights=np.asarray(area * np.abs(facing), dtype=np.float64))
    kept = shown[shown >= LEAST_PATCH * shown.sum()]
    return [Silhouette(float(a), 2 * sqrt(pi * float(a))) for a in kept if a > 0]


def coat_rounds(
    coat: Coat,
    *,
    silhouettes: Sequence[Sequence[Silhouette]],
    aimed: Sequence[Silhouette] = (),
) -> list[Round]:
    """A round from each of a coat's sides; of an aimed coat the one over where it goes.

    Parameters
    ----------
    coat : gives distance and speed
    silhouettes : in mm, for each station those of the groups of parts that are sprayed together
    aimed : in mm, the patches an aimed coat goes over
    """
    s = coat.spray
    if coat.aim:
        return [swept_round(aimed, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s)]
    return [
        swept_round(groups, distance_mm=s.distance_mm, speed_mm_s=s.speed_mm_s)
        for groups in silhouettes
    ]


def round_counts(coat: Coat) -> list[int]:
    """How many rounds go over each side.

    Parameters
    ----------
    coat : sprayed or planned
    """
    return [coat.aim.passes] if coat.aim else [station.passes for station in coat.stations]


def strokes_seconds(coat: Coat, rounds: Sequence[Round]) -> float:
    """Time [s] with the trigger down, for one copy.

    Parameters
    ----------
    coat : gives how many rounds
    rounds : one a side
    """
    return sum(n * one.paint_s for n, one in zip(round_counts(coat), rounds, strict=True))


def side_hands_s(count: int, one: Round, *, copies: int) -> float:
    """Time [s] the hands need for all rounds from one side.

    Parameters
    ----------
    count : int, rounds from it
    one : a round from it
    copies : int
    """
    return copies * (HOLD_S + count * one.hands_s)


def coat_hands_s(coat: Coat, rounds: Sequence[Round], *, copies: int) -> float:
    """Time [s] the hands spray a coat, on all copies.

    Parameters
    ----------
    coat : gives how many rounds
    rounds : one a side
    copies : int
    """
    counts = round_counts(coat)
    return sum(side_hands_s(n, one, copies=copies) for n, one in zip(counts, rounds, strict=True))


def idle_s(coat: Coat, rounds: Sequence[Round], *, copies: int) -> float:
    """Time [s] nothing can be done between rounds, for the whole coat.

    The sides of all copies are gone round in turn; a rest is idle as far as that does not fill it:
    max(0, rest − round · (copies · sides − 1)) before every round but the first.

    Parameters
    ----------
    coat : gives its rest, and how many rounds
    rounds : one a side
    copies : int
    """
    counts = round_counts(coat)
    if not counts or not rounds:
        return 0.0
    mean = sum(one.hands_s for one in rounds) / len(rounds)
    left = max(0.0, coat.spray.rest_s - mean * (copies * len(rounds) - 1))
    return left * (max(counts) - 1)


def by_hand_s(step: HandStep, *, copies: int, area_cm2: float = REFERENCE_CM2) -> float:
    """Time [s] a step by hand takes.

    It grows with the root of the surface: on a large piece the brush and the mask are larger too.

    Parameters
    ----------
    step : what is done
    copies : int
    area_cm2 : float [cm²], surface it is done on, of one copy
    """
    share = max(LEAST_HANDS, sqrt(area_cm2 / REFERENCE_CM2))
    return 60.0 * step.hands_min * copies * share
