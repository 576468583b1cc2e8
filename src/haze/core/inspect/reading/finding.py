"""Where a card lies in a photo: its marks, and the way from millimetres to pixels.

Marks are looked for in a small picture and their corners sharpened in the full one. Corners give a
plane projection with one term of lens distortion (Brown 1966, first radial term), fitted by least
squares; what is left over tells whether the card lies flat.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np
from cv2 import aruco
from scipy.optimize import least_squares

from haze.core.arrays import Array, Bytes, Floats
from haze.core.inspect.card import (
    CELLS,
    CORNERS_MM,
    MARK_MM,
    Mark,
    number_of,
    number_of_text,
    place_of,
)

LOOKED_AT_PX = 1600
LEAST_MARKS = 5
LEAST_CORNERS = 3  # of the four at the card's corners
MOST_RADIAL = 0.4
LEAST_BELOW = 0.05  # of the projection's divisor, 1 at the card's first corner
QR_MM = (1.0, 13.3, 11.5, 11.5)  # where the code lies, with the white round it
QR_PX_MM = 40.0


@dataclass(frozen=True, slots=True)
class Place:
    """Where a card lies in a photo.

    Attributes
    ----------
    marks : those that were found, of this card
    number : of the card by its marks and its code; None when neither tells
    to_picture : (3, 3) float, millimetres to pixels, before the lens
    middle : (2,) float [px], of the lens
    scale_px : float [px], what the lens' radius is measured by
    radial : float [-], first radial term of the lens
    residual_mm : float [mm], root mean square of what corners lie off
    px_mm : float, pixels a millimetre where there are fewest
    """

    marks: tuple[Mark, ...]
    number: int | None
    to_picture: Array
    middle: Array
    scale_px: float
    radial: float
    residual_mm: float
    px_mm: float

    def pixels(self, mm: Array) -> Array:
        """(n, 2) float [px]: where places on the card lie in the photo.

        Parameters
        ----------
        mm : (n, 2) float [mm]
        """
        flat = _projected(self.to_picture, mm)
        return _bent(flat, self.middle, self.scale_px, self.radial)


def marks_in(image: Bytes) -> dict[int, Array]:
    """Marks of any card by their numbers, with their four corners (4, 2) [px] in the photo.

    Parameters
    ----------
    image : (h, w, 3) uint8, encoded sRGB
    """
    grey = cv2.cvtColor(image, cv2.COLOR_RGB2GRAY)
    share = min(1.0, LOOKED_AT_PX / max(grey.shape))
    small = cv2.resize(grey, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
    settings = aruco.DetectorParameters()
    settings.cornerRefinementMethod = aruco.CORNER_REFINE_SUBPIX
    family = aruco.getPredefinedDictionary(aruco.DICT_APRILTAG_36h11)
    corners, numbers, _ = aruco.ArucoDetector(family, settings).detectMarkers(small)
    found: dict[int, Array] = {}
    seen: list[int] = [] if numbers is None else [int(i) for i in numbers.ravel()]
    for number, square in zip(seen, corners, strict=True):
        at = np.asarray(square, dtype=np.float32).reshape(4, 2)
        if place_of(number) is None:
            continue
        at = (at + 0.5) / np.float32(share) - np.float32(0.5)
        side = float(np.linalg.norm(at - np.roll(at, 1, axis=0), axis=1).min())
        reach = int(np.clip(0.45 * side / CELLS, 2, 12))
        stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 20, 0.02)
        sharp = cv2.cornerSubPix(grey, at.reshape(-1, 1, 2).copy(), (reach, reach), (-1, -1), stop)
        found[number] = np.asarray(sharp, dtype=np.float64).reshape(4, 2)
    return found


def place_in(image: Bytes, found: dict[int, Array]) -> Place | None:
    """Where the card lies; None when too few of its marks are seen.

    Parameters
    ----------
    image : (h, w, 3) uint8, encoded sRGB
    found : marks by their numbers, with their corners [px]
    """
    marks = [m for i in found if (m := place_of(i)) is not None]
    if len(marks) < LEAST_MARKS or sum(m.identity < 4 for m in marks) < LEAST_CORNERS:
        return None
    mm = np.array([m.corners for m in marks]).reshape(-1, 2)
    px = np.array([found[m.identity] for m in marks]).reshape(-1, 2)
    h, w = image.shape[:2]
    place = _fitted(mm, px, np.array([w / 2, h / 2]), float(max(h, w) / 2), marks)
    if place is None:
        return None
    # marks and code agree, or one of them is silent
    numbers = {number_of(found), number_of_text(_code_in(image, place))} - {None}
    return replace(place, number=numbers.pop() if len(numbers) == 1 else None)


def _fitted(mm: Array, px: Array, middle: Array, scale: float, marks: list[Mark]) -> Place | None:
    first, _ = cv2.findHomography(mm, px, cv2.RANSAC, 6.0)
    if first is None:
        return None
    start = np.append((first / first[2, 2]).reshape(-1)[:8], 0.0)
    size = np.maximum(np.abs(start), 1e-6)
    size[8] = 0.02

    def off(free: Array) -> Array:
        full = free * size
        guess = _bent(_projected(_plane(full), mm), middle, scale, full[8])
        return np.asarray((guess - px).reshape(-1))

    fit = least_squares(off, start / size, loss="soft_l1", f_scale=1.5, max_nfev=40)
    full = fit.x * size
    plane = _plane(full)
    if not _whole(plane):
        return None
    scales = [_scale_at(plane, m.x + MARK_MM / 2, m.y + MARK_MM / 2) for m in marks]
    apart = np.linalg.norm(off(fit.x).reshape(-1, 2), axis=1)
    residual = float(np.sqrt(np.mean((apart / np.repeat(scales, 4)) ** 2)))
    radial = float(np.clip(full[8], -MOST_RADIAL, MOST_RADIAL))
    return Place(tuple(marks), None, plane, middle, scale, radial, residual, float(min(scales)))


def _plane(free: Array) -> Array:
    return np.asarray(np.append(free[:8], 1.0).reshape(3, 3))


def _whole(plane: Array) -> bool:
    """Whether all of the card lies before the camera; marks strewn about give one that does not."""
    below = CORNERS_MM @ plane[2, :2] + plane[2, 2]
    return bool(np.all(np.isfinite(plane)) and np.min(below) > LEAST_BELOW)


def _projected(plane: Array, mm: Array) -> Array:
    p = np.column_stack([mm, np.ones(len(mm))]) @ plane.T
    return np.asarray(p[:, :2] / p[:, 2:])


def _bent(flat: Array, middle: Array, scale: float, radial: float) -> Array:
    off = (flat - middle) / scale
    return np.asarray(middle + scale * off * (1 + radial * np.sum(off * off, axis=1))[:, None])


def _scale_at(plane: Array, x: float, y: float) -> float:
    """Pixels a millimetre, the less of both ways, at a place [mm]."""
    p = _projected(plane, np.array([[x, y], [x + 0.5, y], [x, y + 0.5]]))
    return float(2 * np.linalg.svd(np.stack([p[1] - p[0], p[2] - p[0]]), compute_uv=False)[1])


def mapped(
    place: Place, px_mm: float, box: tuple[float, float, float, float]
) -> tuple[Floats, Floats]:
    """(h, w) float32 each [px]: where each pixel of a flat picture of part of the card comes from.

    Parameters
    ----------
    place : of the card
    px_mm : float, pixels a millimetre of the flat picture
    box : (x, y, w, h) [mm] on the card
    """
    x0, y0, wide, high = box
    x = np.float32(x0) + (np.arange(round(wide * px_mm), dtype=np.float32) + 0.5) / px_mm
    y = np.float32(y0) + (np.arange(round(high * px_mm), dtype=np.float32)[:, None] + 0.5) / px_mm
    h = place.to_picture.astype(np.float32)
    below = h[2, 0] * x + h[2, 1] * y + h[2, 2]
    u = (h[0, 0] * x + h[0, 1] * y + h[0, 2]) / below
    v = (h[1, 0] * x + h[1, 1] * y + h[1, 2]) / below
    if place.radial:
        cx, cy = place.middle.astype(np.float32)
        dx, dy = (u - cx) / place.scale_px, (v - cy) / place.scale_px
        grow = 1 + np.float32(place.radial) * (dx * dx + dy * dy)
        u, v = cx + (u - cx) * grow, cy + (v - cy) * grow
    return u.astype(np.float32), v.astype(np.float32)


def _code_in(image: Bytes, place: Place) -> str:
    """What the code in the corner says; empty when it cannot be read."""
    u, v = mapped(place, QR_PX_MM, QR_MM)
    flat = cv2.remap(image, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    try:
        text, _, _ = cv2.QRCodeDetector().detectAndDecode(cv2.cvtColor(flat, cv2.COLOR_RGB2GRAY))
    except cv2.error:
        return ""
    return str(text)
