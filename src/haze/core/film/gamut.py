"""How much chroma a display can show at a lightness and a hue, and colours brought into it.

Colours are moved toward grey at equal lightness and hue in OKLCh, never clipped channel by channel.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

from haze.core.arrays import Array
from haze.core.film.difference import OK_LAB, OK_LMS

MOST_CHROMA = 0.4
STEPS = 24
MOVE_STEPS = 16  # halvings of a move toward grey: finer than a byte shows
SHOWABLE = 1e-4  # linear light a channel may miss the display by and look the same
FROM_LAB: Array = np.asarray(np.linalg.inv(OK_LAB))
FROM_LMS: Array = np.asarray(np.linalg.inv(OK_LMS))


def rgb_of_oklch(lch: ArrayLike) -> Array:
    """(..., 3) float [-]: linear sRGB; may lie out of gamut.

    Parameters
    ----------
    lch : (..., 3) float, OKLCh: lightness [0..1], chroma [-], hue [°]
    """
    given = np.asarray(lch, dtype=np.float64)
    hue = np.radians(given[..., 2])
    return rgb_of_oklab(
        np.stack([given[..., 0], given[..., 1] * np.cos(hue), given[..., 1] * np.sin(hue)], axis=-1)
    )


def rgb_of_oklab(lab: ArrayLike) -> Array:
    """(..., 3) float [-]: linear sRGB; may lie out of gamut.

    Parameters
    ----------
    lab : (..., 3) float, OKLab
    """
    return np.asarray((np.asarray(lab, dtype=np.float64) @ FROM_LAB.T) ** 3 @ FROM_LMS.T)


def in_gamut(linear_rgb: ArrayLike, *, within: float = 1e-6) -> Array:
    """(...) bool: whether a display can show it.

    Parameters
    ----------
    linear_rgb : (..., 3) float [-]
    within : float [-], linear light a channel may miss by
    """
    rgb = np.asarray(linear_rgb)
    return np.asarray(((rgb >= -within) & (rgb <= 1 + within)).all(axis=-1))


def most_chroma(lightness: float, hue_deg: float) -> float:
    """Largest OKLCh chroma [-] a display shows at a lightness and hue, by bisection.

    Parameters
    ----------
    lightness : float [0..1], OKLab
    hue_deg : float [°]
    """
    low, high = 0.0, MOST_CHROMA
    for _ in range(STEPS):
        middle = 0.5 * (low + high)
        if in_gamut(rgb_of_oklch(np.array([lightness, middle, hue_deg]))):
            low = middle
        else:
            high = middle
    return low


def into_gamut(linear_rgb: NDArray[Any]) -> NDArray[Any]:
    """(3, ...) float [0..1]: colours as a display can show them, of the type that was given.

    Lightness is kept within 0 to 1 and hue as it is; chroma shrinks until every channel fits.

    Parameters
    ----------
    linear_rgb : (3, ...) float [-], linear sRGB, channels first
    """
    shown = np.clip(linear_rgb, 0.0, 1.0)
    outside = (np.abs(shown - linear_rgb) > SHOWABLE).any(axis=0)
    if outside.any():
        moved = _toward_grey(np.asarray(linear_rgb, dtype=np.float64)[:, outside].T)
        shown[:, outside] = moved.T.astype(shown.dtype)
    return np.asarray(shown)


def _toward_grey(rgb: Array) -> Array:
    """(k, 3) float: colours that do not fit, with as much of their chroma as does."""
    lab = np.cbrt(rgb @ OK_LMS.T) @ OK_LAB.T
    grey, tint = np.clip(lab[:, :1], 0.0, 1.0) * [1.0, 0.0, 0.0], lab * [0.0, 1.0, 1.0]
    low, high = np.zeros((len(rgb), 1)), np.ones((len(rgb), 1))
    for _ in range(MOVE_STEPS):
        middle = 0.5 * (low + high)
        fits = in_gamut(((grey + middle * tint) @ FROM_LAB.T) ** 3 @ FROM_LMS.T)[:, None]
        low, high = np.where(fits, middle, low), np.where(fits, high, middle)
    shown = ((grey + low * tint) @ FROM_LAB.T) ** 3 @ FROM_LMS.T
    return np.asarray(np.clip(shown, 0.0, 1.0))
