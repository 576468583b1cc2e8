"""Boxes of mixes, left out whole when they lie farther from a colour than the mixes kept."""

from __future__ import annotations

from itertools import combinations_with_replacement
from typing import NamedTuple

import numpy as np

from haze.core.arrays import Array, Floats, Longs, Mask
from haze.core.film.difference import OK_LAB
from haze.core.film.mix_bands import (
    CONE_REACH,
    CONES,
    SLACK,
    Bands,
    Nearest,
    Rows,
    Single,
    in_chunks,
)
from haze.core.film.palette import compositions

BOXES = 1024  # boxes opened in one go by a thread: more leave the cache, fewer the other thread
LEVELS = 3  # of halving, before mixes are left: boxes begin with eight paints in a column


def _laid_out(rows: Rows) -> Longs:
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


class Slopes:
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


class Bounds:
    """Distances to the target below which no mix of a box can lie."""

    def __init__(self, bands: Bands, kept: Nearest) -> None:
        self.bands = bands
        self.slopes = Slopes(kept.cones)
        self.wanted = kept.cones.astype(Single)[:, None]
        self.reach = CONE_REACH.astype(Single)[:, None]
        self.cones = CONES.astype(Single)

    def least(self, low: Rows, high: Rows) -> Floats:
        """(m,) float32 for boxes whose sums over the drops lie between `low` and `high`."""
        dark, light = self.bands.seen(high, low), self.bands.seen(low, high)
        below = np.cbrt(self.cones @ dark) - self.wanted
        above = self.wanted - np.cbrt(self.cones @ light)
        by_cone = (np.maximum(below, above) / self.reach).max(axis=0)
        return np.asarray(np.maximum(by_cone, self.slopes.least(dark, light)))


class Level:
    """Columns that each hold one paint, or two columns of the level below.

    Attributes
    ----------
    low, high : Rows of (r, 2, n / 2): least and most of each column's paints, halves apart
    full : (n,) bool, columns that hold a paint at all
    """

    def __init__(self, low: Rows, high: Rows, full: Mask) -> None:
        self.low = Rows(*(_halves(row) for row in low))
        self.high = Rows(*(_halves(row) for row in high))
        self.full = full

    def above(self) -> Level:
        """The level of half as many columns."""
        some, first = self.full.reshape(-1, 2), self.full.reshape(-1, 2)[:, 0]

        def joined(rows: Rows, least: bool) -> Rows:
            ends = np.minimum if least else np.maximum
            # an empty place is always the second
            both = (np.where(some.all(axis=1), ends(r[:, 0], r[:, 1]), r[:, 0]) for r in rows)
            return Rows(*both)

        return Level(joined(self.low, True), joined(self.high, False), first)


def _halves(row: Floats) -> Floats:
    return np.ascontiguousarray(row.reshape(len(row), row.shape[1] // 2, 2).transpose(0, 2, 1))


class Boxes:
    """Boxes of mixes: three columns of paints that are alike, and the drops of each.

    A box falls into eight by the halves of its columns, again and again until mixes are left; what
    can not come nearer than the mixes kept is left out whole.
    """

    def __init__(self, bands: Bands, kept: Nearest, most_drops: int) -> None:
        self.bands, self.kept = bands, kept
        self.bounds = Bounds(bands, kept)
        self.paints = _laid_out(bands.paint)
        each = bands.paint.taken(np.maximum(self.paints, 0))
        self.levels = [Level(each, each, self.paints >= 0)]
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

        in_chunks(chunk, columns.shape[1], BOXES)
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

        in_chunks(chunk, len(boxes.least), BOXES)

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
        """Some of them.

        Parameters
        ----------
        which : places to take, or a slice of them
        """
        return Found(self.columns[:, which], self.drops[:, which], self.least[which])


def _crossed(halves: Rows, columns: Longs, drops: Longs) -> Rows:
    """Sums over the drops in the eighths of boxes.

    Parameters
    ----------
    halves : Rows of (r, 2, n)
    columns, drops : (3, m) int

    Returns
    -------
    Rows of (r, 8 m), in the order of (2, 2, 2, m)
    """
    few = drops.astype(Single)

    def one(row: Floats) -> Floats:
        a, b, c = (
            np.take(row, at, axis=2, mode="clip") * n for at, n in zip(columns, few, strict=True)
        )
        pairs = a[:, :, None, :] + b[:, None, :, :]
        eighths: Floats = pairs[:, :, :, None, :] + c[:, None, None, :, :]
        return eighths.reshape(len(row), 8 * columns.shape[1])

    return Rows(*(one(row) for row in halves))


def _corners(columns: Longs, eighths: Longs) -> tuple[Longs, Longs]:
    """Columns (3, k) on the level below of some eighths (k,), and the boxes they fell from (k,)."""
    *corner, box = np.unravel_index(eighths, (2, 2, 2, columns.shape[1]))
    return 2 * columns[:, box] + np.stack(corner), np.asarray(box)
