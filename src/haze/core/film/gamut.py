"""How much chroma a display can show at a lightness and a hue, and colours brought into it.

Colours are moved toward grey at equal lightness and hue in OKLCh, never clipped channel by channel.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from haze.core.film.difference import OK_LAB, OK_LMS, oklch_of

Array = NDArray[np.float64]
MOST_CHROMA = 0.4
STEPS = 24


def rgb_of_oklch(lch: ArrayLike) -> Array:
    """(..., 3) float: linear sRGB of OKLCh (lightness, chroma, hue [°]); may lie out of gamut."""
    given = np.asarray(lch, dtype=np.float64)
    hue = np.radians(given[..., 2])
    lab = np.stack(
        [given[..., 0], given[..., 1] * np.cos(hue), given[..., 1] * np.sin(hue)], axis=-1
    )
    return np.asarray((lab @ np.linalg.inv(OK_LAB).T) ** 3 @ np.linalg.inv(OK_LMS).T)


def in_gamut(linear_rgb: ArrayLike) -> Array:
    """(...) bool: whether a display can show it."""
    rgb = np.asarray(linear_rgb)
    return np.asarray(((rgb >= -1e-6) & (rgb <= 1 + 1e-6)).all(axis=-1))


def most_chroma(lightness: float, hue_deg: float) -> float:
    """Largest OKLCh chroma [-] a display shows at a lightness and hue, by bisection."""
    low, high = 0.0, MOST_CHROMA
    for _ in range(STEPS):
        middle = 0.5 * (low + high)
        if in_gamut(rgb_of_oklch(np.array([lightness, middle, hue_deg]))):
            low = middle
        else:
            high = middle
    return low


def into_gamut(linear_rgb: ArrayLike) -> tuple[Array, bool]:
    """The colour as a display can show it, and whether it had to be changed."""
    rgb = np.asarray(linear_rgb, dtype=np.float64)
    if in_gamut(rgb):
        return np.clip(rgb, 0.0, 1.0), False
    lightness, _, hue = oklch_of(rgb)
    lightness = float(np.clip(lightness, 0.0, 1.0))
    shown = rgb_of_oklch(np.array([lightness, most_chroma(lightness, float(hue)), float(hue)]))
    return np.clip(shown, 0.0, 1.0), True
