"""All that the browser draws a look from: bytes a vertex, and what breaks them up between vertices.

Behind the colours follow the shares and colours of textured steps: how much of each place they
cover, and the colour there as though they covered all of it. Which pattern that share breaks up
into stands beside the bytes; the browser draws it a pixel at a time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Bytes, Floats, share_bytes
from haze.core.film.finish import SURFACE
from haze.core.film.skin import Skin
from haze.core.plan.document import Plan
from haze.core.plan.roles import WASH_GATHERS
from haze.core.plan.texture import (
    HAND_TEXTURES,
    LEAST_SPECK_MM,
    MOST_TEXTURES,
    WASH_TEXTURE,
    Pattern,
    Texture,
    specks_of,
)
from haze.core.spray.recipe import speck_of
from haze.service.piece.looks import Look, colours, surface_bytes
from haze.service.piece.onpiece import OnPiece

TEXTURED: tuple[Look, ...] = ("as_painted", "value")
SPECKS_SEEN = 0.5  # risk of specks from which on they are drawn


class TextureOut(BaseModel):
    """How one textured step is broken up; sizes in units of the prepared piece."""

    pattern: Pattern
    size: float
    long: float
    soft: float
    metal: float


class Layout(BaseModel):
    """What follows the three colour bytes of every vertex, in this order: metal, gloss (a byte
    each), then for each texture three colour bytes and one of its share."""

    metal: bool
    gloss: bool
    textures: list[TextureOut]


@dataclass(frozen=True, slots=True)
class Broken:
    """A step that lies in a pattern: film (n,) [µm] without and with it, share (n,) [0..1]."""

    step: int
    texture: Texture
    without: Floats
    within: Floats
    share: Floats


def drawn(on: OnPiece, plan: Plan, *, after: int, look: Look, fine: bool) -> tuple[bytes, Layout]:
    """The bytes of a look after the first steps, and what they hold.

    Parameters
    ----------
    on : the piece
    plan : the plan
    after : how many steps are done
    look : which
    fine : whether textures are separate; else their means are in the colours
    """
    after = min(max(after, 0), len(plan.coats))
    if look not in TEXTURED:
        plain = colours(on, plan, after=after, look=look)
        return plain.tobytes(), Layout(metal=False, gloss=False, textures=[])
    broken = broken_up(on, plan, after) if fine else []
    base = _with(on, plan, after, broken, None)
    metal = look == "as_painted" and bool(base.metal.any())
    gloss = look == "as_painted"
    chunks: list[Bytes] = [surface_bytes(base, look)]
    if metal:
        chunks.append(share_bytes(base.metal))
    if gloss:
        chunks.append(share_bytes(glossiness(base.surface)))
    textures = []
    for one in broken:
        skin = _with(on, plan, after, broken, one)
        four = np.empty((on.piece.size, 4), dtype=np.uint8)
        four[:, :3] = surface_bytes(skin, look)
        four[:, 3] = share_bytes(one.share)
        chunks.append(four)
        textures.append(_texture(one, skin, on.piece.mesh.mm_per_unit(plan.piece.height_mm)))
    data = b"".join(c.tobytes() for c in chunks)
    return data, Layout(metal=metal, gloss=gloss, textures=textures)


def glossiness(surface: Floats) -> Floats:
    """(n,) float32 [0..1]: 0 for matt, 1 for gloss, by the surface term of the finish.

    Parameters
    ----------
    surface : (n,) float32, surface terms
    """
    span = SURFACE["matt"] - SURFACE["gloss"]
    return np.asarray(np.clip((SURFACE["matt"] - surface) / span, 0, 1), dtype=np.float32)


def broken_up(on: OnPiece, plan: Plan, after: int) -> list[Broken]:
    """The topmost steps that lie in a pattern, lowest first."""
    found = (_broken(on, plan, i) for i in range(after - 1, -1, -1))
    return [one for one in found if one][:MOST_TEXTURES][::-1]


def _broken(on: OnPiece, plan: Plan, index: int) -> Broken | None:
    step = plan.coats[index]
    if step.off or step.mix is None:
        return None
    if step.washes:
        film = on.step_film(plan, index)
        cavity = 1.0 - on.piece.openness
        flat = film / (1 + np.float32(WASH_GATHERS) * cavity)
        return Broken(index, WASH_TEXTURE, flat, flat * np.float32(1 + WASH_GATHERS), cavity)
    nothing = on.piece.nothing()
    if step.kind == "hand":
        texture, patch = HAND_TEXTURES.get(step.role), step.patch_um
        if texture is None or not patch:
            return None
        share = np.minimum(on.step_film(plan, index) / np.float32(patch), 1)
        full = np.full(on.piece.size, patch, dtype=np.float32)
        return Broken(index, texture, nothing, full, share)
    outcome = on.outcome(plan, step)
    size, splat = float(speck_of(outcome)), float(outcome.splat_dry_um)
    if size < LEAST_SPECK_MM or float(outcome.specks) < SPECKS_SEEN:
        return None
    film = on.step_film(plan, index)
    share = -np.expm1(-film / np.float32(splat))
    within = film / np.maximum(share, np.float32(1e-3))
    return Broken(index, specks_of(size), nothing, within, share)


def _with(
    on: OnPiece, plan: Plan, after: int, broken: Sequence[Broken], present: Broken | None
) -> Skin:
    """The surface with one of the patterns everywhere and the others nowhere."""
    if not broken:
        return on.below(plan, after)
    films = {b.step: b.within if b is present else b.without for b in broken}
    return on.with_films(plan, after, films)


def _texture(one: Broken, skin: Skin, mm_per_unit: float) -> TextureOut:
    where = one.share > 0
    return TextureOut(
        pattern=one.texture.pattern,
        size=one.texture.size_mm / mm_per_unit,
        long=one.texture.long,
        soft=one.texture.soft,
        metal=float(skin.metal[where].mean()) if where.any() else 0.0,
    )
