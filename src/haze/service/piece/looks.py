"""The piece in colours: as painted, in values, and in looks that answer one question."""

from __future__ import annotations

from typing import Literal

import numpy as np

from haze.core.arrays import Bytes, Floats, Mask
from haze.core.film.looks import encode_bytes, shown_bytes, value_bytes
from haze.core.film.skin import Skin, seen
from haze.core.film.srgb import linear_of_hex, luminance_of_lightness
from haze.core.light.reach import bare
from haze.core.plan.document import Plan
from haze.service.piece.asked import off_colour, wanted_on
from haze.service.piece.onpiece import OnPiece

Look = Literal[
    "as_painted",
    "value",
    "this_coat",
    "reach",
    "still_bare",
    "light_wanted",
    "off_plan",
    "colour_wanted",
    "off_colour",
]
OFF_COLOUR_FULL = 24.0  # ΔE00 off the asked colour at which the look is fully dark
UNCOATED_GREY = 0.03  # linear light of "nothing landed" in the look of one coat
DARK_SIGN, LIGHT_SIGN = 0.02, 0.62  # linear light of "no" and "yes" in looks that answer one
OFF_FULL = 40.0  # L* off plan at which the look is fully dark or fully light
FAINT, SHOWN_INSTEAD = 0.12, 0.6  # linear light of a paint that would vanish, and what stands in


def colours(on: OnPiece, plan: Plan, *, after: int, look: Look) -> Bytes:
    """(n, 3) uint8: encoded sRGB of a look after the first `after` steps (0: bare piece)."""
    after = min(max(after, 0), len(plan.coats))
    if look == "this_coat":
        return _this_coat(on, plan, after)
    if look == "reach":
        return _sign(on.reach.reachable(plan.piece.cones))
    if look == "still_bare":
        return _sign(~bare(on.total_film(plan, after)))
    if look == "light_wanted":
        return encode_bytes(on.lit.colour(plan))
    if look == "off_plan":
        off = on.off_plan(plan) / OFF_FULL
        return _grey(luminance_of_lightness(50 + 42 * np.clip(off, -1, 1)).astype(np.float32))
    if plan.asked and look == "colour_wanted":
        return encode_bytes(wanted_on(on, plan, plan.asked).T)
    if plan.asked and look == "off_colour":
        off = np.clip(off_colour(on, plan, plan.asked) / OFF_COLOUR_FULL, 0, 1)
        return _grey(luminance_of_lightness(92 - 84 * off).astype(np.float32))
    return surface_bytes(on.below(plan, after), look)


def surface_bytes(skin: Skin, look: Look) -> Bytes:
    """(n, 3) uint8: a surface in its colours, or in values."""
    linear = seen(skin)
    return value_bytes(linear) if look == "value" else shown_bytes(linear)


def _grey(level: Floats) -> Bytes:
    return encode_bytes(np.broadcast_to(level, (3, len(level))))


def _sign(yes: Mask) -> Bytes:
    return _grey(np.where(yes, LIGHT_SIGN, DARK_SIGN).astype(np.float32))


def _this_coat(on: OnPiece, plan: Plan, after: int) -> Bytes:
    """Dark where nothing of the coat landed, its own colour where a square-on film lies."""
    if after == 0:
        return _grey(np.full(on.piece.size, UNCOATED_GREY, dtype=np.float32))
    step = plan.coats[after - 1]
    film = on.layers(plan, after)[-1].film_um
    share = np.clip(film / max(on.square_on_um(plan, step), 1e-6), 0, 1)
    own = linear_of_hex(step.mix.hex if step.mix else "#808080").astype(np.float32)
    # a dark paint would vanish against the uncoated grey: show it as light film instead
    tint = own if float(own.max()) > FAINT else np.full(3, SHOWN_INSTEAD, dtype=np.float32)
    return encode_bytes(UNCOATED_GREY + share[None, :] * (tint[:, None] - UNCOATED_GREY))
