"""sRGB as text, encoded and linear, and the lightness of linear colours.

Sources: IEC 61966-2-1:1999 (sRGB), CIE 15:2004 (L*).
"""

from __future__ import annotations

import re

import numpy as np
from numpy.typing import ArrayLike

from haze.core.arrays import Array, Floats
from haze.core.errors import ColourTextError

__all__ = ("linear_of_hex", "to_hex")

RGB_TO_XYZ: Array = np.array(
    [
        [0.4123908, 0.3575843, 0.1804808],
        [0.2126390, 0.7151687, 0.0721923],
        [0.0193308, 0.1191948, 0.9505322],
    ]
)
LUMINANCE: Array = RGB_TO_XYZ[1]  # of linear sRGB, D65
LUMINANCE_32: Floats = LUMINANCE.astype(np.float32)
HEX = re.compile(r"#[0-9a-fA-F]{6}\Z")


def parse_hex(text: str, *, field: str = "colour") -> Array:
    """(3,) float [-]: encoded sRGB 0..1 of "#rrggbb"; anything else is refused by name.

    Parameters
    ----------
    text : "#rrggbb"
    field : str, what the colour is called in a refusal
    """
    if not isinstance(text, str) or not HEX.match(text):
        raise ColourTextError(f"{field} is {text!r}; accepted is #rrggbb.", field=field)
    return np.array([int(text[i : i + 2], 16) for i in (1, 3, 5)]) / 255.0


def decode_srgb(encoded: ArrayLike) -> Array:
    """Linear light [0..1] from encoded sRGB.

    Parameters
    ----------
    encoded : (...) float [0..1]
    """
    c = np.asarray(encoded, dtype=np.float64)
    return np.where(c <= 0.04045, c / 12.92, ((c + 0.055) / 1.055) ** 2.4)


def linear_of_hex(text: str, *, field: str = "colour") -> Array:
    """(3,) float [0..1]: linear sRGB of "#rrggbb".

    Parameters
    ----------
    text : "#rrggbb"
    field : str, what the colour is called in a refusal
    """
    return decode_srgb(parse_hex(text, field=field))


def encode_srgb(linear: ArrayLike) -> Array:
    """Encoded sRGB [0..1] from linear light; clipped to the display.

    Parameters
    ----------
    linear : (...) float [-]
    """
    c = np.clip(np.asarray(linear, dtype=np.float64), 0.0, 1.0)
    return np.where(c <= 0.0031308, 12.92 * c, 1.055 * c ** (1 / 2.4) - 0.055)


def to_hex(linear_rgb: ArrayLike) -> str:
    """ "#rrggbb" of a linear colour that a display can show; see `looks.shown` for any other.

    Parameters
    ----------
    linear_rgb : (3,) float [0..1]
    """
    r, g, b = (round(float(v) * 255) for v in encode_srgb(linear_rgb))
    return f"#{r:02x}{g:02x}{b:02x}"


def lightness_of(luminance: ArrayLike) -> Array:
    """CIE L* [0..100] of relative luminance.

    Parameters
    ----------
    luminance : (...) float [0..1], CIE Y, 1 for a perfect white
    """
    y = np.asarray(luminance, dtype=np.float64)
    return np.where(y > 216 / 24389, 116 * np.cbrt(y) - 16, 24389 / 27 * y)


def luminance_of_lightness(lightness: ArrayLike) -> Array:
    """Relative luminance Y [0..1] of CIE L*.

    Parameters
    ----------
    lightness : (...) float [0..100]
    """
    ell = np.asarray(lightness, dtype=np.float64)
    return np.where(ell > 8, ((ell + 16) / 116) ** 3, ell * 27 / 24389)


def lightness_of_rgb(linear: Floats) -> Floats:
    """(n,) float32: CIE L* [0..100] of many linear colours.

    Parameters
    ----------
    linear : (3, n) float32 [-], channels first
    """
    return lightness_of(LUMINANCE_32 @ np.clip(linear, 0, 1)).astype(np.float32)


def tone_of_rgb(linear_rgb: ArrayLike) -> float:
    """CIE L* [0..100] of one linear colour.

    Parameters
    ----------
    linear_rgb : (3,) float [-]
    """
    return float(lightness_of(LUMINANCE @ np.clip(np.asarray(linear_rgb), 0, 1)))
