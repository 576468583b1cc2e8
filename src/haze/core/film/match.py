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

from collections.abc import Callable
from itertools import combinations

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import EmptyMixError, OutOfRangeError
from haze.core.film.difference import oklab_of
from haze.core.film.mix_bands import CONES, SLACK, Bands, Nearest, Single
from haze.core.film.mix_boxes import Boxes
from haze.core.film.palette import Candidate, Over, Palette, compositions
from haze.core.progress import Progress, tell

__all__ = ("nearest_mixes",)

MOST_PAINTS, MOST_DROPS = 3, 8
BATCH = 8_000  # boxes opened at a time, nearest first


def _try_few(bands: Bands, kept: Nearest, *, paints: int, most_drops: int) -> None:
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
    progress : called with the share done; the search stops when it answers False
    palette : the paints that may be taken
    """
    _check(palette, most_paints, most_drops)
    kept = Nearest(palette, over, oklab_of(target_rgb), keep)
    bands = Bands(palette, over)
    count = len(palette.optics)

    def report(done: float) -> None:
        tell(progress, done, "Stopped looking for mixes.")

    for paints in range(1, min(most_paints, count, most_drops, 2) + 1):
        report(0.05 * paints)
        _try_few(bands, kept, paints=paints, most_drops=most_drops)
    if min(most_paints, count, most_drops) == MOST_PAINTS:
        _open_nearest(Boxes(bands, kept, most_drops), lambda: kept.radius, report)
    return kept.found


def _open_nearest(
    boxes: Boxes, radius: Callable[[], float], report: Callable[[float], None]
) -> None:
    """Open boxes from the nearest on until none can hold a nearer mix than those kept."""
    every = boxes.roots()
    start, size = 0, BATCH // 4  # a first small batch brings the radius down
    while start < len(every.least) and every.least[start] <= radius() + SLACK:
        report(0.15 + 0.8 * start / len(every.least))
        some = every.taken(slice(start, start + size))
        boxes.open(some.taken(np.flatnonzero(some.least <= radius() + SLACK)))
        start, size = start + size, BATCH


def _check(palette: Palette, most_paints: int, most_drops: int) -> None:
    if not palette.optics:
        raise EmptyMixError("There is no paint to mix from.", field="paints")
    if not 1 <= most_paints <= MOST_PAINTS:
        raise OutOfRangeError(
            f"max_paints is {most_paints}; accepted are 1 to {MOST_PAINTS}.", field="max_paints"
        )
    if not 1 <= most_drops <= MOST_DROPS:
        raise OutOfRangeError(
            f"max_drops is {most_drops}; accepted are 1 to {MOST_DROPS}.", field="max_drops"
        )
