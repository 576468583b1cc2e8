"""The piece as the colours of a sequence meet it: films at points of the show side."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats, Longs
from haze.core.drafting.sites import (
    PANELS,
    PLACES,
    RAMPS,
    Places,
    Sites,
    Sweep,
    sweeps_facing,
    sweeps_for,
)
from haze.core.light.brush import settled
from haze.core.light.stations import Station, deposit
from haze.core.onpiece.aiming import AimedAt, AimedDeposit
from haze.core.onpiece.painting import HALO_FOOTPRINTS, HandFilm
from haze.core.plan.coat import Aim
from haze.core.plan.document import Along, Plan
from haze.core.plan.roles import WASH_GATHERS
from haze.core.spray.constants import constant
from haze.service.piece.asked import AXES, axis_of, guide
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.landing import RANGES, show_side

NEAREST = 60  # samples a rough place is the median of, nearest to its light value
LEAST_OPEN = 0.25  # deeper lie recesses
FINE = (12, 12, 56, 14, 28)  # points of each range of light
MISSED = 0.25  # of what lands, as much misses the spot (judged)
PANEL_MM = 3.0
AIMED_DISTANCE_MM = 30.0
Pick = Callable[[Floats], Array]


def sites_of(plan: Plan, on: OnPiece, *, panels: bool, along: Along = "light") -> Sites:
    """The show side roughly and finely, from real deposits.

    Parameters
    ----------
    plan : gives the lights and blocked parts of the sky
    on : its piece
    panels : whether something is aimed at the middle of panels
    along : what the colours follow
    """
    value, show = guide(on, plan, along)[on.sampled], np.flatnonzero(show_side(plan, on))
    seen = show[on.piece.openness[on.sampled[show]] >= LEAST_OPEN]
    rough = seen if len(seen) > NEAREST else np.arange(len(on.sampled))
    at = [_nearest(value[rough], wanted) for wanted in PLACES]
    picked = [show[_evenly(value[show], n)] for n in range(len(PLACES))]
    fine = np.concatenate(picked)
    place = np.repeat(np.arange(len(PLACES)), [len(p) for p in picked])
    fields = _fields(plan, on, _aims(on, panels=panels, along=along), facing=along == "facing")

    def medians(values: Floats) -> Array:
        return np.array([float(np.median(values[where])) for where in at])

    return Sites(
        _places(on, on.sampled[rough], fields, medians, None),
        _places(on, on.sampled[fine], fields, lambda values: values.astype(float), place),
    )


@dataclass(frozen=True, slots=True)
class _Fields:
    """What lies by hand or is aimed, (n,) float32 [-] on the whole piece, and what is swept."""

    wash: Floats
    brushed: Floats
    aimed: dict[int, tuple[Aim, Floats]]
    swept: dict[int, tuple[Station, ...]]


def _aims(on: OnPiece, *, panels: bool, along: Along) -> dict[int, Aim]:
    """What is aimed: at panels, and as ramps of a gradient along the piece."""
    out = {PANELS: Aim(field="panels", margin_mm=PANEL_MM)} if panels else {}
    if along in AXES:
        start, end = axis_of(on, along)
        for number, ends in RAMPS.items():
            points = on.piece.mesh.to_file(start + np.outer(ends, end - start))
            first, last = (tuple(float(v) for v in point) for point in points)
            out[number] = Aim.model_validate({"field": "ramp", "start": first, "end": last})
    return out


def _fields(plan: Plan, on: OnPiece, aims: dict[int, Aim], *, facing: bool) -> _Fields:
    piece = on.piece
    wash = settled(
        np.ones(piece.size, dtype=np.float32),
        cavity=1.0 - piece.openness,
        area=piece.mesh.vertex_area,
        gathers=WASH_GATHERS,
    )
    brushed = on.fields.by_hand(HandFilm("dry_brush", 1.0, None, None))
    aimed = {number: (aim, _aimed(aim, plan, on)) for number, aim in aims.items()}
    swept = dict(enumerate(sweeps_for(plan.key_light)))
    return _Fields(wash, brushed, aimed, {**swept, **(sweeps_facing() if facing else {})})


def _places(on: OnPiece, points: Longs, fields: _Fields, pick: Pick, place: Longs | None) -> Places:
    table, openness = on.piece.table[:, points], on.piece.openness[points]
    mist = np.float32(MISSED * constant("mist_landing") / HALO_FOOTPRINTS**2)

    def landed(stations: tuple[Station, ...]) -> Array:
        film = np.sum([deposit(table, s) for s in stations], axis=0)
        return pick(film + len(stations) * mist * openness)

    sweeps = {n: Sweep(stations, landed(stations)) for n, stations in fields.swept.items()}
    for number, (aim, field) in fields.aimed.items():
        sweeps[number] = Sweep((), pick(field[points]), aim)
    return Places(sweeps, pick(fields.wash[points]), pick(fields.brushed[points]), place)


def _aimed(aim: Aim, plan: Plan, on: OnPiece) -> Floats:
    at = AimedAt.of(aim, plan, on.piece.parts_in(plan))
    return on.fields.aimed(AimedDeposit(at, AIMED_DISTANCE_MM, plan.piece.cones))


def _nearest(value: Floats, wanted: float) -> Longs:
    return np.asarray(np.argsort(np.abs(value - wanted), kind="stable")[:NEAREST])


def _evenly(value: Floats, place: int) -> Longs:
    """Points of a range of light, evenly from its dark to its light end; the nearest when few."""
    low, high = RANGES[place]
    inside = np.flatnonzero((value >= low) & (value <= high))
    count = FINE[place]
    if len(inside) < count:
        return np.asarray(np.argsort(np.abs(value - 0.5 * (low + high)), kind="stable")[:count])
    ordered = inside[np.argsort(value[inside], kind="stable")]
    return np.asarray(ordered[np.linspace(0, len(ordered) - 1, count).round().astype(int)])
