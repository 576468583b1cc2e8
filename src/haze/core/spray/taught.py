"""What trials taught of a paint through a needle, in one sentence a painter would say."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.spray.calibrate import NAMES, Gaussian

EIGHT_IN_TEN = 1.2816  # standard deviations to either side hold eight in ten of a normal
LEAST_SHARE = 0.6  # of the half band: less than that could as well be nothing (judged)

# what a factor above and below the tables' own means at the bench
MEANS: dict[str, tuple[str, str]] = {
    "viscosity": ("it is {by} thicker", "it is {by} thinner"),
    "droplet": ("its droplets run {by} larger", "its droplets run {by} smaller"),
    "creep": ("it runs {by} sooner", "it stays where it lands {by} longer"),
    "width": ("its spot is {by} wider", "its spot is {by} narrower"),
    "flow": ("{by} more paint comes at the same stop", "{by} less paint comes at the same stop"),
}


@dataclass(frozen=True, slots=True)
class Shift:
    """The factor trials moved most against how unsure it was.

    Parameters
    ----------
    name : of the factor
    times : float, what it is now against what it was thought to be
    band : float [0..1], half of what eight in ten lie within, as a share
    """

    name: str
    times: float
    band: float

    @property
    def words(self) -> str:
        """Such as "its droplets run 12 % larger than thought (± 7 %)"."""
        more, less = MEANS[self.name]
        by = f"{abs(self.times - 1):.0%}".replace("%", " %")
        words = (more if self.times > 1 else less).format(by=by)
        return f"{words} than thought (± {self.band * 100:.0f} %)"


def shifted(before: Gaussian, after: Gaussian) -> Shift | None:
    """What trials moved most; None when they moved nothing that is worth telling.

    Parameters
    ----------
    before, after : what was believed without the trials, and is with them
    """
    moved = np.asarray(after.mean) - np.asarray(before.mean)
    against = np.abs(moved) / np.sqrt(np.diag(before.cov))
    place = int(np.argmax(against))
    half = EIGHT_IN_TEN * float(np.sqrt(after.cov[place, place]))
    if abs(float(moved[place])) < LEAST_SHARE * half:
        return None
    return Shift(NAMES[place], float(np.exp(moved[place])), float(np.sinh(half)))
