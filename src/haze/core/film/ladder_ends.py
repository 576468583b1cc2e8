"""Where a ladder begins and ends, by what way, and the paints that lie on it."""

from __future__ import annotations

from collections.abc import Container, Sequence

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import LadderError
from haze.core.film.difference import hue_turn, lch_of, oklab_of, oklch_of
from haze.core.film.gamut import most_chroma, rgb_of_oklch
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import is_clear, masstone_rgb
from haze.core.film.palette import Palette

SMOOTH_STEP = 0.085  # OKLab: a step of this size blends without a seam (judged)
MOST_RUNGS, LEAST_RUNGS = 12, 2
CHALK_WARNS = 0.35
LIGHTER_BY, STRONG_CHROMA, NEAR_HUE_DEG = 0.08, 0.05, 50.0  # OKLCh against the middle (judged)
MOST_LADDER_PAINTS = 6
WAYSIDE, NEAR_THE_WAY = 4, 0.07  # points on the way that paints are looked for at, OKLab (judged)
DARKER, LIGHTER = 0.20, 0.22  # how far a ladder from one colour reaches down and up, OKLab (judged)


def anchors_from_one(rgb: Array) -> list[Array]:
    """Dark, own and light colour of a ladder that is asked for by one colour.

    Both ends keep the hue; chroma follows what the gamut leaves at their lightness.

    Parameters
    ----------
    rgb : (3,) float [0..1], linear
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
    """So many rungs that no step of an even ladder is larger than a smooth one.

    Parameters
    ----------
    anchors : (k, 3) float, OKLab of the colours the ladder runs through
    """
    length = float(np.linalg.norm(np.diff(anchors, axis=0), axis=1).sum())
    return int(np.clip(np.ceil(length / SMOOTH_STEP) + 1, LEAST_RUNGS, MOST_RUNGS))


def chalk_of(rgb: Array, *, middle: Array) -> float:
    """Chalk [0..1]: 1 − C/C_ref, C_ref = C_mid · min(1, Cmax(L)/Cmax(L_mid)).

    How much chroma a highlight lost against its middle tone, beyond what its lightness costs.

    Parameters
    ----------
    rgb : (3,) float [0..1], linear
    """
    lightness, chroma, _ = (float(v) for v in oklch_of(rgb))
    mid_l, mid_c, hue = (float(v) for v in oklch_of(middle))
    if mid_c < 0.02 or lightness <= mid_l:
        return 0.0
    reference = mid_c * min(1.0, most_chroma(lightness, hue) / max(most_chroma(mid_l, hue), 1e-6))
    return float(np.clip(1.0 - chroma / max(reference, 1e-6), 0.0, 1.0))


def paints_for(anchors: Sequence[Array], palette: Palette) -> list[int]:
    """Paints that make the ends and the middle, few and simple, and those that lie on the way.

    Parameters
    ----------
    anchors : (3,) float each, OKLab of the colours the ladder runs through
    palette : the paints that may be taken
    """
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


def paints_allowed(anchors: Sequence[Array], palette: Palette, *, descending: bool) -> list[int]:
    """Numbers of the paints a ladder is built from: hiding ones, or clear ones to descend with.

    Parameters
    ----------
    anchors : 2 or 3 of (3,) float [-], linear sRGB, in the order they are sprayed
    palette : all paints
    descending : whether from light to dark, with paints one sees through

    Raises
    ------
    LadderError, when there are too few clear ones
    """
    fitting = [i for i, optics in enumerate(palette.optics) if is_clear(optics) == descending]
    if len(fitting) < 2 and descending:
        raise LadderError(
            "Descending goes from light to dark with transparent paints; give at least two of them "
            "(opacity transparent or semi_transparent).",
            field="paints",
        )
    if len(fitting) < 2:
        fitting = list(range(len(palette.optics)))
    return [fitting[i] for i in paints_for(anchors, palette.only(fitting))]


def lighter_than_white(palette: Palette, middle: Array, *, used: Container[int]) -> list[int]:
    """Numbers of light, strong, hiding paints of a hue that may lighten instead of white.

    Parameters
    ----------
    palette : all paints
    middle : (3,) float [-], linear sRGB of the ladder's middle
    used : numbers of the paints the ladder holds already
    """
    level, _, hue = lch_of(middle)
    found = []
    for i, optics in enumerate(palette.optics):
        own = lch_of(masstone_rgb(optics))
        strong = own[0] >= level + LIGHTER_BY and own[1] >= STRONG_CHROMA
        near = abs(float(hue_turn(own[2], hue))) <= NEAR_HUE_DEG
        if i not in used and strong and near and not is_clear(optics):
            found.append(i)
    return found
