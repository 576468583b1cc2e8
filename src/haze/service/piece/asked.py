"""The colours a scheme was asked for, on the piece, and how far a plan ends from them."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Array, Floats, Longs
from haze.core.drafting.targets import wanted_at
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.skin import seen
from haze.core.film.srgb import linear_of_hex
from haze.core.light.fields import ramp
from haze.core.plan.document import Along, Asked, Plan
from haze.service.piece.onpiece import EVERYWHERE, OnPiece

NEAR = 8.0  # ΔE00 up to which a place is as asked (judged)
AXES = {"across": 0, "height": 2}  # of the piece
ENDS = (0.05, 0.95)  # of the surface, between which a gradient runs


class OffColour(BaseModel):
    """How near a plan ends to the colours it was asked for, on the show side."""

    mean: float
    share: float
    words: str


def guide(on: OnPiece, plan: Plan, along: Along) -> Floats:
    """(n,) float32 [0..1]: how far along a gradient each vertex lies.

    Parameters
    ----------
    on : the piece
    plan : gives the light
    along : what the gradient follows
    """
    if along == "light":
        return on.lit.value(plan)
    mesh = on.piece.mesh
    if along == "facing":
        return np.asarray((1.0 + mesh.normals[:, 2]) / 2.0)
    start, end = axis_of(on, along)
    return ramp(mesh.vertices, start=start, end=end)


def axis_of(on: OnPiece, along: Along) -> Array:
    """(2, 3) float: where a gradient of the height or across starts and ends, in prepared units.

    Parameters
    ----------
    on : the piece
    along : one of `AXES`
    """
    points = on.piece.mesh.vertices[on.sampled].astype(np.float64)
    out = np.tile(np.median(points, axis=0), (2, 1))
    axis = AXES[along]
    out[:, axis] = np.quantile(points[:, axis], ENDS)
    return out


def wanted_on(on: OnPiece, plan: Plan, asked: Asked, where: Longs | slice = EVERYWHERE) -> Floats:
    """(n, 3) float32: linear sRGB wanted at some vertices."""
    rgb = np.stack([linear_of_hex(c) for c in asked.colours])
    return wanted_at(rgb, guide(on, plan, asked.along)[where])


def off_colour(on: OnPiece, plan: Plan, asked: Asked) -> Floats:
    """(n,) float32: ΔE00 of the end of a plan from what was asked."""
    return _apart(seen(on.below(plan, len(plan.coats))).T, wanted_on(on, plan, asked))


def off_colour_of(on: OnPiece, plan: Plan) -> OffColour | None:
    """How near a plan ends to the colours it was asked for; None when none were asked."""
    if plan.asked is None or not plan.done:
        return None
    where = on.sampled
    weight = on.place_weights(plan)[where]
    show = (weight > 0) & (on.piece.mesh.normals[where, 1] < 0)
    if not show.any():
        return None
    ended = seen(on.sampled_skins(plan, len(plan.coats))[-1]).T
    off = _apart(ended, wanted_on(on, plan, plan.asked, where))[show]
    mean, share = float(off.mean()), float((off <= NEAR).mean())
    place = "its light" if plan.asked.along == "light" else "its place"
    words = (
        f"{share:.0%} of the front ends within ΔE {NEAR:g} of the colour asked for {place}; "
        f"ΔE {mean:.1f} in the mean."
    )
    return OffColour(mean=mean, share=share, words=words)


def _apart(ended: Floats, wanted: Floats) -> Floats:
    return np.asarray(ciede2000(lab_of(np.clip(ended, 0, 1)), lab_of(wanted)), dtype=np.float32)
