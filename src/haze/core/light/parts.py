"""Parts of a piece: which vertex is whose, what blocks what, and what leaving one off gains.

Light is blocked by attached and tacked parts, spray by attached ones; what is tacked or held off is
sprayed alone (docs/models.md part 0).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from haze.core.arrays import Array, Bytes, Floats, Ints, Longs, Mask
from haze.core.light.reach import LEAST_COSINE
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import origins_of, scene_of
from haze.core.progress import Progress

__all__ = ("unreached",)

PartState = Literal["attached", "tacked", "held_off"]


@dataclass(frozen=True, slots=True)
class CutPlane:
    """A flat cut through a body, in the axes and units of the file: normal · p ≥ offset, or not."""

    normal: tuple[float, float, float]
    offset: float
    above: bool


@dataclass(frozen=True, slots=True)
class PartShape:
    """Bodies of the original mesh that make one part, perhaps cut."""

    bodies: tuple[int, ...]
    cuts: tuple[CutPlane, ...]
    state: PartState


def part_of_vertices(mesh: PreparedMesh, parts: Sequence[PartShape]) -> Ints:
    """(n,) int32: index of the part of each vertex; what no part names belongs to the first.

    Parameters
    ----------
    mesh : a prepared one
    parts : of the piece
    """
    out = np.zeros(len(mesh.vertices), dtype=np.int32)
    points = mesh.to_file(mesh.vertices.astype(np.float64)) if any(p.cuts for p in parts) else None
    for i, part in enumerate(parts):
        inside = np.isin(mesh.body, part.bodies)
        for cut in part.cuts:
            assert points is not None
            inside &= (points @ np.asarray(cut.normal) >= cut.offset) == cut.above
        out[inside] = i
    return out


def members_together(part: Ints, parts: Sequence[PartShape], *, for_light: bool) -> list[Mask]:
    """Masks of the vertices that are lit, or sprayed, together; every vertex is in one of them.

    Parameters
    ----------
    part : (n,) int, part of each vertex
    parts : of the piece
    for_light : bool, true for what is lit together, false for what is sprayed together
    """
    together = ("attached", "tacked") if for_light else ("attached",)
    joined = [i for i, p in enumerate(parts) if p.state in together]
    alone = [i for i in range(len(parts)) if i not in joined]
    masks = [np.isin(part, joined)] + [part == i for i in alone]
    return [m for m in masks if m.any()]


def unreached(table: Bytes, rows: Longs) -> Mask:
    """(n,) bool: seen by none of these directions with a cosine of at least .2.

    Parameters
    ----------
    table : visibility by direction and vertex
    rows : (k,) int, directions of the table
    """
    if not len(rows):
        return np.ones(table.shape[1], dtype=bool)
    best = np.zeros(table.shape[1], dtype=np.uint8)
    for row in rows:
        np.maximum(best, table[row], out=best)
    return np.asarray(best < round(LEAST_COSINE * 255))


def newly_reached(mesh: PreparedMesh, *, members: Mask, asked: Mask, directions: Array) -> Mask:
    """(n,) bool: which of the asked vertices spray gets to when only the members stand there.

    Parameters
    ----------
    members : (n,) bool, what blocks
    asked : (n,) bool, vertices that could not be reached so far
    directions : (k, 3) float, the directions spray may come from
    mesh : a prepared one
    """
    scene = scene_of(mesh, members)
    origins = origins_of(mesh)
    out = np.zeros(len(mesh.vertices), dtype=bool)
    left = np.flatnonzero(asked & members)
    for d in np.ascontiguousarray(directions, dtype=np.float32):
        if not len(left):
            break
        facing = left[mesh.normals[left] @ d >= LEAST_COSINE]
        if not len(facing):
            continue
        free = ~scene.blocked(origins[facing], d[None, :])
        out[facing[free]] = True
        left = left[~out[left]]
    return out


@dataclass(frozen=True, slots=True)
class Gain:
    """What leaving one part off gains: area [prepared units²] by where it lies."""

    part: int
    on_part: float
    on_rest: float


def gains(
    mesh: PreparedMesh,
    part: Ints,
    parts: Sequence[PartShape],
    *,
    table: Bytes,
    rows: Longs,
    directions: Array,
    counted: Mask,
    progress: Progress | None = None,
) -> list[Gain]:
    """What leaving each attached part off would gain, best first.

    The largest part is the one the others are left off from.

    Parameters
    ----------
    part : (n,) int32, part of each vertex
    table : (k, n) uint8, what spray sees now
    rows : directions that are not blocked
    directions : (k, 3) float, all of them
    counted : (n,) bool, what can be seen when all is together; the rest need not be painted
    mesh : a prepared one
    parts : of the piece
    progress : called with the share done, 0 to 1; None for silence
    """
    joined = [i for i, p in enumerate(parts) if p.state == "attached"]
    if len(joined) < 2:
        return []
    missed = unreached(table, rows) & counted
    together = np.isin(part, joined)
    area: Floats = mesh.vertex_area
    main = max(joined, key=lambda i: float(area[part == i].sum()))
    out = []
    for step, i in enumerate(j for j in joined if j != main):
        own = part == i
        free = directions[rows]
        on_part = newly_reached(mesh, members=own, asked=missed, directions=free)
        on_rest = newly_reached(mesh, members=together & ~own, asked=missed, directions=free)
        out.append(Gain(i, float(area[on_part].sum()), float(area[on_rest].sum())))
        if progress and not progress((step + 1) / len(joined)):
            break
    return sorted(out, key=lambda g: -(g.on_part + g.on_rest))
