"""Three ways to prime, compared for one piece: airbrush, spray can, dry brush (models.md A10).

Films of a can and of a dry brush are judged; what they leave is then seen by the same film model.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from haze.core.film.paint import PaintOptics
from haze.core.film.stack import add_coat, lightness_of_rgb, linear_rgb
from haze.core.light.reach import percentile
from haze.core.plan.document import Room

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Way = Literal["airbrush", "can", "dry_brush"]

CAN_UM = 10.0  # dry film of one pass
CAN_DROPLET_UM, CAN_DRY_SHARE, CAN_SPLAT = 50.0, 0.25, 2.2
CAN_SWEEP_DEG = 30.0
CAN_TEMPERATURE_C, CAN_HUMIDITY_PCT = (15.0, 30.0), 65.0
CAN_RECOAT_MIN, CAN_CURE_MIN = 15.0, 60.0
BRUSH_GRAIN = 7.0  # L* of brush marks where a dry brush half covers
BRUSH_MIN = 5.0
EYE_MM = 0.2  # spot over which grain is judged at arm's length
SMOOTH_BELOW, ROUGH_ABOVE = 1.2, 4.0  # L* of grain


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
    """Ends, contrast and grain of a primed piece; grain is that of its worst tenth."""
    dark = percentile(lightness, area=area, share=0.05)
    light = percentile(lightness, area=area, share=0.95)
    return Values(dark, light, light - dark, percentile(grain, area=area, share=0.9))


def smooth_words(grain: float) -> str:
    """How the step from dark to light looks."""
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
