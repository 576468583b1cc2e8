"""A photo of a card, read from beginning to end."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from haze.core.arrays import Array, Bytes
from haze.core.inspect.card import CORNERS_MM
from haze.core.inspect.reading.depth import Ink
from haze.core.inspect.reading.finding import Place, marks_in, place_in
from haze.core.inspect.reading.flattening import Flat, flattened
from haze.core.inspect.reading.measures import Measures, measured
from haze.core.inspect.reading.outcome import Likely, likely
from haze.core.inspect.reading.refusal import Reason, after_flat, before_flat, too_small

LEAST_RANGE = 40  # of encoded light, in a photo that shows anything


@dataclass(frozen=True, slots=True)
class Reading:
    """What a photo shows.

    Attributes
    ----------
    refused : why it is not read; None when it is
    number : of the card, where it could be read
    marks : how many of its eight marks were found
    place : where it lies; None when it was not found
    flat : None when it was refused before
    measures, looks : None and empty when it was refused
    """

    refused: Reason | None
    number: int | None
    marks: int
    place: Place | None
    flat: Flat | None
    measures: Measures | None
    looks: tuple[Likely, ...]

    def outline(self) -> Array:
        """(4, 2) float [px]: corners of the card in the photo, clockwise; empty when not found."""
        if self.place is None:
            return np.zeros((0, 2))
        return self.place.pixels(CORNERS_MM)


def read(
    image: Bytes, *, ink_of: Callable[[int | None], Ink] | None = None, wanted: int | None = None
) -> Reading:
    """What a photo of a card shows.

    Parameters
    ----------
    image : (h, w, 3) uint8, encoded sRGB, the right way up
    ink_of : what is known of the paint of a card, by its number; None for nothing
    wanted : number of the card it must be; None for any
    """
    if too_small(*image.shape[:2]):
        return Reading("small", None, 0, None, None, None, ())
    bright = float(np.percentile(cv2.resize(image, (80, 60), interpolation=cv2.INTER_AREA), 95))
    found = marks_in(image)
    place = place_in(image, found)
    refused = before_flat(bright, 1.0 if place else _crisp(image), place)
    if refused or place is None:
        return Reading(refused, None, len(found), place, None, None, ())
    flat = flattened(image, place)
    refused = after_flat(place, flat, wanted=wanted)
    if refused:
        return Reading(refused, place.number, len(found), place, flat, None, ())
    measures = measured(flat.shares, ink_of(place.number) if ink_of else Ink())
    return Reading(None, place.number, len(found), place, flat, measures, tuple(likely(measures)))


def _crisp(image: Bytes) -> float:
    """Steepest edges [1/px] of the softest way over the range of light; 1 where there is none."""
    grey = cv2.GaussianBlur(cv2.cvtColor(image, cv2.COLOR_RGB2GRAY), (0, 0), 1.0)
    low, high = np.percentile(grey[::8, ::8], (2, 98))
    if high - low < LEAST_RANGE:
        return 1.0
    across = cv2.Sobel(grey, cv2.CV_32F, 1, 0, ksize=3, scale=0.125)[::2, ::2]
    down = cv2.Sobel(grey, cv2.CV_32F, 0, 1, ksize=3, scale=0.125)[::2, ::2]
    ways = np.arange(4) * np.pi / 4
    # a shaken photo keeps the edges that lie along its movement
    steep = min(np.percentile(np.abs(np.cos(w) * across + np.sin(w) * down), 99.8) for w in ways)
    return float(steep / (high - low))
