"""What asked colours want of each light value: one colour's shades and lights, or a gradient.

The asked colour is the middle: it owns the half light and most of the lit side. Shades below it and
lights above it keep as much of its chroma as the shelf can, along the hue's own way.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array, Floats
from haze.core.drafting.sites import MIDDLE, PLACES
from haze.core.film.difference import lab_of, oklab_of, oklch_of
from haze.core.film.gamut import into_gamut, rgb_of_oklch
from haze.core.film.layering import Goal

STEPS_L = np.array([-22.0, -9.0, 0.0, 7.0, 12.0])  # L* about the middle
KEEPS = np.array([0.70, 0.90, 1.0, 0.97, 0.92])  # share of the asked chroma wanted there
NEEDS = np.array([0.50, 0.75, 0.90, 0.85, 0.80])  # share below which it lacks
WEIGHTS = np.array([0.5, 0.6, 4.0, 1.0, 1.2])
LIFTS = {"climb": 6.0, "span": 6.0, "veil": 7.0, "descend": 9.5}  # L* of lights above the middle
EVEN_WEIGHTS, GRADIENT_NEED = np.array([2.0, 1.0, 2.2, 1.0, 2.0]), 0.8  # of colours given for each
WAY_DEG = 10.0  # hue of the lightest place, along the hue's own way
DARKEST_L, LIGHTEST_L = 6.0, 96.0


def wanted_colours(asked: Array) -> Array:
    """(p, 3) float: linear sRGB wanted at each place.

    One colour is the middle, with shades and lights of its own. Two are those of the shade and of
    the light, three those of shade, middle and light, even in OKLab between them.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB, one to three
    """
    if len(asked) > 1:
        return _between(asked)
    return _about(asked[0])


def wanted_at(asked: Array, value: Floats) -> Floats:
    """(n, 3) float32: linear sRGB wanted where the light has a value, even in OKLab between places.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB, as `wanted_colours` takes it
    value : (n,) float [0..1], of the light
    """
    lab = oklab_of(wanted_colours(asked))
    mixed = np.stack([np.interp(value, PLACES, axis) for axis in lab.T], axis=1)
    return _rgb_of_oklab(mixed).astype(np.float32)


def _between(asked: Array) -> Array:
    ends = np.linspace(PLACES[0], PLACES[-1], len(asked))
    mixed = np.stack([np.interp(PLACES, ends, axis) for axis in oklab_of(asked).T], axis=1)
    out = _rgb_of_oklab(mixed)
    out[0], out[-1] = asked[0], asked[-1]
    if len(asked) > 2:
        out[MIDDLE] = asked[1]
    return np.asarray(out)


def _rgb_of_oklab(lab: Array) -> Array:
    """(n, 3) float: linear sRGB in gamut."""
    hue = np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) % 360.0
    lch = np.stack([lab[:, 0], np.hypot(lab[:, 1], lab[:, 2]), hue], axis=1)
    return np.asarray(np.clip(into_gamut(rgb_of_oklch(lch).T), 0, 1).T)


def _about(asked: Array) -> Array:
    _, chroma, hue = (float(v) for v in oklch_of(asked))
    tone = float(lab_of(asked)[0])
    sign = 1.0 if hue < 105.0 or hue >= 285.0 else -1.0
    out: list[Array] = []
    for step, keeps in zip(STEPS_L, KEEPS, strict=True):
        level = float(np.clip(tone + step, min(DARKEST_L, tone), max(LIGHTEST_L, tone)))
        turned = hue + sign * WAY_DEG * step / float(STEPS_L[-1]) * (1.0 if step > 0 else 0.5)
        out.append(_at_tone(level, keeps * chroma, turned))
    out[MIDDLE] = np.asarray(asked)
    return np.stack(out)


def _at_tone(tone: float, chroma: float, hue: float) -> Array:
    """The colour of a CIE L*, an OKLCh chroma and hue, in gamut."""
    low, high = 0.0, 1.0
    rgb = np.zeros(3)
    for _ in range(24):
        level = 0.5 * (low + high)
        rgb = into_gamut(rgb_of_oklch(np.array([level, chroma, hue]))[:, None])[:, 0]
        if float(lab_of(rgb)[0]) < tone:
            low = level
        else:
            high = level
    return np.clip(rgb, 0.0, 1.0)


def goal_of(asked: Array, order: str) -> Goal:
    """What the search is to reach.

    Parameters
    ----------
    asked : (k, 3) float, linear sRGB, as `wanted_colours` takes it
    order : climb, span, veil or descend
    """
    wanted = wanted_colours(asked)
    chroma = oklch_of(wanted)[:, 1]
    if len(asked) > 1:
        return Goal(wanted, EVEN_WEIGHTS, GRADIENT_NEED * chroma, wanted[MIDDLE])
    tones = lab_of(wanted)[:, 0]
    lift = min(LIFTS[order], float(tones[-1] - tones[MIDDLE]))
    return Goal(wanted, WEIGHTS, NEEDS * chroma[MIDDLE], wanted[MIDDLE], lift)
