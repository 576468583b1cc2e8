"""A camera that stands in for a phone: the fault of each part of it, as far as it is turned on.

Perspective, a bent card, a surrounding table, light that falls off and has a colour, a soft shadow,
glare, lens blur, shake, exposure, noise. Nothing here was measured on a real camera: the sizes are
those that phones are known for (docs/models.md F).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal, get_args

import cv2
import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from haze.core.arrays import Array, Bytes, Floats
from haze.core.film.looks import ENCODE_STEPS, ENCODE_TABLE
from haze.core.inspect.card import HIGH_MM, WIDE_MM

Fault = Literal["dark", "cropped", "bent", "far", "glare", "uneven", "blurred", "shaken", "steep"]
FAULTS: tuple[Fault, ...] = get_args(Fault)
WIDE_PX, HIGH_PX = 4000, 3000
FOCAL = 0.78  # of a phone's main lens, over the wide side of its picture
STRIP = 250  # rows that are worked on at once
Grid = NDArray[Any]


@dataclass(frozen=True, slots=True)
class Shot:
    """How a picture is taken.

    Attributes
    ----------
    px_mm : float, pixels a millimetre at the middle of the card
    tilt_deg, toward_deg : float [°], how far the camera leans, and to which side
    roll_deg : float [°], how the picture is turned
    off : (x, y) float, where the middle of the card lies off that of the picture, in shares of it
    bend_mm : float [mm], how far the middle of the card bows to a side
    light : float, of the paper in the picture, 1 being as light as it can be
    tint : (3,) float, colour of the light
    vignette, slope : float [0..1], what is lost at the corners, and from one side to the other
    shadow : float [0..1], depth of a soft shadow over part of the card
    glare : float [0..1], light of a mirrored lamp
    blur_px, shake_px : float [px], spread of the lens, and length of a movement
    noise : float, of a light pixel
    table : (3,) float, reflectance of what the card lies on
    """

    px_mm: float = 21.0
    tilt_deg: float = 12.0
    toward_deg: float = 60.0
    roll_deg: float = 3.0
    off: tuple[float, float] = (0.0, 0.0)
    bend_mm: float = 0.0
    light: float = 0.72
    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    vignette: float = 0.15
    slope: float = 0.1
    slope_toward_deg: float = 30.0
    shadow: float = 0.0
    glare: float = 0.0
    blur_px: float = 0.9
    shake_px: float = 0.0
    noise: float = 0.008
    table: tuple[float, float, float] = (0.12, 0.1, 0.08)


def usual(rng: Generator) -> Shot:
    """A picture as a careful hand takes it.

    Parameters
    ----------
    rng : what it is drawn from
    """
    warm = float(rng.normal(0, 0.14))
    tilt = float(abs(rng.normal(0, 14)))
    grey = float(rng.uniform(0.03, 0.5))
    return Shot(
        px_mm=float(rng.uniform(18.5, 22.5)),
        tilt_deg=min(tilt, 34.0),
        toward_deg=float(rng.uniform(0, 360)),
        roll_deg=float(rng.normal(0, 5) + rng.choice([0, 0, 0, 180])),
        off=(float(rng.normal(0, 0.012)), float(rng.normal(0, 0.015))),
        bend_mm=float(rng.normal(0, 0.03)),
        light=float(rng.uniform(0.45, 0.88)),
        tint=(float(np.exp(warm)), 1.0, float(np.exp(-1.2 * warm))),
        vignette=float(rng.uniform(0.05, 0.25)),
        slope=float(rng.uniform(0, 0.3)),
        slope_toward_deg=float(rng.uniform(0, 360)),
        blur_px=float(rng.uniform(0.6, 1.25)),
        noise=float(rng.uniform(0.004, 0.016)),
        table=(grey, grey * float(rng.uniform(0.8, 1)), grey * float(rng.uniform(0.6, 1))),
    )


def with_fault(shot: Shot, fault: Fault, rng: Generator) -> Shot:
    """A picture in which one thing went wrong.

    Parameters
    ----------
    shot : as it would have been
    fault : which thing
    rng : how badly
    """
    if fault == "dark":
        return replace(shot, light=float(rng.uniform(0.01, 0.03)))
    if fault == "cropped":
        side = float(rng.choice([-1, 1]))
        return replace(shot, off=(side * float(rng.uniform(0.24, 0.32)), shot.off[1]))
    if fault == "bent":
        return replace(shot, bend_mm=float(rng.uniform(1.4, 3.0)))
    if fault == "far":
        return replace(shot, px_mm=float(rng.uniform(7.0, 11.5)), tilt_deg=min(shot.tilt_deg, 20))
    if fault == "glare":
        return replace(shot, glare=float(rng.uniform(1.2, 2.2)))
    if fault == "uneven":
        return replace(shot, shadow=float(rng.uniform(0.45, 0.7)))
    if fault == "blurred":
        return replace(shot, blur_px=float(rng.uniform(3.0, 6.0)))
    if fault == "shaken":
        return replace(shot, shake_px=float(rng.uniform(14, 30)))
    return replace(shot, tilt_deg=float(rng.uniform(56, 64)), px_mm=22.0)


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
            cv2.INTER_AREA if px_mm > 1.6 * shot.px_mm else cv2.INTER_LINEAR,
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
