"""A paint's colour from a photo, with something grey beside it that says what the light was.

The camera's encoding is taken as sRGB. Each channel is scaled so that the grey comes out as the
grey it is: a diagonal (von Kries) balance in linear RGB, which also undoes the exposure.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Bytes
from haze.core.errors import PhotoError, require_range
from haze.core.film.difference import lab_of
from haze.core.film.srgb import LUMINANCE, decode_srgb, lightness_of, luminance_of_lightness, to_hex

DARKEST_GREY, LIGHTEST_GREY = 10.0, 98.0  # L* a reference may have
CLIPPED = 250  # a channel this bright has lost its colour
TOO_DARK = 8  # a grey this dark is mostly noise
UNEVEN = 6.0  # L* spread within a patch that is more than noise (judged)


@dataclass(frozen=True, slots=True)
class Picked:
    """A colour picked from a photo."""

    hex: str
    lightness: float
    spread: float  # L*, within the patch
    warning: str | None


def patch(image: Bytes, *, x: float, y: float, radius: float) -> Bytes:
    """(n, 3) uint8: pixels within a radius of a place.

    Parameters
    ----------
    image : (h, w, 3) uint8
    x, y : float [0..1], share of width and height
    radius : float [0..1], of the shorter side
    """
    h, w = image.shape[:2]
    if not (0 <= x <= 1 and 0 <= y <= 1):
        raise PhotoError("The place lies outside the photo.", field="at")
    r = max(1.0, radius * min(h, w))
    rows, columns = np.ogrid[:h, :w]
    inside = (columns - x * (w - 1)) ** 2 + (rows - y * (h - 1)) ** 2 <= r * r
    return np.asarray(image[inside], dtype=np.uint8)


def picked(swatch: Bytes, grey: Bytes, *, grey_lightness: float) -> Picked:
    """The colour of a swatch against a grey of known lightness.

    Parameters
    ----------
    swatch, grey : (n, 3) uint8, encoded sRGB
    grey_lightness : float [L*], of the reference: a grey card is about 50
    """
    require_range("grey_lightness", grey_lightness, DARKEST_GREY, LIGHTEST_GREY, "L*")
    middle = np.median(grey, axis=0)
    if middle.max() >= CLIPPED:
        raise PhotoError("The grey is too bright in the photo: it has lost its colour.")
    if middle.min() <= TOO_DARK:
        raise PhotoError("The grey is too dark in the photo to tell the light by it.")
    reference = decode_srgb(grey / 255.0).mean(axis=0)
    wanted = float(luminance_of_lightness(grey_lightness))
    linear = decode_srgb(swatch / 255.0) * (wanted / reference)
    mean = linear.mean(axis=0)
    ell = lightness_of(np.clip(linear @ LUMINANCE, 0, None))
    spread = float(np.percentile(ell, 90) - np.percentile(ell, 10))
    return Picked(to_hex(mean), float(lab_of(mean)[0]), spread, _warning(swatch, mean, spread))


def _warning(swatch: Bytes, mean: Array, spread: float) -> str | None:
    if np.median(swatch, axis=0).max() >= CLIPPED:
        return "Part of this is overexposed; take the photo darker."
    if mean.max() > 1.02:
        return "This came out lighter than white: the grey lies in shade, or shines."
    if spread > UNEVEN:
        return f"The patch is uneven by {spread:.0f} L*: pick a flatter, evenly lit place."
    return None
