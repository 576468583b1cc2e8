"""Bands in a fade: what its lightness is off a curve that only rises, as waves of 4 to 10 mm."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import isotonic_regression

from haze.core.arrays import Array, Floats
from haze.core.film.srgb import LUMINANCE, lightness_of
from haze.core.inspect.card import ZONES
from haze.core.inspect.reading.flattening import PX_MM, box_px

WAVES_MM = np.linspace(4.0, 10.0, 13)
BANDED = 1.2  # L* off a rising curve from which bands are seen (judged)
EDGE_MM = 6.0  # above and below, where the strokes turn


@dataclass(frozen=True, slots=True)
class Fade:
    """A fade.

    Attributes
    ----------
    bands : float [L*], half the height of its largest wave
    wave_mm : float [mm], how far apart
    span : float [L*], from its dark to its light end
    """

    bands: float
    wave_mm: float
    span: float

    @property
    def banded(self) -> bool:
        """Whether bands are seen."""
        return self.bands > BANDED


def fade_of(flat: Floats) -> Fade:
    """The fade of a card.

    Parameters
    ----------
    flat : (h, w, 3) float32 [-], light over that of bare paper
    """
    x0, y0, x1, y1 = ZONES["fade"]
    strip = flat[box_px(x0, y0 + EDGE_MM, x1 - x0, y1 - y0 - 2 * EDGE_MM)]
    profile = lightness_of(np.clip(strip.mean(axis=0) @ LUMINANCE, 0, None))
    step = max(1, round(PX_MM / 4))
    count = len(profile) // step
    light = profile[: count * step].reshape(count, step).mean(axis=1)
    x = np.arange(count) * step / PX_MM
    rising = bool(light[-4:].mean() > light[:4].mean())
    smooth = isotonic_regression(light, increasing=rising).x
    off = light - smooth
    best, wave = 0.0, 0.0
    for length in WAVES_MM:
        turns = 2 * np.pi * x / length
        terms = np.stack([np.cos(turns), np.sin(turns)], axis=1)
        size = float(np.hypot(*np.linalg.lstsq(terms, off, rcond=None)[0]))
        if size > best:
            best, wave = size, float(length)
    return Fade(best, wave, float(_span(smooth)))


def _span(smooth: Array) -> float:
    return float(smooth.max() - smooth.min())
