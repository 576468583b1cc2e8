"""From linear light to a colour on screen: one way for chips, mixes, pictures and the piece.

What a display cannot show is moved toward grey at equal lightness and hue (`gamut`), everywhere
alike, and then encoded.
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array, Bytes, Floats
from haze.core.film.gamut import into_gamut
from haze.core.film.srgb import LUMINANCE_32, encode_srgb, to_hex

ENCODE_STEPS = 4096
# index by the square root of linear light: dark steps stay below one byte
ENCODE_TABLE: Bytes = np.round(encode_srgb(np.linspace(0.0, 1.0, ENCODE_STEPS) ** 2) * 255).astype(
    np.uint8
)


def shown(linear_rgb: Array) -> str:
    """ "#rrggbb" of a linear colour, brought into the display's gamut.

    Parameters
    ----------
    linear_rgb : (3,) float [-], linear sRGB
    """
    return to_hex(into_gamut(np.asarray(linear_rgb, dtype=np.float64)))


def encode_bytes(linear: Floats) -> Bytes:
    """(n, 3) uint8: encoded sRGB of linear light that a display can show.

    Parameters
    ----------
    linear : (3, n) float32 [0..1]
    """
    index = np.sqrt(np.clip(linear, 0, 1)) * (ENCODE_STEPS - 1) + 0.5
    return np.ascontiguousarray(ENCODE_TABLE[index.astype(np.uint16)].T)


def shown_bytes(linear: Floats) -> Bytes:
    """(n, 3) uint8: encoded sRGB of linear light, brought into the display's gamut.

    Parameters
    ----------
    linear : (3, n) float32 [-], linear sRGB
    """
    return encode_bytes(into_gamut(linear))


def value_bytes(linear: Floats) -> Bytes:
    """(n, 3) uint8: the grey of equal luminance.

    Parameters
    ----------
    linear : (3, n) float32 [-], linear sRGB
    """
    grey = LUMINANCE_32 @ np.clip(linear, 0, 1)
    return encode_bytes(np.broadcast_to(grey, linear.shape))
