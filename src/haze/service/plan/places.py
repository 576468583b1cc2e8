"""The piece as the colours of a sequence meet it: films at a few light values on the show side."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array, Floats
from haze.core.drafting.colouring import PLACES, Places, Sweep, sweeps_for
from haze.core.light.brush import settled
from haze.core.light.stations import Station, deposit
from haze.core.plan.document import Plan
from haze.core.plan.roles import WASH_GATHERS
from haze.service.piece.onpiece import OnPiece

NEAREST = 60  # samples a place is the median of, nearest to its light value
LEAST_OPEN = 0.25  # deeper lie recesses


def places_of(plan: Plan, on: OnPiece) -> Places:
    """A place for each light value, from real deposits.

    Parameters
    ----------
    plan : gives the lights and blocked parts of the sky
    on : its piece
    """
    piece, sampled = on.piece, on.sampled
    value = on.lit.value(plan)[sampled]
    seen = (piece.mesh.normals[sampled, 1] < 0) & (piece.openness[sampled] >= LEAST_OPEN)
    seen &= on.reach.reachable(plan.piece.cones)[sampled]
    counted = np.flatnonzero(seen) if seen.sum() > NEAREST else np.arange(len(sampled))
    at = [_nearest(value[counted], wanted) for wanted in PLACES]
    table = piece.table[:, sampled[counted]]

    def median(values: Floats) -> Array:
        return np.array([float(np.median(values[where])) for where in at])

    def landed(stations: tuple[Station, ...]) -> Array:
        return median(np.sum([deposit(table, s) for s in stations], axis=0))

    whole = settled(
        np.ones(piece.size, dtype=np.float32),
        cavity=1.0 - piece.openness,
        area=piece.mesh.vertex_area,
        gathers=WASH_GATHERS,
    )
    return Places(
        sweeps=tuple(Sweep(stations, landed(stations)) for stations in sweeps_for(plan.key_light)),
        wash=median(whole[sampled[counted]]),
    )


def _nearest(value: Floats, wanted: float) -> np.ndarray:
    return np.argsort(np.abs(value - wanted), kind="stable")[:NEAREST]
