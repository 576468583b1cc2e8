"""What a plan does on its piece, at samples of equal area: what the order rules judge."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.srgb import LUMINANCE, lightness_of

LANDED_AT = 0.35  # of its full film: where a step counts as landed (judged)
SHOWS = 1.0  # ΔE00 that is seen


@dataclass(frozen=True, slots=True)
class Facts:
    """Films and colours of a plan at s samples of equal area, for its k steps.

    Attributes
    ----------
    normals : (s, 3) float32
    reachable : (s,) bool, spray gets there
    light : (s,) float32 [0..1], the light wanted
    film_um : (k, s) float32 [µm, dry]
    full_um : (k,) float [µm, dry], film of a surface square to the busiest station
    rgb : (k + 1, s, 3) float32, linear sRGB as seen, bare and after each step
    without : (k, s, 3) float32, what is seen at the end when a step is left out
    no_flow : (k,) float [0..1], risk; 0 by hand
    glow : (s,) float32 per glow light id
    meant : (s,) bool per id of an aimed coat, where it is aimed at all
    parts : (s,) bool per id of a part, what belongs to it
    """

    normals: Floats
    reachable: Mask
    light: Floats
    film_um: Floats
    full_um: Array
    rgb: Floats
    without: Floats
    no_flow: Array
    glow: dict[str, Floats] = field(default_factory=dict)
    meant: dict[str, Mask] = field(default_factory=dict)
    parts: dict[str, Mask] = field(default_factory=dict)

    def landed(self, step: int) -> Mask:
        """(s,) bool: where a step lands."""
        return np.asarray(self.film_um[step] >= LANDED_AT * max(self.full_um[step], 1e-6))

    def lightness(self, after: int) -> Array:
        """(s,) float: L* after so many steps."""
        return lightness_of(np.clip(self.rgb[after], 0, 1) @ LUMINANCE)

    def mean_rgb(self, after: int, where: Mask) -> Array:
        """(3,) float: mean colour of some samples after so many steps; of all when none.

        Parameters
        ----------
        where : (n,) bool, samples to take
        """
        rows = self.rgb[after][where] if where.any() else self.rgb[after]
        return np.asarray(np.clip(rows.mean(axis=0), 0, 1), dtype=np.float64)

    def below(self, step: int) -> Array:
        """(3,) float: mean colour of what a step goes over, where it lands."""
        return self.mean_rgb(step, self.landed(step))

    def shown(self, step: int) -> float:
        """Share of the surface [-] that would look different at the end without a step."""
        return float(self.visibly_changed(step).mean())

    def visibly_changed(self, step: int) -> Mask:
        """(s,) bool: where one would see at the end whether a step was done."""
        off = ciede2000(
            lab_of(np.clip(self.without[step], 0, 1)), lab_of(np.clip(self.rgb[-1], 0, 1))
        )
        return np.asarray(off > SHOWS)
