"""The rest of the last rung in the cup, and what to add to it for the next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import combinations

import numpy as np

from haze.core.arrays import Array
from haze.core.film.difference import oklab_of
from haze.core.film.paint import masstone_rgb
from haze.core.film.palette import Palette


def with_rest(
    palette: Palette,
    goal: dict[int, int],
    rest: dict[int, float],
    *,
    rest_volume: float,
    paints: Sequence[int],
    most_drops: int = 8,
) -> tuple[dict[int, int], Array]:
    """Drops to add to what is left in the cup so that it becomes the next rung's mix.

    Parameters
    ----------
    goal : drops of the rung by paint, its mix
    rest : volume shares by paint of what is left in the cup
    rest_volume : float, its volume in the palette's drop volumes, paint only
    paints : paints that may be added
    most_drops : int, drops in all

    Returns
    -------
    The drops to add, and the linear sRGB of the thick mix that results.
    """
    wanted = oklab_of(masstone_rgb(palette.mix(list(goal), list(goal.values()))))
    best: tuple[float, int, dict[int, int], Array] | None = None
    for size in range(1, min(2, len(paints)) + 1):
        for members in combinations(paints, size):
            for parts in _all_parts(size, most_drops):
                volumes = {i: share * rest_volume / palette.drop[i] for i, share in rest.items()}
                for i, d in zip(members, parts, strict=True):
                    volumes[i] = volumes.get(i, 0.0) + d
                rgb = masstone_rgb(palette.mix(list(volumes), list(volumes.values())))
                off = float(np.linalg.norm(oklab_of(rgb) - wanted))
                # a drop more must be worth it
                key = off + 0.002 * sum(parts)
                if best is None or key < best[0]:
                    best = (key, sum(parts), dict(zip(members, parts, strict=True)), rgb)
    assert best is not None
    return best[2], best[3]


def _all_parts(size: int, most_drops: int) -> list[tuple[int, ...]]:
    if size == 1:
        return [(d,) for d in range(1, most_drops + 1)]
    return [(a, b) for a in range(1, most_drops) for b in range(1, most_drops - a + 1)]


def rest_after(
    palette: Palette, rest: Mapping[int, float], add: Mapping[int, int], *, rest_volume: float
) -> dict[int, float]:
    """Volume shares by paint of what stays in the cup after a rung, paint only.

    Parameters
    ----------
    palette : gives the volumes of drops
    rest : shares by paint of what was in the cup before
    add : drops that were added, by paint
    rest_volume : float, of what was in the cup, in the palette's drop volumes
    """
    volumes = {i: share * rest_volume for i, share in rest.items()}
    for i, drops in add.items():
        volumes[i] = volumes.get(i, 0.0) + drops * palette.drop[i]
    whole = sum(volumes.values())
    return {i: v / whole for i, v in volumes.items()}
