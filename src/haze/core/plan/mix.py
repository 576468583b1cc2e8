"""A mix: paints and their drops, what they do to light together, and what the mix is called."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from haze.core.film.difference import speck_contrast
from haze.core.film.looks import shown
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import PaintOptics, is_clear, swatch_rgb
from haze.core.film.spectra import BANDS
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.paint import Covering, PaintUsed
from haze.core.spray.constants import paint_of

NO_PAINT = PaintOptics(np.zeros(BANDS), np.zeros(BANDS), 0.03)
MOST_DROPS = 20
LONGEST_NAME = 120


@dataclass(frozen=True, slots=True)
class Mix(Covering):
    """Paints with their drops, in pouring order; one paint alone counts as one drop of it."""

    parts: tuple[tuple[PaintUsed, int], ...]

    @classmethod
    def of(cls, *parts: tuple[PaintUsed, int]) -> Mix:
        """A mix of some drops of each paint.

        Parameters
        ----------
        parts : paints and whole drops, at least one
        """
        return cls(parts if len(parts) > 1 else ((parts[0][0], 1),))

    @property
    def main(self) -> PaintUsed:
        """The paint that is poured first."""
        return self.parts[0][0]

    @property
    def paints(self) -> tuple[PaintUsed, ...]:
        """All its paints."""
        return tuple(paint for paint, _ in self.parts)

    @property
    def drop_ul(self) -> float:
        """Volume [µl] of its drops, poured once."""
        return sum(drops * paint.drop_ul for paint, drops in self.parts)

    @property
    def optics(self) -> PaintOptics:
        """What it does to light."""
        return _optics(self)

    @property
    def hex(self) -> str:
        """ "#rrggbb" of what it lays on when it covers."""
        return self.main.masstone if len(self.parts) == 1 else shown(swatch_rgb(self.optics))

    @property
    def clear(self) -> bool:
        """Whether it is one to be seen through."""
        return is_clear(self.optics)

    @property
    def hides(self) -> bool:
        """Whether it is laid to hide what lies below it."""
        return all(paint.mixes for paint in self.paints) and not self.clear

    @property
    def name(self) -> str:
        """Its paints, and their drops when there are several."""
        if len(self.parts) == 1:
            return self.main.name
        names = " + ".join(paint.name for paint, _ in self.parts)
        return f"{names} {':'.join(str(drops) for _, drops in self.parts)}"[:LONGEST_NAME]

    def contrast_over(self, ground: str) -> float:
        """Contrast [0..1] of a speck of it against a ground; of clear varnish its shine alone.

        Parameters
        ----------
        ground : "#rrggbb"
        """
        if self.main.kind == "varnish":
            return paint_of(self.main.kind).contrast
        return float(speck_contrast(self.rgb, linear_of_hex(ground)))

    def most_first(self) -> Mix:
        """The same mix, the paint with most drops first."""
        return Mix(tuple(sorted(self.parts, key=lambda part: -part[1])))


@lru_cache(maxsize=2048)
def _optics(mix: Mix) -> PaintOptics:
    return mixed(
        [Share(paint.optics, drops * paint.drop_ul, paint.strength) for paint, drops in mix.parts]
    )
