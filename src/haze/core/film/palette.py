"""Paints to mix from, and what a mix of them is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import gcd
from typing import NamedTuple

from haze.core.arrays import Array
from haze.core.errors import IncompatibleError
from haze.core.film.finish import outside_film
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import PaintOptics, film_over, masstone_inside
from haze.core.film.spectra import rgb_of

__all__ = ("Candidate", "Palette")


class Candidate(NamedTuple):
    """A mix: indices of its paints, drops of each, and its OKLab distance to the target."""

    paints: tuple[int, ...]
    drops: tuple[int, ...]
    distance: float


@dataclass(frozen=True, slots=True)
class Palette:
    """Paints to mix from.

    `drop` is what one drop weighs in the mix: its volume; tinting strength counts on top of it.
    """

    optics: tuple[PaintOptics, ...]
    drop: tuple[float, ...]
    strength: tuple[float, ...]

    @classmethod
    def of(
        cls,
        optics: Sequence[PaintOptics],
        *,
        drop: Sequence[float] | None = None,
        strength: Sequence[float] | None = None,
    ) -> Palette:
        """A palette; equal drops and strengths when none are given.

        Parameters
        ----------
        optics : of each paint
        drop : (n,) float [µl], drop size of each; None for equal ones
        strength : (n,) float, tinting strength of each; None for equal ones
        """
        if any(o.flake > 0 for o in optics):
            raise IncompatibleError("Metal flake does not mix toward a colour; leave metals out.")
        n = len(optics)
        return cls(tuple(optics), tuple(drop or (1.0,) * n), tuple(strength or (1.0,) * n))

    def only(self, paints: Sequence[int]) -> Palette:
        """The palette of some of its paints."""
        return Palette(
            tuple(self.optics[i] for i in paints),
            tuple(self.drop[i] for i in paints),
            tuple(self.strength[i] for i in paints),
        )

    def mix(self, paints: Sequence[int], drops: Sequence[float]) -> PaintOptics:
        """The optics of one mix; drops need not be whole.

        Parameters
        ----------
        paints : (k,) int, places in the palette
        """
        return mixed(
            [
                Share(self.optics[i], d * self.drop[i], self.strength[i])
                for i, d in zip(paints, drops, strict=True)
            ]
        )


@dataclass(frozen=True, slots=True)
class Over:
    """A film over a ground, instead of a thick one: (12,) reflectance inside the binder, µm dry."""

    ground: Array
    film_um: float


@lru_cache(maxsize=16)
def compositions(paints: int, most_drops: int) -> tuple[tuple[int, ...], ...]:
    """Drops of so many paints, at least one each, that are not the same mix in smaller numbers.

    Parameters
    ----------
    most_drops : int, drops in all
    """
    if paints == 1:
        return ((1,),)
    found: list[tuple[int, ...]] = []

    def grow(head: tuple[int, ...], left: int) -> None:
        if len(head) == paints:
            if gcd(*head) == 1:
                found.append(head)
            return
        for d in range(1, left - (paints - len(head) - 1) + 1):
            grow((*head, d), left - d)

    grow((), most_drops)
    return tuple(sorted(found, key=sum))


def mix_rgb(optics: PaintOptics, over: Over | None) -> Array:
    """(3,) float: linear sRGB of a mix, thick or as a film over a ground.

    Parameters
    ----------
    optics : of the paint
    """
    inside = (
        masstone_inside(optics) if over is None else film_over(optics, over.ground, over.film_um)
    )
    return rgb_of(outside_film(inside, optics.surface))
