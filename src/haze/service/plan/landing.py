"""Where the colours of a plan land, by real coats on the piece, beside the asked colour."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Array, Floats, Mask
from haze.core.drafting.sites import MIDDLE as MIDDLE_PLACE
from haze.core.drafting.stock import Stock, palette_of
from haze.core.film.difference import ciede2000, delta_e, lab_of, oklch_of
from haze.core.film.looks import shown
from haze.core.film.match import nearest_mixes
from haze.core.film.palette import mix_rgb
from haze.core.film.skin import seen
from haze.core.film.words import missing_words
from haze.core.onpiece.wanted import OTHER_FILM_UM
from haze.core.plan.document import Plan
from haze.service.piece.asked import guide
from haze.service.piece.onpiece import OnPiece

# light values: shade, low, middle, lit, light
RANGES = ((0.0, 0.15), (0.15, 0.35), (0.35, 0.65), (0.65, 0.8), (0.8, 1.0))
SHADE, MIDDLE, LIGHT = RANGES[0], RANGES[2], RANGES[4]
GREY = 0.035  # OKLab chroma below which a colour has none to keep
FAR = 6.5  # ΔE00 from which it is said what the shelf lacks
LEAST_CHROMA, CHROMA_COST = 0.8, 10.0
CHALKY = 0.65  # of the asked chroma: lights below it read as chalk (judged)
CLOSE = 5.0  # ΔE00 up to which a colour passes for the one that was asked (judged)
WORTH_A_WORD = 1.0  # ΔE00 by which another way must be nearer to be named
KEPT_LITTLE = 0.7  # of the asked chroma: below it is said too
FEWEST = 12  # places a median is taken of


class Landing(BaseModel):
    """Median colours in shade, half light and light on the show side, against those wanted.

    Of a gradient that follows something else they are those of its start, middle and end. Where
    chips, streaks or a dry brush lie does not count. `delta_e` and `chroma_kept` are of the middle;
    nine of ten of its places lie within `middle_spread`. `best_delta_e` is the nearest thick mix of
    the shelf to it. `chroma_kept` is null for a grey.
    """

    shade: str
    middle: str
    light: str
    delta_e: float
    shade_delta_e: float
    light_delta_e: float
    best_delta_e: float
    chroma_kept: float | None
    light_chroma_kept: float | None
    middle_spread: float
    words: str
    notes: list[str]

    @property
    def score(self) -> float:
        """How far it is off: the middle, and chroma that lacks in the middle and the light."""
        lacks = [
            max(LEAST_CHROMA - kept, 0.0)
            for kept in (self.chroma_kept, self.light_chroma_kept)
            if kept is not None
        ]
        return self.delta_e + CHROMA_COST * sum(lacks)


def landing(plan: Plan, on: OnPiece, wanted: Array, best: Array | None) -> Landing:
    """Where a plan lands at its end.

    Parameters
    ----------
    plan : with its coats, and what it was asked for: its gradient is followed, else the light
    on : its piece
    wanted : (p, 3) float, linear sRGB at each of `PLACES`
    best : (3,) float, the shelf's nearest thick mix; None without a paint that hides
    """
    where, asked = on.sampled, wanted[MIDDLE_PLACE]
    along = plan.asked.along if plan.asked else "light"
    rgb = np.clip(seen(on.sampled_skins(plan, len(plan.coats))[-1]).T, 0, 1).astype(np.float64)
    value = guide(on, plan, along)[where]
    show = show_side(plan, on) & ~_by_brush(plan, on)[where]
    dark, half, lit = (
        _some(show, value, within, near)
        for within, near in ((SHADE, 0.0), (MIDDLE, 0.5), (LIGHT, 1.0))
    )
    shade, middle, light = (np.median(rgb[m], axis=0) for m in (dark, half, lit))
    off = ciede2000(lab_of(rgb[half]), lab_of(middle))
    best_off = None if best is None else delta_e(best, asked)
    kept = [_chroma_kept(c, asked) for c in (middle, light)]
    away = delta_e(middle, asked)
    ends = delta_e(shade, wanted[0]), delta_e(light, wanted[-1])
    words = _words(away, best_off, *kept, lit=along == "light")
    if plan.asked and len(plan.asked.colours) > 1:
        words += _ends_words(*ends)
    return Landing(
        shade=shown(shade),
        middle=shown(middle),
        light=shown(light),
        delta_e=away,
        shade_delta_e=ends[0],
        light_delta_e=ends[1],
        best_delta_e=away if best_off is None else best_off,
        chroma_kept=kept[0],
        light_chroma_kept=kept[1],
        middle_spread=float(np.quantile(off, 0.9)),
        words=words,
        notes=_missing(away, kept[0], best, asked),
    )


def _chroma_kept(colour: Array, asked: Array) -> float | None:
    """Share of the asked chroma a colour has; None when grey was asked for."""
    own = float(oklch_of(asked)[1])
    return float(oklch_of(colour)[1]) / own if own > GREY else None


def _missing(away: float, kept: float | None, best: Array | None, asked: Array) -> list[str]:
    """What the shelf lacks, where the colour is missed because of it."""
    pale = kept is not None and kept < KEPT_LITTLE
    if best is None or not (away > FAR or pale) or delta_e(best, asked) <= 0.5 * FAR:
        return []
    return [missing_words(best, asked)]


def show_side(plan: Plan, on: OnPiece) -> Mask:
    """(n,) bool: samples of the show side that spray reaches.

    Parameters
    ----------
    plan : gives the blocked parts of the sky
    on : its piece
    """
    where = on.sampled
    return np.asarray(
        (on.piece.mesh.normals[where, 1] < 0) & on.reach.reachable(plan.piece.cones)[where]
    )


def _by_brush(plan: Plan, on: OnPiece) -> Mask:
    """(n,) bool: where a step by hand that is not all over decides: chips, streaks, dry brush."""
    out = np.zeros(on.piece.size, dtype=bool)
    for i, step in enumerate(plan.coats):
        if step.kind == "hand" and not step.washes and not step.off:
            out |= on.step_film(plan, i) > OTHER_FILM_UM
    return out


def _some(show: Mask, value: Floats, within: tuple[float, float], near: float) -> Mask:
    """The places of the show side in a range of light; the nearest to it where there are few."""
    found = show & (value >= within[0]) & (value <= within[1])
    if found.sum() >= FEWEST:
        return np.asarray(found)
    off = np.where(show, np.abs(value - near), np.inf)
    out = np.zeros(len(show), dtype=bool)
    out[np.argsort(off, kind="stable")[:FEWEST]] = True
    return out


def best_mix(asked: Array, stock: Stock) -> Array | None:
    """(3,) float: linear sRGB of the shelf's thick mix nearest to a colour.

    Parameters
    ----------
    asked : (3,) float, linear sRGB
    stock : what is on the shelf; None is the answer when none of it hides
    """
    paints = [p for p in stock.paints if p.hides and p.kind != "primer"]
    if not paints:
        return None
    palette = palette_of(paints)
    found = nearest_mixes(asked, palette, keep=1)[0]
    return mix_rgb(palette.mix(found.paints, found.drops), None)


def _ends_words(start: float, end: float) -> str:
    return f" Its ends lie ΔE {start:.1f} and {end:.1f} off."


def _closeness(away: float) -> str:
    """How near a ΔE00 is, as one would say it (judged)."""
    near = (
        (2.0, "as you asked"),
        (CLOSE, "close to what you asked"),
        (10.0, "near what you asked"),
    )
    return next((words for most, words in near if away <= most), "off what you asked")


def _words(
    away: float, best: float | None, kept: float | None, light: float | None, *, lit: bool
) -> str:
    where = "half light" if lit else "middle"
    text = f"The {where} ends {_closeness(away)} (ΔE {away:.1f})"
    if best is not None and away > CLOSE and best < away - WORTH_A_WORD:
        text += f"; a thick mix of your paints comes to {best:.1f}"
    if kept is not None:
        text += f". It keeps {min(kept, 1.0):.0%} of its strength"
    if lit and light is not None and light < CHALKY:
        text += f"; the lights go chalky, they keep {light:.0%}"
    return f"{text}."
