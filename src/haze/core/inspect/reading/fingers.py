"""Fingers of spiders: thin dark ridges that reach out of a film.

Ridges are where the second derivative across is strongly negative and that along is not (the
eigenvalues of the Hessian, Lindeberg 1998), at two widths; strong ones begin a finger and weak ones
carry it on (hysteresis, Canny 1986). Pieces shorter than 1.2 mm do not count.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.inspect.reading.flattening import PX_MM
from haze.core.inspect.reading.specks import blurred

WIDTHS_MM = (0.11, 0.18)
STRONG, WEAK = 0.115, 0.06
LEAST_MM = 1.2
SLIM = 3.2  # length over width of what is no blob
THICK_MM = 0.42  # of a ridge as it is marked


@dataclass(frozen=True, slots=True)
class Fingers:
    """Fingers found on a card.

    Attributes
    ----------
    mask : (h, w) bool, where they lie
    pieces : (n, 4) float [mm]: middle, length, and how far it stands out [-]
    """

    mask: Mask
    pieces: Array

    def within(self, box: tuple[float, float, float, float]) -> Array:
        """(k, 4) pieces whose middle lies in a box.

        Parameters
        ----------
        box : (x, y, w, h) [mm]
        """
        x, y = self.pieces[:, 0], self.pieces[:, 1]
        inside = (x >= box[0]) & (x < box[0] + box[2]) & (y >= box[1]) & (y < box[1] + box[3])
        return np.asarray(self.pieces[inside])


def fingers_in(shares: Floats, *, noise: float, inside: Mask) -> Fingers:
    """Fingers on a card.

    Parameters
    ----------
    shares : (h, w) float32: 0 bare, 1 closed
    noise : float [-], spread on bare ground
    inside : (h, w) bool, where they are looked for
    """
    ridge = np.zeros_like(shares)
    for width in WIDTHS_MM:
        s = width * PX_MM
        smooth = blurred(shares, width)
        xx = cv2.Sobel(smooth, -1, 2, 0, ksize=3, scale=0.25)
        yy = cv2.Sobel(smooth, -1, 0, 2, ksize=3, scale=0.25)
        xy = cv2.Sobel(smooth, -1, 1, 1, ksize=3, scale=0.25)
        mean, half = 0.5 * (xx + yy), 0.5 * (xx - yy)
        root = np.sqrt(half * half + xy * xy)
        across, along = mean - root, mean + root
        # a spot bends both ways, a ridge only one
        here = np.where(across < 0, -across - 0.7 * np.abs(along), 0) * np.float32(s * s)
        np.maximum(ridge, here, out=ridge)
    ridge[~inside] = 0
    strong = max(STRONG, 5 * noise)
    weak = (ridge > max(WEAK, 2.5 * noise)).astype(np.uint8)
    count, labels, stats, middles = cv2.connectedComponentsWithStats(weak, connectivity=8)
    peak = np.zeros(count, dtype=np.float32)
    np.maximum.at(peak, labels[weak > 0].astype(np.int64), ridge[weak > 0])
    area = stats[:, cv2.CC_STAT_AREA] / PX_MM**2
    wide = stats[:, cv2.CC_STAT_WIDTH] / PX_MM
    high = stats[:, cv2.CC_STAT_HEIGHT] / PX_MM
    reach = np.hypot(wide, high)
    length = np.maximum(reach - 0.15, area / THICK_MM)
    slim = area / np.maximum(reach, 1e-6) < reach / SLIM
    kept = (peak > strong) & (reach >= LEAST_MM) & slim
    kept[0] = False
    pieces = np.column_stack([middles / PX_MM, length, peak])[kept]
    mask = kept[labels]
    grown = cv2.dilate(mask.astype(np.uint8), np.ones((5, 5), np.uint8))
    return Fingers(np.asarray(grown > 0), pieces)
