"""From a plan's coats to film and colour on every vertex."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from haze.core.film.finish import surface_of
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import PaintOptics, fluorescent, metallic, paint_optics, swatch_rgb
from haze.core.film.spectra import BANDS, to_hex
from haze.core.film.swatches import optics_from_swatches
from haze.core.plan.document import AirbrushUsed, Coat, HandStep, PaintUsed, Room
from haze.core.spray.constants import constant
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting, make_setting

Floats = NDArray[np.float32]

NO_PAINT = PaintOptics(np.zeros(BANDS), np.zeros(BANDS), 0.03)
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
        passes=float(coat.most_passes),
        rest_s=s.rest_s,
        blown=float(s.blown),
    )


def coat_outcome(coat: Coat, *, airbrush: AirbrushUsed, room: Room) -> Outcome:
    """What the coat's setting does."""
    return spray(coat_setting(coat, airbrush=airbrush, room=room))


@lru_cache(maxsize=1024)
def _optics(paint: str) -> PaintOptics:
    used = PaintUsed.model_validate_json(paint)
    if used.kind == "varnish":
        # clear: what matt or gloss does lies in the surface, not in the film
        made = PaintOptics(np.zeros(BANDS), np.zeros(BANDS), float(surface_of(used.finish)))
    elif used.kind == "metallic":
        made = metallic(used.masstone, finish=used.finish)
    elif used.swatches:
        made = optics_from_swatches(
            used.swatches.over_dark,
            used.swatches.over_light,
            dark=used.swatches.dark,
            light=used.swatches.light,
            film_um=used.swatches.film_um,
            finish=used.finish,
        ).optics
    else:
        made = paint_optics(used.masstone, opacity=used.opacity, finish=used.finish)
    if used.fluorescent > 0:
        return fluorescent(made, masstone=used.masstone, strength=used.fluorescent)
    return made


OPTICAL = {"id", "name", "kind", "masstone", "opacity", "finish", "fluorescent", "swatches"}


def optics_of(paint: PaintUsed) -> PaintOptics:
    """K and S of a paint of the plan, its finish, its flake and its own light."""
    return _optics(paint.model_dump_json(include=OPTICAL))


def mix_of(coat: Coat) -> list[tuple[PaintUsed, int]]:
    """The paints of a coat and their drops."""
    return [(coat.paint, coat.drops), *((m.paint, m.drops) for m in coat.also)]


def coat_optics(step: Coat | HandStep) -> PaintOptics:
    """The optics of what a step lays on; of a step without paint, nothing at all."""
    if step.kind == "hand":
        return optics_of(step.paint) if step.paint else NO_PAINT
    if not step.also:
        return optics_of(step.paint)
    return mixed([Share(optics_of(p), drops * p.drop_ul, p.strength) for p, drops in mix_of(step)])


def mix_hex(step: Coat | HandStep) -> str | None:
    """ "#rrggbb" of what a step lays on when it covers; None without paint."""
    if step.kind == "hand":
        return step.paint.masstone if step.paint else None
    return to_hex(swatch_rgb(coat_optics(step))) if step.also else step.paint.masstone


def landed_passes(coat: Coat, deposits: list[Floats]) -> Floats:
    """(n,) float32: Σ passes × deposit over a coat's stations, or over its aim."""
    passes = [coat.aim.passes] if coat.aim else [s.passes for s in coat.stations]
    total = deposits[0] * np.float32(passes[0])
    for count, share in zip(passes[1:], deposits[1:], strict=True):
        total = total + share * np.float32(count)
    return total


def mist_um(outcome: Outcome, *, passes: float) -> float:
    """Film [µm] that missed mist leaves on an open surface, whichever way it faces.

    What misses spreads over a halo of three footprints; a judged part of it lands.
    """
    transfer = max(float(outcome.transfer), 1e-3)
    missed = float(outcome.dry_film_um) * (1 - transfer) / transfer
    return missed * passes * constant("mist_landing") / HALO_FOOTPRINTS**2


def coat_film_um(
    coat: Coat,
    *,
    outcome: Outcome,
    deposits: list[Floats],
    openness: Floats,
    sprayed_share: float = 1.0,
) -> Floats:
    """(n,) float32 [µm, dry]: film of one coat.

    Parameters
    ----------
    deposits : one (n,) float32 [-] per station, or one for an aimed coat
    openness : (n,) float32 [-], mean openness to all sides, carries the mist
    sprayed_share : float [-], share of the surface an aimed coat goes over
    """
    film = landed_passes(coat, deposits) * np.float32(outcome.dry_film_um)
    mist = mist_um(outcome, passes=coat.passes) * sprayed_share
    return np.asarray(film + openness * np.float32(mist), dtype=np.float32)
