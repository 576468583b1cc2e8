"""Three ways to prime, compared for one piece: airbrush, spray can, dry brush (models.md A10).

Films of a can and of a dry brush are judged; what they leave is then seen by the same film model.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from haze.core.arrays import Floats, Table
from haze.core.day.waits import before_tape_s
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import Skin, add_coat, bare_skin, coated, linear_rgb, seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.stations import Station, deposit
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.lights import KeyLight
from haze.core.plan.paint import PaintUsed
from haze.core.plan.piece import Room
from haze.core.plan.roles import HANDS

Way = Literal["airbrush", "can", "dry_brush"]
CAN_UM = 10.0  # dry film of one pass
CAN_DROPLET_UM, CAN_DRY_SHARE, CAN_SPLAT = 50.0, 0.25, 2.2
CAN_SWEEP_DEG, CAN_ABOVE_DEG = 30.0, 60.0
CAN_ROUND = ((0.0, 20.0), (90.0, 20.0), (180.0, 20.0), (270.0, 20.0), (0.0, -40.0), (180.0, -40.0))
CAN_SWEEPS, CAN_SWEEP_S = 8, 4.0
CAN_TEMPERATURE_C, CAN_HUMIDITY_PCT = (15.0, 30.0), 65.0
CAN_RECOAT_MIN, CAN_CURE_MIN = 15.0, 60.0
BRUSH_GRAIN = 7.0  # L* of brush marks where a dry brush half covers
BRUSH_MIN = 5.0
EYE_MM = 0.2  # spot over which grain is judged at arm's length
SMOOTH_BELOW, ROUGH_ABOVE = 1.2, 4.0  # L* of grain


@dataclass(frozen=True, slots=True)
class WayWords:
    """A way to prime in words: its name, where it is done, and what it can do to the painter."""

    title: str
    where: str
    caution: str | None = None


WORDS: dict[Way, WayWords] = {
    "airbrush": WayWords("Airbrush", "indoors, with extraction and a particle filter"),
    "can": WayWords(
        "Spray can",
        "outdoors or in a proper booth only",
        "Cans spray solvent: vapour cartridge, no flame or spark, outdoors or in a proper booth "
        "only.",
    ),
    "dry_brush": WayWords(
        "Dry brush",
        f"anywhere; the ground under it must cure {before_tape_s('primer') / 3600:.0f} h",
    ),
}


@dataclass(frozen=True, slots=True)
class Values:
    """What a way leaves: L* of the dark and light end, their contrast, and the grain between."""

    dark: float
    light: float
    contrast: float
    grain: float


def spot_grain(
    inside: Floats,
    optics: PaintOptics,
    film_um: Floats,
    *,
    droplet_um: float,
    dry_share: float,
    splat: float = 2.2,
) -> Floats:
    """(n,) float32 [L*]: how much lightness differs from one eye's spot to the next.

    Droplets land at random: a spot of the eye, widened by a splat, holds N = X·A/V of them, so its
    film scatters by X/√N, and lightness by that times its slope.

    Parameters
    ----------
    inside : (12, n) float32, the ground
    film_um : (n,) float32 [µm, dry]
    droplet_um : float [µm], mean droplet in flight
    dry_share : float [-], solids by volume
    splat : float [-], splat over droplet diameter
    optics : of the paint
    """
    solid = np.pi / 6 * droplet_um**3 * dry_share
    spot = np.pi / 4 * ((EYE_MM * 1e3) ** 2 + (splat * droplet_um) ** 2)
    scatter = np.sqrt(film_um * np.float32(solid / spot))
    step = np.float32(0.4)
    low = np.maximum(film_um - step, 0)

    def lightness(um: Floats) -> Floats:
        return lightness_of_rgb(linear_rgb(add_coat(inside, optics, um), optics.surface))

    slope = (lightness(film_um + step) - lightness(low)) / (film_um + step - low)
    return np.asarray(np.abs(slope) * scatter, dtype=np.float32)


def values_of(lightness: Floats, *, grain: Floats, area: Floats) -> Values:
    """Ends, contrast and grain of a primed piece; grain is that of its worst tenth.

    Parameters
    ----------
    lightness, grain : (n,) float32 [L*]
    area : (n,) float32, of each vertex
    """

    def at(values: Floats, share: float) -> float:
        return float(np.quantile(values, share, weights=area, method="inverted_cdf"))

    dark, light = at(lightness, 0.05), at(lightness, 0.95)
    return Values(dark, light, light - dark, at(grain, 0.9))


@dataclass(frozen=True, slots=True)
class Primed:
    """What a way leaves on n vertices: (3, n) linear sRGB as seen, and (n,) grain [L*]."""

    rgb: Floats
    grain: Floats


def tones(plan: Plan) -> tuple[Coat, Coat] | None:
    """The plan's dark ground, and the lightest of its opaque light coats; None when one lacks.

    Parameters
    ----------
    plan : the plan
    """
    dark = next((c for c in plan.sprayed if c.task == "prime" and not c.off), None)
    light = [c for c in plan.sprayed if c.task == "light" and not c.off and c.paint.hides]
    return (dark, light[-1]) if dark and light else None


def canned(
    dark: PaintUsed, light: PaintUsed, *, table: Table, surface: str, key: KeyLight
) -> Primed:
    """Dark from all round, then light from above, as a can lays it.

    Parameters
    ----------
    dark, light : paints
    table : (directions, n) uint8, what spray sees
    surface : "#rrggbb", the bare piece
    key : where the light comes from
    """
    n = table.shape[1]
    round_about = [Station(azimuth, elevation, CAN_SWEEP_DEG) for azimuth, elevation in CAN_ROUND]
    dark_um = sum((deposit(table, s) for s in round_about), np.zeros(n, dtype=np.float32))
    dark_um = np.asarray(dark_um * np.float32(CAN_UM), dtype=np.float32)
    skin = coated(bare_skin(surface, n), dark.optics, dark_um)
    above = Station(key.azimuth_deg, max(key.elevation_deg, CAN_ABOVE_DEG), CAN_SWEEP_DEG)
    light_um = deposit(table, above) * np.float32(2 * CAN_UM)
    splat_um = CAN_DROPLET_UM * CAN_DRY_SHARE / (1.5 * CAN_SPLAT**2)
    grain = spot_grain(
        skin.inside,
        light.optics,
        light_um,
        droplet_um=CAN_DROPLET_UM,
        dry_share=CAN_DRY_SHARE,
        splat=CAN_SPLAT,
    )
    return Primed(seen(coated(skin, light.optics, light_um, droplet_um=splat_um)), grain)


def dry_brushed(ground: Skin, light: PaintUsed, *, field: Floats) -> Primed:
    """Light dragged over the edges of a ground.

    Parameters
    ----------
    ground : the surface below
    light : the paint
    field : (n,) float32 [0..1], where a dry brush goes
    """
    full = np.float32(HANDS["dry_brush"].film_um)
    half = 4 * field * (1 - field)
    return Primed(
        seen(coated(ground, light.optics, field * full, patch_um=float(full))),
        np.asarray(half * np.float32(BRUSH_GRAIN), dtype=np.float32),
    )


def can_minutes(copies: int) -> float:
    """Minutes a can takes: sweeps, recoats, cure.

    Parameters
    ----------
    copies : int
    """
    return CAN_SWEEPS * CAN_SWEEP_S * copies / 60 + 2 * CAN_RECOAT_MIN + CAN_CURE_MIN


def dry_brush_minutes(ground_min: float, *, copies: int) -> float:
    """Minutes a dry brush takes: the ground, its cure, the brush.

    Parameters
    ----------
    ground_min : float [min], of the ground under it
    copies : int
    """
    return ground_min + before_tape_s("primer") / 60 + BRUSH_MIN * copies


def smooth_words(grain: float) -> str:
    """How the step from dark to light looks.

    Parameters
    ----------
    grain : float [L*], spread of lightness from spot to spot
    """
    if grain < SMOOTH_BELOW:
        return "smooth"
    return "visible grain" if grain < ROUGH_ABOVE else "coarse grain"


def can_limits(room: Room) -> list[str]:
    """What of today's room speaks against a spray can."""
    low, high = CAN_TEMPERATURE_C
    found = []
    if not low <= room.temperature_c <= high:
        found.append(
            f"{room.temperature_c:g} °C is outside {low:g} to {high:g} °C: the coat will craze or "
            "dry in the air."
        )
    if room.humidity_pct > CAN_HUMIDITY_PCT:
        found.append(
            f"{room.humidity_pct:g} % humidity is over {CAN_HUMIDITY_PCT:g} %: the coat will bloom."
        )
    return found
