"""Mixing backwards: the mixes of owned paints, in whole drops, that come nearest to a colour.

Exact: every mix of up to three paints and eight drops is either tried or shown to lie farther away
than the ones kept. Paints are gathered into small groups that are alike; for three groups and the
drops of each, K and S of any member mix lie in a box, so its bands are bounded by
R(K_max, S_min) ≤ R ≤ R(K_min, S_max), thick or as a film over a ground, and so are its cone
responses. A box that lies farther from the target than the mixes kept is left out whole; the others
are evaluated in float32 in chunks that stay in cache, and what comes near enough again in float64.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, combinations_with_replacement
from math import gcd
from threading import Lock
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from haze.core.errors import CancelledError, HazeError, OutOfRangeError
from haze.core.film.difference import OK_LAB, OK_LMS, oklab_of
from haze.core.film.finish import outside_film
from haze.core.film.kubelka_munk import INTERNAL_REFLECTION
from haze.core.film.mixing import Share, mixed
from haze.core.film.paint import PaintOptics, film_over, masstone_inside
from haze.core.film.spectra import BAND_TO_RGB, rgb_of

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Longs = NDArray[np.int64]
Single = np.float32

MOST_PAINTS, MOST_DROPS = 3, 8
BOXES = 256  # boxes opened in one go by a thread: their bands stay in cache
BATCH = 8_000  # boxes opened at a time, nearest first
GROUP = 4  # paints in a group, about
SLACK = 2e-4  # OKLab: what float32 may be off by, several times over
CONES: Array = OK_LMS @ BAND_TO_RGB.T  # (3, 12): cone responses of a spectrum, all positive
FROM_LAB: Array = np.asarray(np.linalg.inv(OK_LAB), dtype=np.float64)
CONE_REACH: Array = np.asarray(
    np.linalg.norm(FROM_LAB, axis=1), dtype=np.float64
)  # of a step of length 1 in OKLab

Progress = Callable[[float], bool]


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
        """A palette; equal drops and strengths when none are given."""
        if any(o.flake > 0 for o in optics):
            raise HazeError("Metal flake does not mix toward a colour; leave metals out.")
        n = len(optics)
        return cls(tuple(optics), tuple(drop or (1.0,) * n), tuple(strength or (1.0,) * n))

    def mix(self, paints: Sequence[int], drops: Sequence[float]) -> PaintOptics:
        """The optics of one mix; drops need not be whole."""
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
    """Drops of so many paints, at least one each, that are not the same mix in smaller numbers."""
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
    """(3,) float: linear sRGB of a mix, thick or as a film over a ground."""
    inside = (
        masstone_inside(optics) if over is None else film_over(optics, over.ground, over.film_um)
    )
    return rgb_of(outside_film(inside, optics.surface))


class _Rows(NamedTuple):
    """Sums over the drops of m mixes: K and S (12, m), and weight, volume, surface (3, m)."""

    k: Floats
    s: Floats
    rest: Floats

    def taken(self, members: Longs) -> _Rows:
        """The rows of some paints, in the shape of `members`."""
        return _Rows(*(np.take(row, members, axis=1) for row in self))

    def times(self, drops: Floats | np.float32) -> _Rows:
        """So many drops of each."""
        return _Rows(*(row * drops for row in self))

    def plus(self, other: _Rows) -> _Rows:
        """Both together, their shapes broadcast."""
        return _Rows(*(a + b for a, b in zip(self, other, strict=True)))


class _Bands:
    """The palette as float32 rows, band-major, and how bands of mixes are seen."""

    def __init__(self, palette: Palette, over: Over | None) -> None:
        weight = np.array(palette.drop) * np.array(palette.strength)
        volume = np.array(palette.drop)
        surface = np.array([o.surface for o in palette.optics])
        same = bool((surface == surface[0]).all())
        self.surface = surface[:1].astype(np.float32) if same else None
        self.paint = _Rows(
            (np.stack([o.absorb_per_um for o in palette.optics], axis=1) * weight).astype(Single),
            (np.stack([o.scatter_per_um for o in palette.optics], axis=1) * weight).astype(Single),
            np.stack([weight, volume, volume * surface]).astype(Single),
        )
        self.over = over

    def seen(self, darkest: _Rows, lightest: _Rows) -> Floats:
        """(12, m) float32: bands as seen; K from one side, S and the surface from the other.

        Both are the same for plain mixes; for a box they are its two ends.
        """
        if self.over is None:
            inside = self._thick(darkest.k, lightest.s)
        else:
            # a mean needs its weight at the end that makes K larger and S smaller
            k, s = darkest.k / lightest.rest[0], lightest.s / darkest.rest[0]
            inside = self._film(k, s)
        surface = self.surface
        if surface is None:
            surface = lightest.rest[2] / darkest.rest[1]
        # leave the binder, y = (1 − k₂)R/(1 − k₂R), then the surface, y(y + s)/(y + s/4)
        k2 = Single(INTERNAL_REFLECTION)
        down = inside * -k2
        down += Single(1)
        y = np.divide(inside, down, out=inside)
        y *= Single(1) - k2
        up = y + surface
        np.subtract(up, Single(0.75) * surface, out=down)
        up /= down
        y *= up
        return np.asarray(np.minimum(y, Single(1), out=y))

    @staticmethod
    def _thick(k: Floats, s: Floats) -> Floats:
        # R∞ = 1/(1 + q + √(q(q + 2))) with q = K/S: the difference of the two loses dark paints
        q = k / np.maximum(s, Single(1e-9))
        root = q + Single(2)
        root *= q
        np.sqrt(root, out=root)
        q += root
        q += Single(1)
        return np.reciprocal(q, out=q)

    def _film(self, k: Floats, s: Floats) -> Floats:
        assert self.over is not None
        ground = self.over.ground.astype(Single)[:, None]
        k = np.maximum(k, Single(1e-7))
        gamma = s + s
        gamma += k
        gamma *= k
        np.sqrt(gamma, out=gamma)
        rho = k + s
        rho += gamma
        np.divide(s, rho, out=rho)
        gamma *= Single(-2 * self.over.film_um)
        np.exp(gamma, out=gamma)
        v = rho * ground
        np.subtract(Single(1), v, out=v)
        np.divide(ground - rho, v, out=v)
        v *= gamma
        out = rho + v
        rho *= v
        rho += Single(1)
        return np.asarray(np.divide(out, rho, out=out))


class _Kept:
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
        paints, whole = tuple(int(i) for i in members), tuple(int(d) for d in drops)
        lab = oklab_of(mix_rgb(self.palette.mix(paints, whole), self.over))
        return Candidate(paints, whole, float(np.linalg.norm(lab - self.target)))


def _in_chunks(work: Callable[[int], None], count: int, size: int) -> None:
    """Run a chunk's work from every start, on both threads."""
    with ThreadPoolExecutor(2) as pool:
        for _ in pool.map(work, range(0, count, size)):
            pass


def _try_few(bands: _Bands, kept: _Kept, *, paints: int, most_drops: int) -> None:
    """Try every mix of one or two paints."""
    count = bands.paint.k.shape[1]
    members = np.array(list(combinations(range(count), paints)), dtype=np.int64).T
    slots = [bands.paint.taken(row) for row in members]
    cones = CONES.astype(Single)
    for parts in compositions(paints, most_drops):
        total = slots[0].times(Single(parts[0]))
        for slot, drops in zip(slots[1:], parts[1:], strict=True):
            total = total.plus(slot.times(Single(drops)))
        response = cones @ bands.seen(total, total)
        near = kept.near(response)
        if len(near):
            some = np.repeat(np.array(parts)[:, None], len(near), axis=1)
            kept.add(members[:, near], some, response[:, near])


def _grouped(rows: _Rows) -> Longs:
    """(GROUP, g) int: paints halved along their widest spread until few are left.

    A group that is not full repeats its first paint.
    """
    # bands count as much as the eye sees of them
    counts = np.tile(CONES.sum(axis=0), 2)
    like = np.log(np.maximum(np.concatenate([rows.k, rows.s]), 1e-6)).T * counts
    groups: list[Longs] = []

    def halve(some: Longs) -> None:
        if len(some) <= GROUP:
            few = np.sort(some)
            groups.append(np.concatenate([few, np.repeat(few[:1], GROUP - len(few))]))
            return
        off = like[some] - like[some].mean(axis=0)
        along = off @ np.linalg.svd(off, full_matrices=False)[2][0]
        order = some[np.argsort(along, kind="stable")]
        halve(order[: len(order) // 2])
        halve(order[len(order) // 2 :])

    halve(np.arange(len(like)))
    return np.stack(groups, axis=1)


class _Slopes:
    """OKLab near the target as linear in the bands, with what the bend may be off by.

    With cone roots t + Δ, a cone differs by 3t²Δ + 3tΔ² + Δ³, so Σ c (t + Δ)³/(3t²) is off from
    Σ c Δ by Σ c (Δ²/t + Δ³/3t²); within a distance r, |Δ| ≤ reach · r. A box whose linear value
    lies a gap away needs r + a r² ≥ gap, with a taken for r up to `FARTHEST`.
    """

    FARTHEST = 0.3

    def __init__(self, roots: Array) -> None:
        t = np.maximum(roots, 1e-3)
        across = OK_LAB / (3 * t**2)
        weights = across @ CONES  # (3, 12)
        self.up = np.maximum(weights, 0).astype(Single)
        self.down = np.minimum(weights, 0).astype(Single)
        self.wanted = (across @ roots**3).astype(Single)[:, None]
        size = np.abs(OK_LAB)
        bend = size @ (CONE_REACH**2 / t) + self.FARTHEST * size @ (CONE_REACH**3 / (3 * t**2))
        self.bend = bend.astype(Single)[:, None]

    def least(self, dark: Floats, light: Floats) -> Floats:
        """(m,) float32: distance below which no mix of a box can lie.

        Parameters
        ----------
        dark, light : (12, m) float32, the least and the most its bands can show
        """
        low = self.up @ dark + self.down @ light
        high = self.up @ light + self.down @ dark
        gap = np.maximum(np.maximum(low - self.wanted, self.wanted - high), 0)
        near = (np.sqrt(1 + 4 * self.bend * gap) - 1) / (2 * self.bend)
        return np.asarray(np.minimum(near, Single(self.FARTHEST)).max(axis=0))


class _Boxes:
    """Three groups of paints and the drops of each: what any mix of their members can show."""

    def __init__(self, bands: _Bands, kept: _Kept, most_drops: int) -> None:
        self.groups = _grouped(bands.paint)
        every = combinations_with_replacement(range(self.groups.shape[1]), 3)
        self.cells = np.array(list(every), dtype=np.int64).T
        self.parts = np.array(compositions(3, most_drops), dtype=np.int64)
        self.least = self._least(bands, kept)
        self.order = np.argsort(self.least, kind="stable")

    def _least(self, bands: _Bands, kept: _Kept) -> Floats:
        """Distance to the target below which no member mix can lie; parts by cells, flat."""
        low = _Rows(*(row[:, self.groups].min(axis=1) for row in bands.paint))
        high = _Rows(*(row[:, self.groups].max(axis=1) for row in bands.paint))
        slots = [(low.taken(cell), high.taken(cell)) for cell in self.cells]
        cones, reach = CONES.astype(Single), CONE_REACH.astype(Single)[:, None]
        wanted = kept.cones.astype(Single)[:, None]
        slopes = _Slopes(kept.cones)
        out = np.empty((len(self.parts), self.cells.shape[1]), dtype=Single)

        def one(row: int) -> None:
            a, b, c = (
                (least.times(Single(d)), most.times(Single(d)))
                for (least, most), d in zip(slots, self.parts[row], strict=True)
            )
            least, most = a[0].plus(b[0]).plus(c[0]), a[1].plus(b[1]).plus(c[1])
            low_seen, high_seen = bands.seen(most, least), bands.seen(least, most)
            dark, light = np.cbrt(cones @ low_seen), np.cbrt(cones @ high_seen)
            by_cone = (np.maximum(dark - wanted, wanted - light) / reach).max(axis=0)
            out[row] = np.maximum(by_cone, slopes.least(low_seen, high_seen))

        _in_chunks(one, len(self.parts), 1)
        return out.ravel()

    def open(self, bands: _Bands, kept: _Kept, boxes: Longs) -> None:
        """Try every mix in some boxes: all members of one group with all of the other two."""
        grouped = _Rows(*(row[:, self.groups] for row in bands.paint))  # (…, GROUP, g)
        cones = CONES.astype(Single)

        def chunk(start: int) -> None:
            some = boxes[start : start + BOXES]
            part, cell = np.divmod(some, self.cells.shape[1])
            a, b, c = (
                _Rows(*(np.take(row, cells, axis=2) * drops for row in grouped))
                for cells, drops in zip(
                    self.cells[:, cell], self.parts[part].T.astype(Single), strict=True
                )
            )
            total = _Rows(
                *(
                    (
                        (i[:, :, None, :] + j[:, None, :, :])[:, :, :, None, :]
                        + k[:, None, None, :, :]
                    ).reshape(len(i), -1)
                    for i, j, k in zip(a, b, c, strict=True)
                )
            )
            response = cones @ bands.seen(total, total)
            near = kept.near(response)
            if len(near):
                self._add(kept, some, near, response[:, near])

        _in_chunks(chunk, len(boxes), BOXES)

    def _add(self, kept: _Kept, boxes: Longs, near: Longs, response: Floats) -> None:
        i, j, k, box = np.unravel_index(near, (GROUP, GROUP, GROUP, len(boxes)))
        part, cell = np.divmod(boxes[box], self.cells.shape[1])
        cells = self.cells[:, cell]
        members = np.stack([self.groups[n, c] for c, n in zip(cells, (i, j, k), strict=True)])
        # a paint counts once, and paints of one group stand in one order only
        once = (members[0] != members[1]) & (members[1] != members[2]) & (members[0] != members[2])
        once &= (cells[0] != cells[1]) | (i < j)
        once &= (cells[1] != cells[2]) | (j < k)
        for n, place in enumerate((i, j, k)):
            once &= (place == 0) | (members[n] != self.groups[0, cells[n]])
        if once.any():
            kept.add(members[:, once], self.parts[part[once]].T, response[:, once])


def nearest_mixes(
    target_rgb: Array,
    palette: Palette,
    *,
    over: Over | None = None,
    most_paints: int = MOST_PAINTS,
    most_drops: int = MOST_DROPS,
    keep: int = 8,
    progress: Progress | None = None,
) -> list[Candidate]:
    """The mixes nearest to a colour in OKLab, nearest first.

    Parameters
    ----------
    target_rgb : (3,) float, linear sRGB
    over : a ground and a film, or None for a thick film
    most_paints, most_drops : int, 1..3 paints and 1..8 drops a mix may have
    keep : int, how many to keep
    progress : told the share done; the search stops when it answers False
    """
    _check(palette, most_paints, most_drops)
    kept = _Kept(palette, over, oklab_of(target_rgb), keep)
    bands = _Bands(palette, over)
    count = len(palette.optics)

    def tell(done: float) -> None:
        if progress and not progress(done):
            raise CancelledError("Stopped looking for mixes.")

    for paints in range(1, min(most_paints, count, most_drops, 2) + 1):
        tell(0.05 * paints)
        _try_few(bands, kept, paints=paints, most_drops=most_drops)
    if min(most_paints, count, most_drops) == MOST_PAINTS:
        boxes = _Boxes(bands, kept, most_drops)
        _open_nearest(bands, kept, boxes, tell)
    return kept.found


def _open_nearest(bands: _Bands, kept: _Kept, boxes: _Boxes, tell: Callable[[float], None]) -> None:
    """Open boxes from the nearest on until none can hold a nearer mix than those kept."""
    start, size = 0, BATCH // 4  # a first small batch brings the radius down
    while start < len(boxes.order):
        some = boxes.order[start : start + size]
        some = some[boxes.least[some] <= kept.radius + SLACK]
        if not len(some):
            return
        tell(0.15 + 0.8 * start / len(boxes.order))
        boxes.open(bands, kept, some)
        start, size = start + size, BATCH


def _check(palette: Palette, most_paints: int, most_drops: int) -> None:
    if not palette.optics:
        raise HazeError("There is no paint to mix from.", field="paints")
    if not 1 <= most_paints <= MOST_PAINTS:
        raise OutOfRangeError(
            f"max_paints is {most_paints}; accepted are 1 to {MOST_PAINTS}.", field="max_paints"
        )
    if not 1 <= most_drops <= MOST_DROPS:
        raise OutOfRangeError(
            f"max_drops is {most_drops}; accepted are 1 to {MOST_DROPS}.", field="max_drops"
        )


def every_mix(
    target_rgb: Array,
    palette: Palette,
    *,
    over: Over | None = None,
    most_paints: int = MOST_PAINTS,
    most_drops: int = MOST_DROPS,
) -> list[Candidate]:
    """All mixes by plain enumeration, nearest first: what the pruned search is checked against."""
    _check(palette, most_paints, most_drops)
    target = oklab_of(target_rgb)
    found = []
    for paints in range(1, min(most_paints, len(palette.optics), most_drops) + 1):
        parts = np.array(compositions(paints, most_drops), dtype=np.int64)
        for members in combinations(range(len(palette.optics)), paints):
            lab = _labs(palette, over, members, parts)
            away = np.linalg.norm(lab - target, axis=1)
            found += [
                Candidate(members, tuple(int(d) for d in row), float(a))
                for row, a in zip(parts, away, strict=True)
            ]
    return sorted(found, key=lambda c: c.distance)


def _labs(palette: Palette, over: Over | None, members: tuple[int, ...], parts: Longs) -> Array:
    """(c, 3) float: OKLab of all compositions of one group, in float64."""
    drop = np.array([palette.drop[i] for i in members])
    volume = parts * drop
    weight = volume * np.array([palette.strength[i] for i in members])
    weight /= weight.sum(axis=1, keepdims=True)
    k = weight @ np.stack([palette.optics[i].absorb_per_um for i in members])
    s = weight @ np.stack([palette.optics[i].scatter_per_um for i in members])
    share = volume / volume.sum(axis=1, keepdims=True)
    surface = share @ np.array([palette.optics[i].surface for i in members])
    if over is None:
        inside = s / (k + s + np.sqrt(k * (k + 2 * s)))
    else:
        gamma = np.sqrt(k * (k + 2 * s))
        rho = s / (k + s + gamma)
        ev = (over.ground - rho) / (1 - rho * over.ground) * np.exp(-2 * gamma * over.film_um)
        inside = (rho + ev) / (1 + rho * ev)
    y = (1 - INTERNAL_REFLECTION) * inside / (1 - INTERNAL_REFLECTION * inside)
    seen = np.minimum(y * (y + surface[:, None]) / (y + surface[:, None] / 4), 1.0)
    return oklab_of(seen @ BAND_TO_RGB)
