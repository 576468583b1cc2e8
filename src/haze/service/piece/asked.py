"""The colours a scheme was asked for, on the piece, and how far a plan ends from them."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Array, Floats, Longs, Mask
from haze.core.drafting.targets import wanted_at
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.skin import seen
from haze.core.film.srgb import linear_of_hex
from haze.core.light.fields import ramp
from haze.core.plan.document import Along, Asked, Plan
from haze.service.piece.onpiece import EVERYWHERE, OnPiece

NEAR = 8.0  # ΔE00 up to which a place is as asked (judged)
NEARLY_ALL = 0.97  # of the front; the rest is not worth a word
TELLING = 3.0  # CIELAB units that say how a colour is off
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
    wanted = wanted_on(on, plan, plan.asked, where)
    off = _apart(ended, wanted)[show]
    mean, share = float(off.mean()), float((off <= NEAR).mean())
    words = f"Close to what you asked on {share:.0%} of the front"
    if share < NEARLY_ALL:
        words += f"; the rest is {_how_off(ended[show], wanted[show], off > NEAR)}"
    return OffColour(mean=mean, share=share, words=f"{words}.")


def _how_off(ended: Floats, wanted: Floats, off: Mask) -> str:
    """In a word how the places that are off differ: in lightness, in strength, or in hue."""
    lightness, *ab = (lab_of(np.clip(ended[off], 0, 1)) - lab_of(wanted[off])).mean(axis=0)
    own, asked = (
        np.hypot(*lab_of(np.clip(rgb[off], 0, 1))[:, 1:].T).mean() for rgb in (ended, wanted)
    )
    stronger = float(own - asked)
    if abs(lightness) >= max(abs(stronger), TELLING):
        return "lighter" if lightness > 0 else "darker"
    if abs(stronger) >= TELLING:
        return "stronger in colour" if stronger > 0 else "duller"
    return "of another hue" if np.hypot(*ab) >= TELLING else "a little off"


def _apart(ended: Floats, wanted: Floats) -> Floats:
    return np.asarray(ciede2000(lab_of(np.clip(ended, 0, 1)), lab_of(wanted)), dtype=np.float32)
