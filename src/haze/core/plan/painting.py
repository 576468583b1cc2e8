"""From a plan's coats to film and colour on every vertex."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from haze.core.film.paint import PaintOptics, paint_optics
from haze.core.light.stations import Station, deposit
from haze.core.plan.document import AirbrushUsed, Coat, PaintUsed, Room
from haze.core.spray.constants import constant
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting, make_setting

Floats = NDArray[np.float32]
Table = NDArray[np.uint8]

HALO_FOOTPRINTS = 3.0  # missed mist spreads this many footprints wide (judged)


def coat_setting(coat: Coat, *, airbrush: AirbrushUsed, room: Room) -> Setting:
    """The spray model's setting of a coat: all passes of its busiest station."""
    s = coat.spray
    return make_setting(
        coat.paint.kind,
        thinner=coat.thinner.kind,
        thinner_parts=s.thinner_parts,
        flow_aid_parts=s.flow_aid_parts,
        needle_mm=airbrush.needle_mm,
        trigger=s.trigger,
        pressure_psi=s.pressure_psi,
        distance_mm=s.distance_mm,
        speed_mm_s=s.speed_mm_s,
        temperature_c=room.temperature_c,
        humidity_pct=room.humidity_pct,
        passes=float(max(station.passes for station in coat.stations)),
        rest_s=s.rest_s,
        blown=float(s.blown),
    )


def coat_outcome(coat: Coat, *, airbrush: AirbrushUsed, room: Room) -> Outcome:
    """What the coat's setting does."""
    return spray(coat_setting(coat, airbrush=airbrush, room=room))


def optics_of(paint: PaintUsed) -> PaintOptics:
    """K and S of a paint of the plan."""
    return paint_optics(paint.masstone, opacity=paint.opacity, finish=paint.finish)


def station_deposit(table: Table, at: object) -> Floats:
    """Deposit of a plan's station (any object with its four fields)."""
    return deposit(
        table,
        Station(
            at.azimuth_deg,  # type: ignore[attr-defined]
            at.elevation_deg,  # type: ignore[attr-defined]
            at.spread_deg,  # type: ignore[attr-defined]
            at.passes,  # type: ignore[attr-defined]
        ),
    )


def landed_passes(coat: Coat, deposits: list[Floats]) -> Floats:
    """(n,) float32: Σ passes × deposit over a coat's stations."""
    total = deposits[0] * np.float32(coat.stations[0].passes)
    for station, share in zip(coat.stations[1:], deposits[1:], strict=True):
        total = total + share * np.float32(station.passes)
    return total


def mist_um(outcome: Outcome, *, passes: float) -> float:
    """Film [µm] that missed mist leaves on an open surface, whichever way it faces.

    What misses spreads over a halo of three footprints; a judged part of it lands.
    """
    transfer = max(float(outcome.transfer), 1e-3)
    missed = float(outcome.dry_film_um) * (1 - transfer) / transfer
    return missed * passes * constant("mist_landing") / HALO_FOOTPRINTS**2


def coat_film_um(
    coat: Coat, *, outcome: Outcome, deposits: list[Floats], openness: Floats
) -> Floats:
    """(n,) float32 [µm, dry]: film of one coat.

    Parameters
    ----------
    deposits : one (n,) float32 [-] per station
    openness : (n,) float32 [-], mean openness to all sides, carries the mist
    """
    passes = sum(station.passes for station in coat.stations)
    film = landed_passes(coat, deposits) * np.float32(outcome.dry_film_um)
    return np.asarray(
        film + openness * np.float32(mist_um(outcome, passes=passes)), dtype=np.float32
    )
