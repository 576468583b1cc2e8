"""Bands of many mixes at once in float32, band-major, and the nearest of them that are kept."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import NamedTuple

import numpy as np

from haze.core.arrays import Array, Floats, Longs
from haze.core.film.difference import OK_LAB, OK_LMS, oklab_of
from haze.core.film.kubelka_munk import INTERNAL_REFLECTION
from haze.core.film.palette import Candidate, Over, Palette, mix_rgb
from haze.core.film.spectra import BAND_TO_RGB

Single = np.float32

LEAST_ABSORB, LEAST_SCATTER = 1e-7, 1e-9  # per µm: what is less looks the same
SLACK = 2e-4  # OKLab: what float32 may be off by, several times over
CONES: Array = OK_LMS @ BAND_TO_RGB.T  # (3, 12): cone responses of a spectrum, all positive
FROM_LAB: Array = np.asarray(np.linalg.inv(OK_LAB), dtype=np.float64)
CONE_REACH: Array = np.asarray(
    np.linalg.norm(FROM_LAB, axis=1), dtype=np.float64
)  # of a step of length 1 in OKLab


class Rows(NamedTuple):
    """Sums over the drops of m mixes: K and S (12, m), and weight, volume, surface (3, m).

    The last are left out, (0, m), where nothing depends on them.
    """

    k: Floats
    s: Floats
    rest: Floats

    def taken(self, members: Longs) -> Rows:
        """The rows of some paints, in the shape of `members`."""
        return Rows(*(np.take(row, members, axis=1) for row in self))

    def times(self, drops: Floats | np.float32) -> Rows:
        """So many drops of each."""
        return Rows(*(row * drops for row in self))

    def plus(self, other: Rows) -> Rows:
        """Both together, their shapes broadcast.

        Parameters
        ----------
        other : K and S to add
        """
        return Rows(*(a + b for a, b in zip(self, other, strict=True)))


class Bands:
    """The palette as float32 rows, band-major, and how bands of mixes are seen."""

    def __init__(self, palette: Palette, over: Over | None) -> None:
        weight = np.array(palette.drop) * np.array(palette.strength)
        volume = np.array(palette.drop)
        surface = np.array([o.surface for o in palette.optics])
        same = bool((surface == surface[0]).all())
        self.surface = surface[:1].astype(np.float32) if same else None
        scatter = np.stack([o.scatter_per_um for o in palette.optics], axis=1)
        needed = 0 if same and over is None else 3
        absorb = np.stack([o.absorb_per_um for o in palette.optics], axis=1)
        self.paint = Rows(
            np.maximum(absorb * weight, LEAST_ABSORB).astype(Single),
            np.maximum(scatter * weight, LEAST_SCATTER).astype(Single),
            np.stack([weight, volume, volume * surface]).astype(Single)[:needed],
        )
        self.over = over

    def seen(self, darkest: Rows, lightest: Rows) -> Floats:
        """(12, m) float32: bands as seen; K from one side, S and the surface from the other.

        Both are the same for plain mixes; for a box they are its two ends.

        Parameters
        ----------
        darkest : K and S that give the darkest of each box
        lightest : K and S that give the lightest of each box
        """
        if self.over is None:
            y = self._thick(darkest.k, lightest.s)
        else:
            # a mean needs its weight at the end that makes K larger and S smaller
            y = self._film(
                darkest.k * np.reciprocal(lightest.rest[0]),
                lightest.s * np.reciprocal(darkest.rest[0]),
            )
        surface = self.surface
        if surface is None:
            surface = lightest.rest[2] / darkest.rest[1]
        # the surface: y(y + s)/(y + s/4)
        up = y + surface
        up *= y
        y += Single(0.25) * surface
        up /= y
        return np.asarray(np.minimum(up, Single(1), out=up))

    @staticmethod
    def _thick(k: Floats, s: Floats) -> Floats:
        # R∞ = 1/(1 + q + √(q(q + 2))), q = K/S, leaves the binder as (1 − k₂)/(1/R∞ − k₂)
        q = k / s
        root = q + Single(2)
        root *= q
        np.sqrt(root, out=root)
        root += q
        root += Single(1 - INTERNAL_REFLECTION)
        return np.asarray(np.divide(Single(1 - INTERNAL_REFLECTION), root, out=root))

    def _film(self, k: Floats, s: Floats) -> Floats:
        # with a = K + S + γ and w = E(a Rg − S)/(a − S Rg): R = (S + a w)/(a + S w)
        assert self.over is not None
        ground = self.over.ground.astype(Single)[:, None]
        a = s + s
        a += k
        a *= k
        np.sqrt(a, out=a)
        w = a * Single(-2 * self.over.film_um)
        np.exp(w, out=w)
        a += k
        a += s
        w *= ground * a - s
        w /= a - ground * s
        top = a * w
        top += s
        w *= s
        w += a
        # leave the binder, (1 − k₂)R/(1 − k₂R)
        w -= Single(INTERNAL_REFLECTION) * top
        top *= Single(1 - INTERNAL_REFLECTION)
        top /= w
        return top


class Nearest:
    """The nearest mixes so far, and how far from the target a nearer one can lie."""

    def __init__(self, palette: Palette, over: Over | None, target: Array, keep: int) -> None:
        self.palette, self.over, self.target, self.keep = palette, over, target, keep
        self.cones = FROM_LAB @ target  # cube roots of its cone responses
        self.found: list[Candidate] = []
        self.radius = np.inf
        self._lock = Lock()

    def box(self) -> tuple[Floats, Floats]:
        """(3,) each: cone responses within which a nearer mix must lie."""
        half = np.minimum(self.radius + SLACK, 9.0) * CONE_REACH
        low, high = (self.cones - half) ** 3, (self.cones + half) ** 3
        return low.astype(np.float32), high.astype(np.float32)

    def near(self, response: Floats) -> Longs:
        """Places of the mixes that may be near enough; `response` (3, m) float32."""
        low, high = self.box()
        within = response[0] >= low[0]
        within &= response[0] <= high[0]
        for i in (1, 2):
            within &= response[i] >= low[i]
            within &= response[i] <= high[i]
        return np.flatnonzero(within)

    def add(self, members: Longs, drops: Longs, response: Floats) -> None:
        """Keep those of some mixes that are near enough.

        Parameters
        ----------
        members, drops : (p, m) int
        response : (3, m) float32, cone responses
        """
        lab = np.cbrt(response.T.astype(np.float64)) @ OK_LAB.T
        distance = np.linalg.norm(lab - self.target, axis=1)
        order = np.argsort(distance, kind="stable")
        order = order[distance[order] <= self.radius + SLACK][: self.keep + 4]
        exact = [self._exact(members[:, j], drops[:, j]) for j in order]
        with self._lock:
            every = sorted([*self.found, *exact], key=lambda c: (c.distance, c.paints, c.drops))
            self.found = every[: self.keep]
            if len(self.found) == self.keep:
                self.radius = self.found[-1].distance

    def _exact(self, members: Longs, drops: Longs) -> Candidate:
        paints, whole = zip(
            *sorted((int(i), int(d)) for i, d in zip(members, drops, strict=True)), strict=True
        )
        lab = oklab_of(mix_rgb(self.palette.mix(paints, whole), self.over))
        return Candidate(paints, whole, float(np.linalg.norm(lab - self.target)))


def in_chunks(work: Callable[[int], None], count: int, size: int) -> None:
    """Run a chunk's work from every start, on both threads.

    Parameters
    ----------
    count : int, how many
    size : int, in one piece
    """
    with ThreadPoolExecutor(2) as pool:
        for _ in pool.map(work, range(0, count, size)):
            pass
