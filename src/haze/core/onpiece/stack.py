"""How light each place ends, as a function of the films of the light coats alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import Skin, coated, seen
from haze.core.film.srgb import lightness_of_rgb


@dataclass(frozen=True, slots=True)
class Laying:
    """One step as it lies at some places.

    Attributes
    ----------
    optics : of its paint or mix
    droplet_um : float [µm, dry], thickness of one splat; None for a closed film
    film_um : (n,) float32 [µm, dry]; None for a light coat, whose film is asked for
    patch_um : float [µm, dry], of a film that lies in patches; None for a whole one
    """

    optics: PaintOptics
    droplet_um: float | None
    film_um: Floats | None
    patch_um: float | None = None


class Stack:
    """A plan at some places: fixed films and, among them, those of the light coats.

    Below a light coat whose film is the same array as before nothing is laid again.

    Parameters
    ----------
    below : the surface under the first of `layings`
    layings : the steps from there to the last
    """

    def __init__(self, below: Skin, layings: Sequence[Laying]) -> None:
        self.places = int(below.inside.shape[1])
        self.lights = [s for s in layings if s.film_um is None]
        self._above: list[list[Laying]] = [[] for _ in range(len(self.lights) + 1)]
        number = 0
        for laying in layings:
            if laying.film_um is None:
                number += 1
            elif laying.film_um.any():
                self._above[number].append(laying)
        self._start = _laid(below, self._above[0])
        self._held: list[tuple[Floats, Skin]] = []

    def none(self) -> list[Floats]:
        """No film of any light coat."""
        return [np.zeros(self.places, dtype=np.float32) for _ in self.lights]

    def ended(self, films: Sequence[Floats]) -> Skin:
        """The surface at the end.

        Parameters
        ----------
        films : (n,) float32 [µm, dry] of each light coat
        """
        same = 0
        while same < len(self._held) and self._held[same][0] is films[same]:
            same += 1
        del self._held[same:]
        skin = self._held[-1][1] if self._held else self._start
        for number in range(same, len(films)):
            own = self.lights[number]
            skin = coated(skin, own.optics, films[number], droplet_um=own.droplet_um)
            skin = _laid(skin, self._above[number + 1])
            self._held.append((films[number], skin))
        return skin

    def lightness(self, films: Sequence[Floats]) -> Floats:
        """(n,) float32 [L*]: at the end.

        Parameters
        ----------
        films : (n,) float32 [µm, dry] of each light coat
        """
        return lightness_of_rgb(seen(self.ended(films)))


def _laid(skin: Skin, layings: Sequence[Laying]) -> Skin:
    for laying in layings:
        assert laying.film_um is not None
        skin = coated(
            skin,
            laying.optics,
            laying.film_um,
            droplet_um=laying.droplet_um,
            patch_um=laying.patch_um,
        )
    return skin
