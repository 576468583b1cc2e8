"""Parts of a plan: as the painter named them, or as the bodies of the mesh fall."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats, Ints
from haze.core.light import parts as shapes
from haze.core.light.parts import PartShape
from haze.core.mesh.bodies import groups
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scale import DIAGONAL
from haze.core.plan.piece import Part, Piece

# crumbs beyond these belong to the first part, as all that no part names
MOST_BODIES = 2000
MIRROR_OFF = 0.06  # of the piece's size: how far mirrored parts may lie from true
MIRROR_AREA = 0.15  # how much their surfaces may differ
MUCH_LESS = 0.6  # of the other side's film


def parts_of(piece: Piece, mesh: PreparedMesh) -> list[Part]:
    """The parts of a piece; without any named, one for each body, tiny ones with the next.

    Parameters
    ----------
    mesh : a prepared one
    """
    if piece.parts:
        return list(piece.parts)
    found = groups(mesh.vertices.astype(np.float64), mesh.body, mesh.vertex_area)
    if len(found) == 1:
        return [Part(id="part-1", name="Whole piece", bodies=found[0][:MOST_BODIES])]
    return [
        Part(id=f"part-{i + 1}", name=f"Part {i + 1}", bodies=bodies[:MOST_BODIES])
        for i, bodies in enumerate(found)
    ]


def shapes_of(parts: Sequence[Part]) -> list[PartShape]:
    """The parts as the light model takes them."""
    return [
        PartShape(
            bodies=tuple(p.bodies),
            cuts=tuple(
                shapes.CutPlane((c.normal[0], c.normal[1], c.normal[2]), c.offset, c.above)
                for c in p.cuts
            ),
            state=p.state,
        )
        for p in parts
    ]


@dataclass(frozen=True, slots=True)
class MirroredPair:
    """Two parts that mirror each other across the middle of the piece."""

    one: int
    other: int


def mirrored(mesh: PreparedMesh, part: Ints, count: int) -> list[MirroredPair]:
    """Pairs of parts that lie like left and right, by their boxes and surfaces.

    A vehicle often shows its side, so the mirror may stand across or along the show side; it must
    pass near the middle of the piece, and the two must lie apart.

    Parameters
    ----------
    mesh : a prepared one
    part : (n,) int, part of each vertex
    count : int, how many
    """
    boxes: list[tuple[Floats, Floats, float]] = []
    for i in range(count):
        v = mesh.vertices[part == i]
        area = float(mesh.vertex_area[part == i].sum())
        boxes.append((v.min(axis=0), v.max(axis=0), area) if len(v) else (v, v, 0.0))
    out = []
    for i in range(count):
        for j in range(i + 1, count):
            if any(_mirror(boxes[i], boxes[j], axis, mesh) for axis in (0, 1)):
                out.append(MirroredPair(i, j))
    return out


def _mirror(
    first: tuple[Floats, Floats, float],
    second: tuple[Floats, Floats, float],
    axis: int,
    mesh: PreparedMesh,
) -> bool:
    larger = max(first[2], second[2])
    if min(first[2], second[2]) <= 0 or abs(first[2] - second[2]) > MIRROR_AREA * larger:
        return False
    off = MIRROR_OFF * DIAGONAL
    span = float(np.ptp(mesh.vertices[:, axis]))
    middle = 0.5 * float(mesh.vertices[:, axis].min() + mesh.vertices[:, axis].max())
    other = [a for a in range(3) if a != axis]
    same = max(
        float(np.abs(first[0][other] - second[0][other]).max()),
        float(np.abs(first[1][other] - second[1][other]).max()),
    )
    wide = [float(box[1][axis] - box[0][axis]) for box in (first, second)]
    at = [0.5 * float(box[0][axis] + box[1][axis]) for box in (first, second)]
    plane = 0.5 * (at[0] + at[1])
    return (
        same <= off
        and abs(wide[0] - wide[1]) <= off
        and abs(plane - middle) <= 0.15 * span
        and abs(at[0] - at[1]) > 0.1 * span
    )


@dataclass(frozen=True, slots=True)
class Uneven:
    """One side of a mirrored pair got much less of a coat than the other."""

    less: int
    more: int
    less_um: float
    more_um: float


def uneven(
    film_um: Floats, *, area: Floats, part: Ints, pairs: Sequence[MirroredPair]
) -> list[Uneven]:
    """Mirrored pairs of which one part got less than six tenths of the other's mean film.

    Parameters
    ----------
    film_um : (n,) float [µm], dry
    area : (n,) float [mesh unit²], of each vertex
    """
    out = []
    for pair in pairs:
        mean = []
        for i in (pair.one, pair.other):
            weight = np.where(part == i, area, 0.0).astype(np.float64)
            mean.append(float(weight @ film_um) / max(float(weight.sum()), 1e-12))
        low, high = sorted(((mean[0], pair.one), (mean[1], pair.other)))
        if high[0] > 0.3 and low[0] < MUCH_LESS * high[0]:
            out.append(Uneven(low[1], high[1], low[0], high[0]))
    return out
