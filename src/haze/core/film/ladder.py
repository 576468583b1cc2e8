"""Ladders: rungs from one colour to another in whole drops of owned paints and even steps.

Rungs are chosen by a beam search over mixes on their predicted film colours in OKLab, each over the
rung below it, so that they follow the line between the wanted colours in equal steps
(docs/models.md C7).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import LadderError, OutOfRangeError
from haze.core.film.difference import hue_turn, oklab_of
from haze.core.film.finish import outside_film
from haze.core.film.gamut import rgb_of_oklch
from haze.core.film.kubelka_munk import film
from haze.core.film.ladder_ends import (
    LEAST_RUNGS,
    MOST_RUNGS,
    along,
    chalk_of,
    paints_for,
    rungs_needed,
)
from haze.core.film.paint import film_over, masstone_rgb
from haze.core.film.palette import Palette, compositions
from haze.core.film.spectra import rgb_of
from haze.core.film.srgb import LUMINANCE, lightness_of

BEAM, WAYS_TO_EACH = 48, 4
EVEN = 1.5  # largest over smallest step that still counts as even
LEAST_PROGRESS = 0.01  # OKLab a rung must go on along the way


@dataclass(frozen=True, slots=True)
class Rung:
    """One step: drops by paint index, colour as seen over the rung before it, and its flaws."""

    drops: dict[int, int]
    inside: Array
    rgb: Array
    lightness: float  # CIE L*
    step: float  # OKLab distance from the rung before; 0 for the first
    off: float  # OKLab distance from where an even ladder would stand
    chalk: float
    hue_turn_deg: float  # away from the line between the wanted colours


@dataclass(frozen=True, slots=True)
class Ladder:
    """All rungs, and how even they are."""

    rungs: list[Rung]
    evenness: float  # largest over smallest step
    ends_off: tuple[float, float]  # OKLab distance of the first and last rung from the wanted ones


@dataclass(frozen=True, slots=True)
class _Pool:
    """All mixes of the ladder's paints: drops, thick colour, optics, and a small price of drops."""

    drops: list[dict[int, int]]
    lab: Array
    absorb: Array
    scatter: Array
    surface: Array
    plainness: Array


def _pool(palette: Palette, paints: Sequence[int], most_drops: int) -> _Pool:
    drops: list[dict[int, int]] = []
    for size in range(1, min(3, len(paints)) + 1):
        for members in combinations(paints, size):
            drops += [
                dict(zip(members, parts, strict=True)) for parts in compositions(size, most_drops)
            ]
    optics = [palette.mix(list(d), list(d.values())) for d in drops]
    return _Pool(
        drops,
        lab=oklab_of(np.stack([masstone_rgb(o) for o in optics])),
        absorb=np.stack([o.absorb_per_um for o in optics], axis=1),
        scatter=np.stack([o.scatter_per_um for o in optics], axis=1),
        surface=np.array([o.surface for o in optics]),
        plainness=np.array([2e-5 * (sum(d.values()) + 2 * len(d)) for d in drops]),
    )


@dataclass(frozen=True, slots=True)
class _Way:
    """A ladder begun: cost, mixes so far, surface on top, colours."""

    cost: float
    picks: tuple[int, ...]
    inside: Array
    labs: tuple[Array, ...]


def find_ladder(
    anchors: Sequence[Array],
    palette: Palette,
    *,
    rungs: int | None = None,
    ground: Array,
    film_um: float,
    paints: Sequence[int] | None = None,
    most_drops: int = 8,
) -> Ladder:
    """A ladder through the wanted colours.

    Parameters
    ----------
    anchors : 2 or 3 of (3,) float, linear sRGB, in the order they are sprayed
    rungs : int, how many; None for as many as smooth steps need
    ground : (12,) float [-], inside the binder, what the first rung goes over
    film_um : float [µm, dry] of every rung
    paints : indices of the paints to mix from; None to choose them
    palette : the paints that may be taken
    most_drops : int, drops in all
    """
    if not 2 <= len(anchors) <= 3:
        raise LadderError("A ladder goes through two or three colours.", field="colours")
    if rungs is not None and not LEAST_RUNGS <= rungs <= MOST_RUNGS:
        raise OutOfRangeError(
            f"rungs is {rungs}; accepted are {LEAST_RUNGS} to {MOST_RUNGS}.", field="rungs"
        )
    line = np.stack([oklab_of(a) for a in anchors])
    count = rungs if rungs is not None else rungs_needed(line)
    wanted = along(line, count)
    use = list(paints) if paints is not None else paints_for(anchors, palette)
    pool = _pool(palette, use, most_drops)
    best = _search(pool, wanted, ground=ground, film_um=film_um)
    return _ladder(best, pool, palette, wanted, ground=ground, film_um=film_um)


def _search(pool: _Pool, wanted: Array, *, ground: Array, film_um: float) -> _Way:
    ways = [_Way(0.0, (), ground, ())]
    for n, target in enumerate(wanted):
        onward = target - wanted[n - 1] if n else np.zeros(3)
        onward /= max(float(np.linalg.norm(onward)), 1e-9)
        # films differ from thick colours: look a little farther than the nearest
        near = np.argsort(np.linalg.norm(pool.lab - target, axis=1), kind="stable")[:BEAM]
        grown: list[_Way] = []
        for way in ways:
            inside = film(pool.absorb[:, near], pool.scatter[:, near], way.inside[:, None], film_um)
            labs = oklab_of(rgb_of(outside_film(inside, pool.surface[near])).T)
            costs = way.cost + ((labs - target) ** 2).sum(axis=1) + pool.plainness[near]
            forward = (
                (labs - way.labs[-1]) @ onward > LEAST_PROGRESS if n else np.ones(len(near), bool)
            )
            grown += [
                _Way(float(costs[j]), (*way.picks, i), inside[:, j], (*way.labs, labs[j]))
                for j, i in enumerate(near.tolist())
                if forward[j] and i not in way.picks
            ]
        if not grown:
            raise LadderError(
                "These paints make too few different mixes for so many rungs; name another paint "
                "or ask for fewer rungs.",
                field="rungs",
            )
        # a few ways to each mix are kept, so that no end is walled off by a cheap wrong turn
        best: dict[int, list[_Way]] = {}
        for way in sorted(grown, key=lambda w: w.cost):
            ending = best.setdefault(way.picks[-1], [])
            if len(ending) < WAYS_TO_EACH:
                ending.append(way)
        ways = [way for ending in best.values() for way in ending]
    return min(ways, key=lambda w: w.cost + _unevenness(w.labs))


def _unevenness(labs: Sequence[Array]) -> float:
    steps = np.linalg.norm(np.diff(np.stack(labs), axis=0), axis=1)
    ratio = float(steps.max() / max(float(steps.min()), 1e-6))
    return 0.01 * max(0.0, ratio - EVEN)


def _ladder(
    way: _Way, pool: _Pool, palette: Palette, wanted: Array, *, ground: Array, film_um: float
) -> Ladder:
    rungs: list[Rung] = []
    inside = ground
    middle = wanted[len(wanted) // 2]
    for i, pick in enumerate(way.picks):
        drops = pool.drops[pick]
        optics = palette.mix(list(drops), list(drops.values()))
        inside = film_over(optics, inside, film_um)
        rgb = rgb_of(outside_film(inside, optics.surface))
        lab = way.labs[i]
        rungs.append(
            Rung(
                drops=drops,
                inside=inside,
                rgb=rgb,
                lightness=float(lightness_of(LUMINANCE @ np.clip(rgb, 0, 1))),
                step=float(np.linalg.norm(lab - way.labs[i - 1])) if i else 0.0,
                off=float(np.linalg.norm(lab - wanted[i])),
                chalk=_chalk(lab, middle),
                hue_turn_deg=_hue_turn(lab, wanted[i]),
            )
        )
    steps = [r.step for r in rungs[1:]]
    return Ladder(
        rungs,
        evenness=max(steps) / max(min(steps), 1e-6),
        ends_off=(rungs[0].off, rungs[-1].off),
    )


def _chalk(lab: Array, middle: Array) -> float:
    return chalk_of(_rgb_of_lab(lab), middle=_rgb_of_lab(middle))


def _rgb_of_lab(lab: Array) -> Array:
    hue = np.degrees(np.arctan2(lab[2], lab[1]))
    return rgb_of_oklch(np.array([lab[0], np.hypot(lab[1], lab[2]), hue]))


def _hue_turn(lab: Array, wanted: Array) -> float:
    """Degrees of hue between two colours; 0 where either is nearly grey."""
    chroma = min(float(np.hypot(*lab[1:])), float(np.hypot(*wanted[1:])))
    if chroma < 0.025:
        return 0.0
    own, other = (np.degrees(np.arctan2(c[2], c[1])) for c in (lab, wanted))
    return float(hue_turn(own, other))
