"""All that is measured on a flat card."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.inspect.card import HIGH_MM, WIDE_MM, WINDOW_MM, ZONES, guides
from haze.core.inspect.reading.depth import LEAST_CONTRAST, Depth, Ink, depth_of
from haze.core.inspect.reading.fade import Fade, fade_of
from haze.core.inspect.reading.fingers import Fingers, fingers_in
from haze.core.inspect.reading.flattening import PX_MM, box_px
from haze.core.inspect.reading.lines import Line, lines_of
from haze.core.inspect.reading.specks import (
    SPREADS_MM,
    Grain,
    Specks,
    grain_in,
    lumps_in,
    specks_in,
)
from haze.core.inspect.trial_card import MIDDLE_INSET_MM

RIM_MM = 0.7  # inside the frame's edge, left out
GUIDE_RIM_MM = 0.35
WORKED = (13.0, 13.0, 122.0, 36.6)  # what is sprayed with the setting itself: x, y, w, h
ONE_PASS = (13.0, 13.0, 38.0, 36.0)
LINES = (13.0, 50.5, 70.0, 41.0)
DOTS = (84.0, 50.5, 51.0, 41.0)


@dataclass(frozen=True, slots=True)
class Measures:
    """What is measured on a card.

    Attributes
    ----------
    contrast : float [0..1], of the closed paint against its ground
    fingers : on the whole card
    specks : of one pass
    lumps : (4,) float [-], third moments of a thin film, of what the setting itself sprayed
    grain : of the same
    lines : the three of them
    fade : as it is
    solid : (3,) float [-], linear light over that of bare paper
    pass_um : float [µm, dry], mean film of one pass in the middle of its zone
    solid_share : float [-], how closed the solid is
    gaps : float [0..1], share of the one pass that has almost no paint
    """

    contrast: float
    fingers: Fingers
    specks: Specks
    lumps: Array
    grain: Grain
    lines: tuple[Line, ...]
    fade: Fade
    solid: Array
    pass_um: float
    solid_share: float
    gaps: float


def measured(flat: Floats, ink: Ink) -> Measures:
    """All measures of a flat card.

    Parameters
    ----------
    flat : (h, w, 3) float32 [-], light over that of bare paper
    ink : what is known of the paint
    """
    depth = depth_of(flat, ink)
    if depth.contrast < LEAST_CONTRAST:
        return _empty(depth, flat)
    fingers = fingers_in(depth.shares, noise=depth.noise, inside=_inside())
    beside = fingers.mask | ~_inside()
    zone = _core("onepass", MIDDLE_INSET_MM)
    return Measures(
        contrast=depth.contrast,
        fingers=fingers,
        specks=specks_in(depth.shares, ONE_PASS, contrast=depth.contrast, beside=beside),
        lumps=lumps_in(depth.shares, WORKED, beside=beside),
        grain=grain_in(depth.shares, WORKED, noise=depth.noise, beside=beside),
        lines=lines_of(depth, hiding_um=ink.hiding_um),
        fade=fade_of(flat),
        solid=depth.solid,
        pass_um=float(depth.granular.film_um(np.asarray(depth.shares[zone].mean()))),
        solid_share=float(np.median(depth.shares[_core("solid", 5.0)])),
        gaps=_gaps(depth, zone),
    )


def _core(zone: str, inset: float) -> tuple[slice, slice]:
    x0, y0, x1, y1 = ZONES[zone]
    return box_px(x0 + inset, y0 + inset, x1 - x0 - 2 * inset, y1 - y0 - 2 * inset)


def _gaps(depth: Depth, zone: tuple[slice, slice]) -> float:
    """Share of small fields of the one pass with under a third of its usual paint."""
    here = depth.shares[zone]
    n = round(PX_MM)
    h, w = (v // n * n for v in here.shape)
    fields = here[:h, :w].reshape(h // n, n, w // n, n).mean(axis=(1, 3))
    usual = max(float(np.quantile(fields, 0.9)), 1e-3)
    return float(np.mean(fields < usual / 3))


def _empty(depth: Depth, flat: Floats) -> Measures:
    nothing = np.zeros((0, 4))
    return Measures(
        contrast=depth.contrast,
        fingers=Fingers(np.zeros(flat.shape[:2], dtype=bool), nothing),
        specks=Specks(np.zeros(4), 0.0, np.zeros((0, 3))),
        lumps=np.zeros(len(SPREADS_MM)),
        grain=Grain(0.0, 0.0),
        lines=(),
        fade=Fade(0.0, 0.0, 0.0),
        solid=depth.solid,
        pass_um=0.0,
        solid_share=0.0,
        gaps=1.0,
    )


@cache
def _inside() -> Mask:
    """(h, w) bool: within the frame, off its edge and off the guides."""
    inside = np.zeros((round(HIGH_MM * PX_MM), round(WIDE_MM * PX_MM)), dtype=bool)
    x0, y0, x1, y1 = WINDOW_MM
    inside[box_px(x0 + RIM_MM, y0 + RIM_MM, x1 - x0 - 2 * RIM_MM, y1 - y0 - 2 * RIM_MM)] = True
    for g in guides():
        r = GUIDE_RIM_MM
        inside[box_px(g.x - r, g.y - r, g.w + 2 * r, g.h + 2 * r)] = False
    return inside
