"""Mixes of paints: K and S by volume and tinting strength (Duncan 1940), finish by volume.

Hues of mixes are trustworthy; their ratios less so until a painter's own mix gave the strengths.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import EmptyMixError, OutOfRangeError, SwatchError
from haze.core.film.paint import PaintOptics


@dataclass(frozen=True, slots=True)
class Share:
    """A paint in a mix: its volume in any unit and its tinting strength [-]."""

    optics: PaintOptics
    volume: float
    strength: float = 1.0


def mixed(shares: Sequence[Share]) -> PaintOptics:
    """The optics of a mix: K = Σ w T K / Σ w T, S likewise.

    Flake and emission go by plain volume: flake tints nothing, it covers.

    Parameters
    ----------
    shares : volume, strength and optics of each paint
    """
    used = [s for s in shares if s.volume > 0]
    if not used:
        raise EmptyMixError("A mix needs at least one drop of one paint.", field="drops")
    if len(used) == 1:
        return used[0].optics
    volume = np.array([s.volume for s in used])
    tinting = volume * np.array([s.strength for s in used])
    by_volume, by_tint = volume / volume.sum(), tinting / tinting.sum()
    flake = by_volume * np.array([s.optics.flake for s in used])
    glow = [
        w * s.optics.emission
        for w, s in zip(by_volume, used, strict=True)
        if s.optics.emission is not None
    ]
    return PaintOptics(
        absorb_per_um=_weighted(by_tint, [s.optics.absorb_per_um for s in used]),
        scatter_per_um=_weighted(by_tint, [s.optics.scatter_per_um for s in used]),
        surface=float(by_volume @ [s.optics.surface for s in used]),
        flake=float(flake.sum()),
        flake_inside=_flake(flake, used),
        emission=np.sum(glow, axis=0) if glow else None,
    )


def _weighted(weights: Array, rows: Sequence[Array]) -> Array:
    return np.asarray(weights @ np.stack(rows))


def _flake(weights: Array, used: Sequence[Share]) -> Array | None:
    if weights.sum() <= 0:
        return None
    rows = [
        s.optics.flake_inside if s.optics.flake_inside is not None else np.zeros(12) for s in used
    ]
    return _weighted(weights / weights.sum(), rows)


def tinting_strength(
    paint: PaintOptics, white: PaintOptics, *, paint_share: float, seen_inside: Array
) -> float:
    """Tinting strength of a paint against a white of strength 1, from one mix of the two.

    Solves K/S of the thick mix for the strength in every band and takes the median of the bands
    that tell something (those where paint and white differ).

    Parameters
    ----------
    paint_share : float [-], volume share of the paint in the mix, between 0 and 1
    seen_inside : (12,) float [-], reflectance of the thick mix inside the binder
    """
    if not 0.0 < paint_share < 1.0:
        raise OutOfRangeError("paint_share must lie between 0 and 1.", field="paint_share")
    r = np.clip(seen_inside, 1e-4, 1 - 1e-4)
    q = (1 - r) ** 2 / (2 * r)
    above = (1 - paint_share) * (q * white.scatter_per_um - white.absorb_per_um)
    below = paint_share * (paint.absorb_per_um - q * paint.scatter_per_um)
    tells = np.abs(below) > 0.02 * np.abs(below).max()
    found = above[tells] / below[tells]
    found = found[found > 0]
    if not len(found):
        raise SwatchError(
            "This mix tells no strength: it looks like the paint or like the white alone.",
            field="colour",
        )
    return float(np.median(found))
