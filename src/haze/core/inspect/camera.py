"""A camera that stands in for a phone: the fault of each part of it, as far as it is turned on.

Perspective, a bent card, a surrounding table, light that falls off and has a colour, a soft shadow,
glare, lens blur, shake, exposure, noise. Nothing here was measured on a real camera: the sizes are
those that phones are known for (docs/models.md F).
"""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from haze.core.arrays import Array, Bytes, Floats
from haze.core.film.looks import ENCODE_STEPS, ENCODE_TABLE
from haze.core.inspect.card import HIGH_MM, WIDE_MM
from haze.core.inspect.shot import Shot

WIDE_PX, HIGH_PX = 4000, 3000
FOCAL = 0.78  # of a phone's main lens, over the wide side of its picture
STRIP = 250  # rows that are worked on at once
Grid = NDArray[Any]


def photographed(
    card: Floats, px_mm: float, shot: Shot, rng: Generator, *, size: tuple[int, int] | None = None
) -> Bytes:
    """(h, w, 3) uint8: a picture of a card, encoded sRGB.

    Parameters
    ----------
    card : (h, w, 3) float32 [0..1], linear light of the card
    px_mm : float, pixels a millimetre of the card
    shot : how it is taken
    rng : of noise, and of where shadow and glare fall
    size : (wide, high) [px] of the picture; None for 12 megapixels
    """
    wide, high = size or (WIDE_PX, HIGH_PX)
    to_picture = homography(shot, wide, high)
    image = _warped(card, px_mm, shot, to_picture, wide, high)
    if shot.blur_px > 0:
        image = cv2.GaussianBlur(image, (0, 0), shot.blur_px)
    if shot.shake_px > 1:
        image = cv2.filter2D(image, -1, _shake(shot.shake_px, float(rng.uniform(0, np.pi))))
    image *= _light(shot, to_picture, wide, high, rng)[..., None]
    image *= np.asarray(shot.tint, dtype=np.float32) * np.float32(shot.light / max(shot.tint))
    if shot.glare > 0:
        image += _glare(shot, to_picture, wide, high, rng)[..., None]
    return _developed(image, shot.noise, rng)


def homography(shot: Shot, wide: int, high: int) -> Array:
    """(3, 3) float: millimetres on the card to pixels of the picture, by a pinhole.

    Parameters
    ----------
    shot : how it is taken
    wide, high : int [px], of the picture
    """
    focal = FOCAL * wide
    away = focal / shot.px_mm
    tilt, toward, roll = np.deg2rad([shot.tilt_deg, shot.toward_deg, shot.roll_deg])
    axis = np.array([-np.sin(toward), np.cos(toward), 0.0])
    turned = cv2.Rodrigues((axis * tilt).reshape(3, 1))[0]
    rolled = cv2.Rodrigues(np.array([[0.0], [0.0], [roll]]))[0]
    turn = rolled @ turned
    middle = np.array([[1, 0, -WIDE_MM / 2], [0, 1, -HIGH_MM / 2], [0, 0, 1.0]])
    pose = np.stack([turn[:, 0], turn[:, 1], np.array([0.0, 0.0, away])], axis=1)
    lens = np.array(
        [
            [focal, 0, wide * (0.5 + shot.off[0])],
            [0, focal, high * (0.5 + shot.off[1])],
            [0, 0, 1.0],
        ]
    )
    return np.asarray(lens @ pose @ middle)


def _warped(
    card: Floats, px_mm: float, shot: Shot, to_picture: Array, wide: int, high: int
) -> Grid:
    """The card as the lens sees it, a bent one bowed across its length; the table round it."""
    back = np.linalg.inv(to_picture).astype(np.float32)
    image = np.empty((high, wide, 3), dtype=np.float32)
    x = np.arange(wide, dtype=np.float32)
    for start in range(0, high, STRIP):
        y = np.arange(start, min(start + STRIP, high), dtype=np.float32)[:, None]
        below = back[2, 0] * x + back[2, 1] * y + back[2, 2]
        mm_x = (back[0, 0] * x + back[0, 1] * y + back[0, 2]) / below
        mm_y = (back[1, 0] * x + back[1, 1] * y + back[1, 2]) / below
        if shot.bend_mm:
            mm_y = mm_y - np.float32(shot.bend_mm) * (1 - (2 * mm_x / WIDE_MM - 1) ** 2)
        cv2.remap(
            card,
            mm_x * px_mm - np.float32(0.5),
            mm_y * px_mm - np.float32(0.5),
            cv2.INTER_LINEAR,
            dst=image[start : start + STRIP],
            borderMode=cv2.BORDER_CONSTANT,
            borderValue=shot.table,
        )
    return image


def _shake(length: float, way: float) -> Floats:
    n = int(np.ceil(length / 2)) + 1
    kernel = np.zeros((2 * n + 1, 2 * n + 1), dtype=np.float32)
    dx, dy = np.cos(way) * length / 2, np.sin(way) * length / 2
    ends = (round(n - dx), round(n - dy)), (round(n + dx), round(n + dy))
    cv2.line(kernel, *ends, 1.0, 1, cv2.LINE_AA)
    return np.asarray(kernel / kernel.sum(), dtype=np.float32)


def _at_card(to_picture: Array, x_mm: float, y_mm: float) -> tuple[float, float]:
    p = to_picture @ np.array([x_mm, y_mm, 1.0])
    return float(p[0] / p[2]), float(p[1] / p[2])


def _light(shot: Shot, to_picture: Array, wide: int, high: int, rng: Generator) -> Floats:
    """(high, wide) float32: share of the light that each pixel gets."""
    y, x = np.mgrid[0:high:20, 0:wide:20].astype(np.float32)
    u, v = x / wide - 0.5, y / wide - 0.5 * high / wide
    field = 1 - shot.vignette * (u * u + v * v) / 0.39
    way = np.deg2rad(shot.slope_toward_deg)
    field = field * (1 - shot.slope * (0.5 + u * np.cos(way) + v * np.sin(way)))
    if shot.shadow > 0:
        # an edge, as of a hand or a phone, across the card
        at = _at_card(to_picture, float(rng.uniform(45, 105)), HIGH_MM / 2)
        way = rng.uniform(-0.6, 0.6)
        across = ((x - at[0]) * np.cos(way) + (y - at[1]) * np.sin(way)) / (shot.px_mm * 5)
        field = field * (1 - shot.shadow / (1 + np.exp(-across)))
    return np.asarray(cv2.resize(field.astype(np.float32), (wide, high)), dtype=np.float32)


def _glare(shot: Shot, to_picture: Array, wide: int, high: int, rng: Generator) -> Floats:
    """(high, wide) float32: a lamp mirrored in the card, soft."""
    y, x = np.mgrid[0:high:10, 0:wide:10].astype(np.float32)
    at = _at_card(to_picture, float(rng.uniform(25, 120)), float(rng.uniform(25, 80)))
    wide_px = shot.px_mm * float(rng.uniform(7, 12))
    spot = np.exp(-0.5 * (((x - at[0]) / wide_px) ** 2 + ((y - at[1]) / (0.7 * wide_px)) ** 2))
    found = cv2.resize((shot.glare * spot).astype(np.float32), (wide, high))
    return np.asarray(found, dtype=np.float32)


def _developed(image: Grid, noise: float, rng: Generator) -> Bytes:
    """Noise that grows with the root of the light, and sRGB encoding, in strips."""
    high, wide = image.shape[:2]
    out = np.empty((high, wide, 3), dtype=np.uint8)
    for start in range(0, high, STRIP):
        strip = np.maximum(image[start : start + STRIP], 0)
        grain = rng.standard_normal(strip.shape, dtype=np.float32) * np.float32(noise)
        strip = np.clip(strip + grain * np.sqrt(strip + np.float32(0.01)), 0, 1)
        out[start : start + STRIP] = ENCODE_TABLE[
            (np.sqrt(strip) * (ENCODE_STEPS - 1) + 0.5).astype(np.uint16)
        ]
    return out
