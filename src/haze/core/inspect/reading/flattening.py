"""A card taken out of its photo: flat, in linear light, and over its own bare paper.

The light on the card is what bare paper shows: a cubic in x and y is fitted to the logarithm of
its brightness, channel by channel, reweighted so that splashes, which only darken, count for
little (iteratively reweighted least squares, Holland & Welsch 1977). Everything is divided by it.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np

from haze.core.arrays import Array, Bytes, Floats, Mask
from haze.core.film.srgb import LUMINANCE, decode_srgb
from haze.core.inspect.card import HIGH_MM, LAYOUT, MARK_MM, WIDE_MM, WINDOW_MM, Mark
from haze.core.inspect.reading.finding import Place, mapped

PX_MM = 16.0  # the same wherever measures were fitted
DECODED: Floats = decode_srgb(np.arange(256) / 255.0).astype(np.float32)
PAINTED, PAINTED_WEIGHT = 1.8, 0.03
ASTRAY, UNEVEN_ASTRAY = 0.05, 0.3  # a paper so far off is astray; a fifth of them is uneven
INSET = 0.18  # of a patch, left out at each edge
DAMP = (0.0, 0.0, 0.05, 0.15)  # by degree: bends are only believed when papers show them
LUM: Floats = LUMINANCE.astype(np.float32)
CUBIC = [(i, j) for i in range(4) for j in range(4 - i)]
EDGE_MM = 0.9  # to each side of a mark's edge that is looked at


@dataclass(frozen=True, slots=True)
class Flat:
    """A card, flat.

    Attributes
    ----------
    shares : (h, w, 3) float32 [-], linear light over that of bare paper in the same light
    uneven : float [-], what bare paper is still off after the fit
    bare : int, papers of the card's edge on which no paint lies
    paper : float [0..255], brightness of bare paper in the photo, encoded
    blur_mm : float [mm], spread of an edge
    clipped : float [0..1], share of the sprayed field that is as light as can be
    shining : float [0..1], share of it that is lighter than paper can be
    """

    shares: Floats
    uneven: float
    bare: int
    paper: float
    blur_mm: float
    clipped: float
    shining: float


def flattened(image: Bytes, place: Place) -> Flat:
    """A card taken out of its photo.

    Parameters
    ----------
    image : (h, w, 3) uint8, encoded sRGB
    place : where it lies
    """
    x0, y0, x1, y1 = WINDOW_MM
    u, v = mapped(place, PX_MM, (0.0, 0.0, WIDE_MM, HIGH_MM))
    encoded = cv2.remap(image, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    linear = DECODED[encoded]
    light, uneven, bare = _light(linear)
    shares = linear / np.maximum(light, np.float32(1e-4))
    field = box_px(x0, y0, x1 - x0, y1 - y0)
    grey = shares[field] @ LUM
    bright = np.array([np.median(encoded[p]) for p in papers()])
    return Flat(
        shares=shares,
        uneven=uneven,
        bare=bare,
        paper=float(np.percentile(bright, 95)),
        blur_mm=edge_spread_mm(shares, place.marks),
        clipped=float(np.mean(encoded[field].min(axis=-1) >= 253)),
        shining=float(np.mean(grey > 1.15)),
    )


def box_px(x: float, y: float, w: float, h: float) -> tuple[slice, slice]:
    """Rows and columns of a part of the flat card.

    Parameters
    ----------
    x, y, w, h : float [mm]
    """
    return (
        slice(max(0, round(y * PX_MM)), round((y + h) * PX_MM)),
        slice(max(0, round(x * PX_MM)), round((x + w) * PX_MM)),
    )


@cache
def papers() -> tuple[tuple[slice, slice], ...]:
    """Where bare paper is the reference."""
    return tuple(
        box_px(
            p["x"] + INSET * p["w"],
            p["y"] + INSET * p["h"],
            (1 - 2 * INSET) * p["w"],
            (1 - 2 * INSET) * p["h"],
        )
        for p in LAYOUT["patches"]
        if p["ink"] == "paper"
    )


def _terms(x: Array, y: Array) -> Array:
    """(..., 10) float: a cubic in places of -1 to 1."""
    return np.stack([x**i * y**j for i, j in CUBIC], axis=-1)


def _light(linear: Floats) -> tuple[Floats, float, int]:
    """(h, w, 3) float32: light of bare paper; what papers are off it; how many are bare."""
    h, w = linear.shape[:2]
    boxes = papers()
    middles = np.array([((c.start + c.stop) / w - 1, (r.start + r.stop) / h - 1) for r, c in boxes])
    here = [linear[b].reshape(-1, 3) for b in boxes]
    seen = np.log(np.array([np.median(p, axis=0) for p in here]) + 1e-5)
    bare = ~_painted(here)
    terms = _terms(middles[:, 0], middles[:, 1])
    # from the plane to the cubic: splashes over one side are kept out of a slope before it may bend
    doubt = np.where(bare, 1.0, PAINTED_WEIGHT)
    weights = doubt
    for degree in (1, 1, 1, 2, 2, 2, 3, 3, 3, 3):
        held = [k for k, (i, j) in enumerate(CUBIC) if i + j <= degree]
        root = np.sqrt(weights)[:, None]
        damped = np.diag(np.array([DAMP[sum(CUBIC[k])] for k in held]))
        left = np.vstack([terms[:, held] * root, damped])
        right = np.vstack([seen * root, np.zeros((len(held), 3))])
        part = np.linalg.lstsq(left, right, rcond=None)[0]
        fit = np.zeros((len(CUBIC), 3))
        fit[held] = part
        off = (seen - terms @ fit).mean(axis=1)
        spread = max(1.4826 * float(np.median(np.abs(off[off > -0.1]))), 0.004)
        limit = np.where(off < 0, 1.5, 3.0) * spread
        weights = doubt / (1 + (off / limit) ** 2) ** 2
    uneven = float(np.sqrt(np.average((seen - terms @ fit) ** 2, axis=0, weights=weights).mean()))
    y, x = np.mgrid[0:h:16, 0:w:16]
    grid = _terms(2 * (x + 8) / w - 1, 2 * (y + 8) / h - 1) @ fit
    light = cv2.resize(np.exp(grid).astype(np.float32), (w, h), interpolation=cv2.INTER_LINEAR)
    # a shadow's edge that no cubic follows leaves some papers far off
    astray = float(np.mean(np.abs(off[bare]) > ASTRAY)) if bare.any() else 1.0
    return np.asarray(light), max(uneven, UNEVEN_ASTRAY * astray), int(bare.sum())


def _painted(papers: list[Floats]) -> Mask:
    """(n,) bool: paint lies on a paper; it is grainy, where a shadow is smooth."""
    grain = np.array([float(np.std(p @ LUM) / max(float(np.mean(p @ LUM)), 1e-5)) for p in papers])
    usual = float(np.quantile(grain, 0.25))
    return np.asarray(grain > max(PAINTED * usual, usual + 0.012))


def edge_spread_mm(shares: Floats, marks: tuple[Mark, ...]) -> float:
    """Spread [mm] of the edges of marks: the standard deviation of a Gaussian blur.

    Parameters
    ----------
    shares : (h, w, 3) float32, the flat card
    marks : that were found
    """
    grey = shares @ LUM
    found = [s for m in marks for s in (_across(grey, m, upright=u) for u in (True, False)) if s]
    return float(np.median(found)) if found else 9.0


def _across(grey: Floats, mark: Mark, *, upright: bool) -> float | None:
    """Spread of one outer edge of a mark, the left or the upper one."""
    if upright:
        box = box_px(mark.x - EDGE_MM, mark.y + 1.5, 2 * EDGE_MM, MARK_MM - 3)
        rows = grey[box]
    else:
        box = box_px(mark.x + 1.5, mark.y - EDGE_MM, MARK_MM - 3, 2 * EDGE_MM)
        rows = grey[box].T
    if rows.shape[0] < 10 or rows.shape[1] < 10:
        return None
    profile = rows.mean(axis=0)
    light, dark = float(profile[:4].mean()), float(profile[-4:].mean())
    if light - dark < 0.2:
        return None
    rise = (light - profile) / (light - dark)
    at = np.arange(len(rise)) / PX_MM
    order = np.maximum.accumulate(np.clip(rise, 0, 1))
    low, high = np.interp([0.16, 0.84], order + np.arange(len(order)) * 1e-9, at)
    return float(high - low) / 2
