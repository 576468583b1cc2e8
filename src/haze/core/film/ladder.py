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
from numpy.typing import NDArray

from haze.core.errors import HazeError, OutOfRangeError
from haze.core.film.difference import hue_turn, lightness_of, oklab_of, oklch_of
from haze.core.film.finish import outside_film
from haze.core.film.gamut import most_chroma, rgb_of_oklch
from haze.core.film.kubelka_munk import film
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import film_over, masstone_rgb
from haze.core.film.palette import Palette, compositions
from haze.core.film.spectra import LUMINANCE, rgb_of

Array = NDArray[np.float64]

BEAM, WAYS_TO_EACH = 48, 4
EVEN = 1.5  # largest over smallest step that still counts as even
SMOOTH_STEP = 0.085  # OKLab: a step of this size blends without a seam (judged)
MOST_RUNGS, LEAST_RUNGS = 12, 2
CHALK_WARNS = 0.35
MOST_LADDER_PAINTS = 6
WAYSIDE, NEAR_THE_WAY = 4, 0.07  # points on the way that paints are looked for at, OKLab (judged)
LEAST_PROGRESS = 0.01  # OKLab a rung must go on along the way
DARKER, LIGHTER = 0.20, 0.22  # how far a ladder from one colour reaches down and up, OKLab (judged)


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


def anchors_from_one(rgb: Array) -> list[Array]:
    """Dark, own and light colour of a ladder that is asked for by one colour.

    Both ends keep the hue; chroma follows what the gamut leaves at their lightness.
    """
    lightness, chroma, hue = (float(v) for v in oklch_of(rgb))
    own = most_chroma(lightness, hue)

    def at(level: float) -> Array:
        level = float(np.clip(level, 0.18, 0.96))
        share = chroma * min(1.0, most_chroma(level, hue) / max(own, 1e-6))
        return np.clip(rgb_of_oklch(np.array([level, share, hue])), 0.0, 1.0)

    return [at(lightness - DARKER), np.asarray(rgb), at(lightness + LIGHTER)]


def along(anchors: Array, count: int) -> Array:
    """(count, 3) float: points at equal distances along the line through the anchors, OKLab."""
    lengths = np.linalg.norm(np.diff(anchors, axis=0), axis=1)
    at = np.concatenate([[0.0], np.cumsum(lengths)])
    where = np.linspace(0.0, at[-1], count)
    return np.stack([np.interp(where, at, anchors[:, i]) for i in range(3)], axis=1)


def rungs_needed(anchors: Array) -> int:
    """So many rungs that no step of an even ladder is larger than a smooth one."""
    length = float(np.linalg.norm(np.diff(anchors, axis=0), axis=1).sum())
    return int(np.clip(np.ceil(length / SMOOTH_STEP) + 1, LEAST_RUNGS, MOST_RUNGS))


def chalk_of(rgb: Array, *, middle: Array) -> float:
    """Chalk [0..1]: 1 − C/C_ref, C_ref = C_mid · min(1, Cmax(L)/Cmax(L_mid)).

    How much chroma a highlight lost against its middle tone, beyond what its lightness costs.
    """
    lightness, chroma, _ = (float(v) for v in oklch_of(rgb))
    mid_l, mid_c, hue = (float(v) for v in oklch_of(middle))
    if mid_c < 0.02 or lightness <= mid_l:
        return 0.0
    reference = mid_c * min(1.0, most_chroma(lightness, hue) / max(most_chroma(mid_l, hue), 1e-6))
    return float(np.clip(1.0 - chroma / max(reference, 1e-6), 0.0, 1.0))


def paints_for(anchors: Sequence[Array], palette: Palette) -> list[int]:
    """Paints that make the ends and the middle, few and simple, and those that lie on the way."""
    chosen: list[int] = []
    for rgb in anchors:
        found = nearest_mixes(rgb, palette, most_paints=2, most_drops=4, keep=8)
        best = found[0].distance
        plain = min(
            (c for c in found if c.distance <= best + 0.015),
            key=lambda c: (len(c.paints), sum(c.drops)),
        )
        chosen += [i for i in plain.paints if i not in chosen]
    line = along(np.stack([oklab_of(a) for a in anchors]), WAYSIDE + 2)
    own = np.stack([oklab_of(masstone_rgb(o)) for o in palette.optics])
    for point in line[1:-1]:
        off = np.linalg.norm(own - point, axis=1)
        nearest = int(np.argmin(off))
        if off[nearest] < NEAR_THE_WAY and nearest not in chosen:
            chosen.append(nearest)
    return chosen[:MOST_LADDER_PAINTS]


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
    """
    if not 2 <= len(anchors) <= 3:
        raise HazeError("A ladder goes through two or three colours.", field="colours")
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
    return _told(best, pool, palette, wanted, ground=ground, film_um=film_um)


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
            raise HazeError(
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


def _told(
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
