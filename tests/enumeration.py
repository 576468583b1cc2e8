"""All mixes by plain enumeration: what the pruned search is checked and measured against."""

from __future__ import annotations

from itertools import combinations

import numpy as np

from haze.core.arrays import Array, Longs
from haze.core.film.difference import oklab_of
from haze.core.film.finish import outside_film
from haze.core.film.kubelka_munk import film, thick
from haze.core.film.match import MOST_DROPS, MOST_PAINTS
from haze.core.film.palette import Candidate, Over, Palette, compositions
from haze.core.film.spectra import BAND_TO_RGB


def every_mix(
    target_rgb: Array,
    palette: Palette,
    *,
    over: Over | None = None,
    most_paints: int = MOST_PAINTS,
    most_drops: int = MOST_DROPS,
) -> list[Candidate]:
    """All mixes, nearest first; in float64, all compositions of a group of paints at once."""
    target = oklab_of(target_rgb)
    found = []
    for paints in range(1, min(most_paints, len(palette.optics), most_drops) + 1):
        parts = np.array(compositions(paints, most_drops), dtype=np.int64)
        for members in combinations(range(len(palette.optics)), paints):
            away = np.linalg.norm(_labs(palette, over, members, parts) - target, axis=1)
            found += [
                Candidate(members, tuple(int(d) for d in row), float(a))
                for row, a in zip(parts, away, strict=True)
            ]
    return sorted(found, key=lambda c: c.distance)


def _labs(palette: Palette, over: Over | None, members: tuple[int, ...], parts: Longs) -> Array:
    """(c, 3) float: OKLab of all compositions of one group."""
    volume = parts * np.array([palette.drop[i] for i in members])
    weight = volume * np.array([palette.strength[i] for i in members])
    weight /= weight.sum(axis=1, keepdims=True)
    share = volume / volume.sum(axis=1, keepdims=True)
    surface = share @ np.array([palette.optics[i].surface for i in members])
    k = weight @ np.stack([palette.optics[i].absorb_per_um for i in members])
    s = weight @ np.stack([palette.optics[i].scatter_per_um for i in members])
    inside = thick(k, s) if over is None else film(k, s, over.ground, over.film_um)
    return oklab_of(outside_film(inside, surface[:, None]) @ BAND_TO_RGB)
