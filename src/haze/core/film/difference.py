"""Colour differences and perceptual coordinates.

Sources: Sharma, Wu & Dalal 2005 (CIEDE2000 with its traps), CIE 15 (L*a*b*), B. Ottosson 2020
(OKLab matrices).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from haze.core.arrays import Array
from haze.core.film.srgb import RGB_TO_XYZ

__all__ = ("ciede2000", "delta_e", "lab_of")

WHITE_D65: Array = RGB_TO_XYZ.sum(axis=1)
OK_LMS: Array = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
OK_LAB: Array = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def lab_of(linear_rgb: ArrayLike) -> Array:
    """(..., 3) float: CIE L*a*b* (D65) of linear sRGB on the last axis.

    Parameters
    ----------
    linear_rgb : (..., 3) float [0..1], linear
    """
    xyz = np.asarray(linear_rgb, dtype=np.float64) @ RGB_TO_XYZ.T / WHITE_D65
    e, k = 216 / 24389, 24389 / 27
    f = np.where(xyz > e, np.cbrt(xyz), (k * xyz + 16) / 116)
    x, y, z = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * y - 16, 500 * (x - y), 200 * (y - z)], axis=-1)


def speck_contrast(paint: ArrayLike, ground: ArrayLike) -> Array:
    """Contrast of a small dot against its ground [0..1], 1 for white paint over black.

    Mostly lightness: the eye resolves a dot's colour far less finely. √(ΔL*² + (.3 ΔC*)²)/90, where
    90 L* lie between a white and a black paint; judged.

    Parameters
    ----------
    paint, ground : (..., 3) float [0..1], linear sRGB
    """
    step = lab_of(paint) - lab_of(ground)
    chroma = np.hypot(step[..., 1], step[..., 2])
    return np.asarray(np.minimum(np.hypot(step[..., 0], 0.3 * chroma) / 90.0, 1.0))


def oklab_of(linear_rgb: ArrayLike) -> Array:
    """(..., 3) float: OKLab of linear sRGB on the last axis.

    Parameters
    ----------
    linear_rgb : (..., 3) float [0..1], linear
    """
    return np.asarray(np.cbrt(np.asarray(linear_rgb, dtype=np.float64) @ OK_LMS.T) @ OK_LAB.T)


def oklch_of(linear_rgb: ArrayLike) -> Array:
    """(..., 3) float: lightness, chroma, hue [°, 0..360) in OKLab.

    Parameters
    ----------
    linear_rgb : (..., 3) float [0..1], linear
    """
    lab = oklab_of(linear_rgb)
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360.0
    return np.stack([lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue], axis=-1)


def lch_of(linear_rgb: ArrayLike) -> tuple[float, float, float]:
    """Lightness [0..1], chroma [-] and hue [°, 0..360) in OKLab of one colour.

    Parameters
    ----------
    linear_rgb : (3,) float [-], linear sRGB
    """
    lightness, chroma, hue = (float(v) for v in oklch_of(linear_rgb))
    return lightness, chroma, hue


def hue_turn(hue_deg: ArrayLike, from_deg: ArrayLike) -> Array:
    """How far a hue lies from another [°], in −180..180, positive counter-clockwise.

    Parameters
    ----------
    hue_deg : (...) float [°], hue turned to
    from_deg : (...) float [°], hue turned from
    """
    turn = np.asarray(hue_deg, dtype=np.float64) - np.asarray(from_deg, dtype=np.float64)
    return np.asarray((turn + 180.0) % 360.0 - 180.0)


def ciede2000(lab_1: ArrayLike, lab_2: ArrayLike) -> Array:
    """ΔE00 [-] between L*a*b* colours on the last axis (kL = kC = kH = 1).

    Parameters
    ----------
    lab_1 : (..., 3) float, CIELAB
    lab_2 : (..., 3) float, CIELAB, broadcast against the first
    """
    one, two = np.asarray(lab_1, dtype=np.float64), np.asarray(lab_2, dtype=np.float64)
    l1, a1, b1 = one[..., 0], one[..., 1], one[..., 2]
    l2, a2, b2 = two[..., 0], two[..., 1], two[..., 2]
    c_mean7 = ((np.hypot(a1, b1) + np.hypot(a2, b2)) / 2) ** 7
    g = 0.5 * (1 - np.sqrt(c_mean7 / (c_mean7 + 25.0**7)))
    a1, a2 = (1 + g) * a1, (1 + g) * a2
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = np.degrees(np.arctan2(b1, a1)) % 360, np.degrees(np.arctan2(b2, a2)) % 360
    grey = c1 * c2 == 0
    dh = np.where(grey, 0.0, hue_turn(h2, h1))
    # a difference of exactly 180° counts as +180 by the paper
    dh = np.where(~grey & (np.abs(h2 - h1) == 180), h2 - h1, dh)
    d_hue = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh) / 2)
    l_mean, c_mean = (l1 + l2) / 2, (c1 + c2) / 2
    far = np.abs(h1 - h2) > 180
    total = h1 + h2
    h_mean = np.where(far, np.where(total < 360, (total + 360) / 2, (total - 360) / 2), total / 2)
    h_mean = np.where(grey, total, h_mean)
    t = (
        1
        - 0.17 * np.cos(np.radians(h_mean - 30))
        + 0.24 * np.cos(np.radians(2 * h_mean))
        + 0.32 * np.cos(np.radians(3 * h_mean + 6))
        - 0.20 * np.cos(np.radians(4 * h_mean - 63))
    )
    s_l = 1 + 0.015 * (l_mean - 50) ** 2 / np.sqrt(20 + (l_mean - 50) ** 2)
    s_c, s_h = 1 + 0.045 * c_mean, 1 + 0.015 * c_mean * t
    turn = 30 * np.exp(-(((h_mean - 275) / 25) ** 2))
    r_c = 2 * np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7))
    r_t = -np.sin(np.radians(2 * turn)) * r_c
    dl, dc, dhh = (l2 - l1) / s_l, (c2 - c1) / s_c, d_hue / s_h
    return np.asarray(np.sqrt(dl**2 + dc**2 + dhh**2 + r_t * dc * dhh))


def delta_e(one_rgb: ArrayLike, other_rgb: ArrayLike) -> float:
    """ΔE00 [-] between two linear colours.

    Parameters
    ----------
    one_rgb, other_rgb : (3,) float [-], linear sRGB
    """
    return float(ciede2000(lab_of(one_rgb), lab_of(other_rgb)))
