"""Mixing backwards: the mixes of owned paints, in whole drops, that come nearest to a colour.

Exact: every mix of up to three paints and eight drops is either tried or shown to lie farther away
than the ones kept. Paints are laid out so that neighbours are alike; for three runs of neighbours
and the drops of each, K and S of any member mix lie in a box, so its bands are bounded by
R(K_max, S_min) ≤ R ≤ R(K_min, S_max), thick or as a film over a ground, and so are its cone
responses. A box that lies farther from the target than the mixes kept is left out whole; the others
fall into eight by halving their runs, until single mixes are left. They are evaluated in float32 in
chunks that stay in cache, and what comes near enough again in float64.
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
Mask = NDArray[np.bool_]
Single = np.float32

MOST_PAINTS, MOST_DROPS = 3, 8
BOXES = 1024  # boxes opened in one go by a thread: more leave the cache, fewer the other thread
LEAST_ABSORB, LEAST_SCATTER = 1e-7, 1e-9  # per µm: what is less looks the same
BATCH = 8_000  # boxes opened at a time, nearest first
LEVELS = 3  # of halving, before mixes are left: boxes begin with eight paints in a column
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
    """Sums over the drops of m mixes: K and S (12, m), and weight, volume, surface (3, m).

    The last are left out, (0, m), where nothing depends on them.
    """

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
        scatter = np.stack([o.scatter_per_um for o in palette.optics], axis=1)
        needed = 0 if same and over is None else 3
        absorb = np.stack([o.absorb_per_um for o in palette.optics], axis=1)
        self.paint = _Rows(
            np.maximum(absorb * weight, LEAST_ABSORB).astype(Single),
            np.maximum(scatter * weight, LEAST_SCATTER).astype(Single),
            np.stack([weight, volume, volume * surface]).astype(Single)[:needed],
        )
        self.over = over

    def seen(self, darkest: _Rows, lightest: _Rows) -> Floats:
        """(12, m) float32: bands as seen; K from one side, S and the surface from the other.

        Both are the same for plain mixes; for a box they are its two ends.
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
        paints, whole = zip(
            *sorted((int(i), int(d)) for i, d in zip(members, drops, strict=True)), strict=True
        )
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


def _laid_out(rows: _Rows) -> Longs:
    """(2^d,) int: the paints in an order in which neighbours are alike, −1 in empty places.

    Paints are halved along their widest spread until each stands alone, so that every aligned run
    of 2, 4, 8 … places holds paints that are alike.
    """
    # bands count as much as the eye sees of them
    counts = np.tile(CONES.sum(axis=0), 2)
    like = np.log(np.maximum(np.concatenate([rows.k, rows.s]), 1e-6)).T * counts

    def halved(some: Longs, depth: int) -> list[int]:
        if depth == 0:
            return [int(some[0])] if len(some) else [-1]
        if len(some) > 1:
            off = like[some] - like[some].mean(axis=0)
            along = off @ np.linalg.svd(off, full_matrices=False)[2][0]
            some = some[np.argsort(along, kind="stable")]
        middle = (len(some) + 1) // 2
        return [*halved(some[:middle], depth - 1), *halved(some[middle:], depth - 1)]

    return np.array(halved(np.arange(len(like)), max(1, (len(like) - 1).bit_length())))


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


class _Bounds:
    """Distances to the target below which no mix of a box can lie."""

    def __init__(self, bands: _Bands, kept: _Kept) -> None:
        self.bands = bands
        self.slopes = _Slopes(kept.cones)
        self.wanted = kept.cones.astype(Single)[:, None]
        self.reach = CONE_REACH.astype(Single)[:, None]
        self.cones = CONES.astype(Single)

    def least(self, low: _Rows, high: _Rows) -> Floats:
        """(m,) float32 for boxes whose sums over the drops lie between `low` and `high`."""
        dark, light = self.bands.seen(high, low), self.bands.seen(low, high)
        below = np.cbrt(self.cones @ dark) - self.wanted
        above = self.wanted - np.cbrt(self.cones @ light)
        by_cone = (np.maximum(below, above) / self.reach).max(axis=0)
        return np.asarray(np.maximum(by_cone, self.slopes.least(dark, light)))


class _Level:
    """Columns that each hold one paint, or two columns of the level below.

    Attributes
    ----------
    low, high : _Rows of (r, 2, n / 2): least and most of each column's paints, halves apart
    full : (n,) bool, columns that hold a paint at all
    """

    def __init__(self, low: _Rows, high: _Rows, full: Mask) -> None:
        self.low = _Rows(*(_halves(row) for row in low))
        self.high = _Rows(*(_halves(row) for row in high))
        self.full = full

    def above(self) -> _Level:
        """The level of half as many columns."""
        some, first = self.full.reshape(-1, 2), self.full.reshape(-1, 2)[:, 0]

        def joined(rows: _Rows, least: bool) -> _Rows:
            ends = np.minimum if least else np.maximum
            # an empty place is always the second
            both = (np.where(some.all(axis=1), ends(r[:, 0], r[:, 1]), r[:, 0]) for r in rows)
            return _Rows(*both)

        return _Level(joined(self.low, True), joined(self.high, False), first)


def _halves(row: Floats) -> Floats:
    return np.ascontiguousarray(row.reshape(len(row), row.shape[1] // 2, 2).transpose(0, 2, 1))


class _Boxes:
    """Boxes of mixes: three columns of paints that are alike, and the drops of each.

    A box falls into eight by the halves of its columns, again and again until mixes are left; what
    can not come nearer than the mixes kept is left out whole.
    """

    def __init__(self, bands: _Bands, kept: _Kept, most_drops: int) -> None:
        self.bands, self.kept = bands, kept
        self.bounds = _Bounds(bands, kept)
        self.paints = _laid_out(bands.paint)
        each = bands.paint.taken(np.maximum(self.paints, 0))
        self.levels = [_Level(each, each, self.paints >= 0)]
        while len(self.levels[0].full) > 2 and len(self.levels) < LEVELS:
            self.levels.insert(0, self.levels[0].above())
        self.parts = np.array(compositions(3, most_drops), dtype=np.int64).T

    def roots(self) -> Found:
        """Boxes of the two top levels that may hold a nearer mix, nearest first."""
        top = len(self.levels[0].full) // 2
        cells = np.array(list(combinations_with_replacement(range(top), 3)), dtype=np.int64).T
        columns = np.tile(cells, self.parts.shape[1])
        drops = np.repeat(self.parts, cells.shape[1], axis=1)
        found: list[Found] = []

        def chunk(start: int) -> None:
            some = slice(start, start + BOXES)
            found.append(self._fallen(columns[:, some], drops[:, some], level=0))

        _in_chunks(chunk, columns.shape[1], BOXES)
        joined = Found(*(np.concatenate(one, axis=-1) for one in zip(*found, strict=True)))
        # threads finish in any order, and the search shall not depend on it
        order = np.lexsort((*joined.drops, *joined.columns, joined.least))
        return joined.taken(order)

    def open(self, boxes: Found) -> None:
        """Try every mix in some boxes that may lie nearer than those kept."""

        def chunk(start: int) -> None:
            some = boxes.taken(slice(start, start + BOXES))
            for level in range(1, len(self.levels) - 1):
                some = self._fallen(some.columns, some.drops, level=level)
            if len(some.least):
                self._try(some.columns, some.drops)

        _in_chunks(chunk, len(boxes.least), BOXES)

    def _fallen(self, columns: Longs, drops: Longs, *, level: int) -> Found:
        """The eighths of boxes on a level that may hold a nearer mix."""
        halves = self.levels[level]
        least = self.bounds.least(
            _crossed(halves.low, columns, drops), _crossed(halves.high, columns, drops)
        )
        near = np.flatnonzero(least <= self.kept.radius + SLACK)
        below, box = _corners(columns, near)
        sound = halves.full[below].all(axis=0) & (below[0] <= below[1]) & (below[1] <= below[2])
        return Found(below[:, sound], drops[:, box[sound]], least[near[sound]])

    def _try(self, columns: Longs, drops: Longs) -> None:
        total = _crossed(self.levels[-1].low, columns, drops)
        response = self.bounds.cones @ self.bands.seen(total, total)
        near = self.kept.near(response)
        below, box = _corners(columns, near)
        # a paint counts once, and three paints stand in one order only
        sound = (
            (self.paints[below] >= 0).all(axis=0) & (below[0] < below[1]) & (below[1] < below[2])
        )
        if sound.any():
            members = self.paints[below[:, sound]]
            self.kept.add(members, drops[:, box[sound]], response[:, near[sound]])


class Found(NamedTuple):
    """Boxes: their columns and drops, (3, m) int, and the least distance (m,) of their mixes."""

    columns: Longs
    drops: Longs
    least: Floats

    def taken(self, which: Longs | slice) -> Found:
        """Some of them."""
        return Found(self.columns[:, which], self.drops[:, which], self.least[which])


def _crossed(halves: _Rows, columns: Longs, drops: Longs) -> _Rows:
    """Sums over the drops in the eighths of boxes.

    Parameters
    ----------
    halves : _Rows of (r, 2, n)
    columns, drops : (3, m) int

    Returns
    -------
    _Rows of (r, 8 m), in the order of (2, 2, 2, m)
    """
    few = drops.astype(Single)

    def one(row: Floats) -> Floats:
        a, b, c = (
            np.take(row, at, axis=2, mode="clip") * n for at, n in zip(columns, few, strict=True)
        )
        pairs = a[:, :, None, :] + b[:, None, :, :]
        eighths: Floats = pairs[:, :, :, None, :] + c[:, None, None, :, :]
        return eighths.reshape(len(row), 8 * columns.shape[1])

    return _Rows(*(one(row) for row in halves))


def _corners(columns: Longs, eighths: Longs) -> tuple[Longs, Longs]:
    """Columns (3, k) on the level below of some eighths (k,), and the boxes they fell from (k,)."""
    *corner, box = np.unravel_index(eighths, (2, 2, 2, columns.shape[1]))
    return 2 * columns[:, box] + np.stack(corner), np.asarray(box)


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
        _open_nearest(_Boxes(bands, kept, most_drops), lambda: kept.radius, tell)
    return kept.found


def _open_nearest(
    boxes: _Boxes, radius: Callable[[], float], tell: Callable[[float], None]
) -> None:
    """Open boxes from the nearest on until none can hold a nearer mix than those kept."""
    every = boxes.roots()
    start, size = 0, BATCH // 4  # a first small batch brings the radius down
    while start < len(every.least) and every.least[start] <= radius() + SLACK:
        tell(0.15 + 0.8 * start / len(every.least))
        some = every.taken(slice(start, start + size))
        boxes.open(some.taken(np.flatnonzero(some.least <= radius() + SLACK)))
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
