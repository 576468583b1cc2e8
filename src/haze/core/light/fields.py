"""Where an aimed coat goes: recesses, panel middles, upper edges, a ramp, round a glow, one part.

A field is 1 where the airbrush is held longest and 0 where it never points. What lands is the
field blurred along the surface by the footprint, as far as spray reaches (docs/models.md B6).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Floats, Mask
from haze.core.mesh.surface import Surface

FAINT = 0.08  # of a glow at its reach: what it hardly lights is left dark (judged)
RECESS_FROM, RECESS_FULL = 0.25, 0.7  # cavity where a recess begins and where it is full (judged)
EDGE_FULL = 0.25  # bend [1/unit] of a full edge (judged)
EDGE_BLUR = 1.2  # [units] over which an edge is felt
PANEL_LEAST_INSET = 0.35  # [units] a panel's middle must lie from its border to be one
PANEL_LEAST_AREA = 12.0  # [units²]
SPOT_SIGMAS = 4.0  # a spot is four sigma wide, as in the spray model


def rise(value: Array | Floats, low: float, high: float) -> Floats:
    """Smooth step from 0 at low to 1 at high.

    Parameters
    ----------
    value : (n,) float
    """
    t = np.clip((value - low) / (high - low), 0.0, 1.0)
    return np.asarray(t * t * (3 - 2 * t), dtype=np.float32)


def round_glow(glow: Floats) -> Floats:
    """(n,) float32 [0..1]: where a coat round a glow goes; what it hardly lights stays dark.

    Parameters
    ----------
    glow : (n,) float32, 1 square to the glow at its reach
    """
    return np.asarray(np.clip((glow - FAINT) / (1 - FAINT), 0, 1), dtype=np.float32)


def recesses(openness: Floats) -> Floats:
    """(n,) float32: cavity = 1 − mean visibility, from where a recess begins.

    Parameters
    ----------
    openness : (n,) float [0..1], share of the sky a point sees
    """
    return rise(1.0 - openness, RECESS_FROM, RECESS_FULL)


def upper_edges(surface: Surface) -> Floats:
    """(n,) float32: edges that bulge outward and catch light from above.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    """
    bend = surface.blurred(np.maximum(surface.bend, 0.0), sigma=EDGE_BLUR)
    facing_up = rise(surface.mesh.normals[:, 2], -0.2, 0.6)
    return rise(bend, 0.15 * EDGE_FULL, EDGE_FULL) * facing_up


def panel_middles(surface: Surface, *, margin: float) -> Floats:
    """(n,) float32: 1 in the middle of each panel, falling to 0 at its border.

    Parameters
    ----------
    margin : float [prepared units], how far from the border the colour is full; a panel narrower
        than that is full in its own middle
    surface : the mesh as a surface to walk on
    """
    panel, _ = surface.panels
    inset = surface.inset
    deepest = np.zeros(int(panel.max()) + 1, dtype=np.float32)
    np.maximum.at(deepest, panel, inset)
    full = np.minimum(deepest, margin)[panel]
    return np.where(
        full > PANEL_LEAST_INSET, rise(inset / np.maximum(full, 1e-6), 0.15, 1.0), 0.0
    ).astype(np.float32)


def ramp(points: Floats, *, start: Array, end: Array) -> Floats:
    """(n,) float32: 0 at one end of an axis and beyond, rising evenly to 1 at the other.

    Parameters
    ----------
    points : (n, 3) float32
    start, end : (3,) float, in the same units
    """
    axis = end - start
    length2 = float(axis @ axis)
    if length2 < 1e-12:
        return np.zeros(len(points), dtype=np.float32)
    return np.clip((points - start) @ axis / length2, 0.0, 1.0).astype(np.float32)


def near_part(surface: Surface, inside: Mask, *, fade: float) -> Floats:
    """(n,) float32: 1 on a part, falling to 0 over a distance along the surface beyond it.

    Parameters
    ----------
    inside : (n,) bool, vertices of the part
    fade : float [mesh unit], the way over which it fades
    """
    if fade <= 0:
        return inside.astype(np.float32)
    return 1.0 - rise(surface.distance(inside, limit=fade), 0.0, fade)


@dataclass(frozen=True, slots=True)
class PanelFit:
    """How the spot of the airbrush compares with the panels it is meant for."""

    panels: int
    too_small: int
    narrowest_mm: float
    spot_mm: float
    half_fit_mm: float  # spot that fits half of the panels


def panel_fit(surface: Surface, *, mm_per_unit: float, sigma_mm: float) -> PanelFit:
    """Count the panels that are narrower than the spot; width is twice the deepest inset.

    Parameters
    ----------
    surface : the mesh as a surface to walk on
    mm_per_unit : float [mm], length of a mesh unit
    sigma_mm : float [mm], of the spray spot
    """
    panel, _ = surface.panels
    count = int(panel.max()) + 1
    area = np.bincount(panel, weights=surface.mesh.vertex_area, minlength=count)
    deepest = np.zeros(count, dtype=np.float32)
    np.maximum.at(deepest, panel, surface.inset)
    real = (area >= PANEL_LEAST_AREA) & (deepest > PANEL_LEAST_INSET)
    spot = SPOT_SIGMAS * sigma_mm
    width = 2.0 * deepest[real] * mm_per_unit
    return PanelFit(
        panels=int(real.sum()),
        too_small=int((width < spot).sum()),
        narrowest_mm=float(width.min()) if real.any() else 0.0,
        spot_mm=spot,
        half_fit_mm=float(np.median(width)) if real.any() else 0.0,
    )


def landed(
    surface: Surface,
    field: Floats,
    *,
    sigma: float,
    sees: Floats,
    beside: Floats,
    members: Mask | None = None,
) -> Floats:
    """(n,) float32 [-]: what one pass over a field lands.

    Parameters
    ----------
    field : (n,) float32, 0..1
    sigma : float [prepared units], footprint
    sees : (n,) float32, best cosine × unoccluded over the directions spray may come from
    beside : (n,) float32 [0..1], what lands on bodies that are not aimed at
    members : (n,) bool, the only part that is there when it is sprayed; None for all
    surface : the mesh as a surface to walk on
    """
    soft = np.maximum(np.clip(surface.blurred(field, sigma=sigma), 0.0, 1.0), beside)
    if members is not None:
        soft = np.where(members, soft, 0.0)
    return np.asarray(soft * np.clip(sees, 0.0, 1.0), dtype=np.float32)
