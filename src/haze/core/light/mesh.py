"""Prepare a mesh for light and spray (docs/models.md B1).

Input is a triangle soup or indexed mesh; output has merged corners, no doubled faces, edges short
enough to show gradients, Morton order, a diagonal of 100 and z up with the show side at −y.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import fast_simplification
import numpy as np
from numpy.typing import NDArray

from haze.core.errors import CancelledError, MeshError
from haze.core.light.bodies import body_of_vertices, carry_over
from haze.core.light.scale import DIAGONAL
from haze.core.light.winding import face_outward

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Ints = NDArray[np.int32]

ALGORITHM = 3  # part of every cache key: raise it when the output changes
MOST_VERTICES = 60_000
LEAST_VERTICES = 20_000
LONGEST_EDGE = DIAGONAL / 75.0
SHOW_SIDES = ("-y", "+y", "-x", "+x", "-z", "+z")
UP_AXES = ("z", "y", "x", "-z", "-y", "-x")
MOST_FACES = 3_000_000
LOOSE_ABOVE = 1.2  # corners per face
LOOSE_GAPS = (1e-5, 1e-4, 5e-4, 2e-3)  # shares of the size


@dataclass(frozen=True, slots=True)
class RawMesh:
    """Vertices and triangles as read from a file, in file units."""

    vertices: Array  # (n, 3) float
    faces: Ints  # (m, 3) int


@dataclass(frozen=True, slots=True)
class PreparedMesh:
    """A mesh in the piece frame with a diagonal of 100."""

    vertices: Floats  # (n, 3) float32
    faces: Ints  # (m, 3) int32
    normals: Floats  # (n, 3) float32, unit
    vertex_area: Floats  # (n,) float32, sums to the surface
    body: Ints  # (n,) int32, lowest original face number of the body
    height: float  # along z, in units of the diagonal 100
    raw_area: float  # surface of the mesh as read, same units
    frame: Array  # (3, 4) float64, prepared = frame @ (file x, y, z, 1)

    def to_file(self, points: Array) -> Array:
        """(k, 3) float: prepared points in the axes and units of the file."""
        return np.asarray((points - self.frame[:, 3]) @ np.linalg.inv(self.frame[:, :3]).T)

    def from_file(self, points: Array) -> Array:
        """(k, 3) float: points of the file in the prepared frame."""
        return np.asarray(points @ self.frame[:, :3].T + self.frame[:, 3])

    def mm_per_unit(self, height_mm: float) -> float:
        """Scale [mm per unit] for a true height."""
        return height_mm / self.height

    def area_cm2(self, height_mm: float) -> float:
        """Surface [cm²] of the mesh as read, for a true height."""
        return self.raw_area * self.mm_per_unit(height_mm) ** 2 / 100.0


def require_usable(mesh: RawMesh) -> None:
    """Refuse a mesh without surface, with NaN, or larger than Haze can hold."""
    if len(mesh.faces) == 0 or len(mesh.vertices) < 3:
        raise MeshError("The file holds no triangles; a mesh needs at least one.")
    if len(mesh.faces) > MOST_FACES:
        raise MeshError(
            f"The mesh has {len(mesh.faces):,} triangles; at most {MOST_FACES:,} are accepted."
        )
    if not np.isfinite(mesh.vertices).all():
        raise MeshError("The mesh holds corners that are not numbers; save it again and retry.")
    if mesh.faces.min() < 0 or mesh.faces.max() >= len(mesh.vertices):
        raise MeshError("The mesh names corners it does not have; the file is damaged.")
    size = np.ptp(mesh.vertices, axis=0)
    if float(np.linalg.norm(size)) <= 0 or _area(mesh.vertices, mesh.faces).sum() <= 1e-10 * float(
        np.linalg.norm(size) ** 2
    ):
        raise MeshError("The mesh has no surface: all its triangles are empty.")


def _area(vertices: Array, faces: Ints) -> Array:
    a, b, c = (vertices[faces[:, i]] for i in range(3))
    return np.asarray(0.5 * np.linalg.norm(np.cross(b - a, c - a), axis=1))


def frame_rotation(up: str, show: str, turn_deg: float = 0.0) -> Array:
    """(3, 3) float: rotation from file axes to the piece frame (z up, show side −y).

    Parameters
    ----------
    up : one of `UP_AXES`, the file axis that points up
    show : one of `SHOW_SIDES`, the file direction the show side faces
    turn_deg : float [°], then turned counter-clockwise seen from above
    """
    axes = {"x": 0, "y": 1, "z": 2}

    def unit(name: str) -> Array:
        v = np.zeros(3)
        v[axes[name[-1]]] = -1.0 if name.startswith("-") else 1.0
        return v

    if up not in UP_AXES or show not in SHOW_SIDES:
        raise MeshError(
            f"Up is {up!r} and show side {show!r}; accepted are {', '.join(UP_AXES)} and "
            f"{', '.join(SHOW_SIDES)}."
        )
    z, front = unit(up), unit(show)
    if abs(float(z @ front)) > 0.5:
        raise MeshError("The show side and the up direction lie on the same axis; choose another.")
    y = -front
    base = np.stack([np.cross(y, z), y, z])
    t = np.radians(turn_deg)
    spin = np.array([[np.cos(t), -np.sin(t), 0], [np.sin(t), np.cos(t), 0], [0, 0, 1]])
    return np.asarray(spin @ base)


def default_show(up: str) -> str:
    """Show side by convention: −y for z up, +z for y up."""
    return {"z": "-y", "-z": "-y", "y": "+z", "-y": "+z"}.get(up, "-y")


def merge_corners(
    vertices: Array, faces: Ints, *, within: float = 1e-6
) -> tuple[Array, Ints, Ints]:
    """Merge corners on a grid of a share of the size; drop collapsed and doubled faces.

    The third array holds the number each kept face had before.

    Parameters
    ----------
    within : float [-], step of the grid as a share of the size, at least a millionth
    """
    span = float(np.max(np.ptp(vertices, axis=0)))
    grid = np.round((vertices - vertices.min(axis=0)) / (span * within)).astype(np.int64)
    # 1e6 steps fit 20 bits an axis, so the key is exact
    key = (grid[:, 0] << 40) | (grid[:, 1] << 20) | grid[:, 2]
    _, first, inverse = np.unique(key, return_index=True, return_inverse=True)
    order = np.argsort(first, kind="stable")
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    merged = vertices[first[order]]
    f = rank[inverse.ravel()][faces].astype(np.int32)
    number = np.flatnonzero((f[:, 0] != f[:, 1]) & (f[:, 1] != f[:, 2]) & (f[:, 2] != f[:, 0]))
    low, middle, high = np.sort(f[number], axis=1).astype(np.int64).T
    span_key = np.int64(len(merged))
    # two numbers instead of rows: sorting rows is slow
    order = np.lexsort((high, low * span_key + middle))
    pair, last = (low * span_key + middle)[order], high[order]
    fresh = np.r_[True, (pair[1:] != pair[:-1]) | (last[1:] != last[:-1])]
    number = np.sort(number[order[fresh]]) if len(number) else number
    v, f = drop_unused(merged, f[number])
    return v, f, number.astype(np.int32)


def joined_corners(vertices: Array, faces: Ints) -> tuple[Array, Ints, Ints]:
    """Corners merged, more coarsely when the triangles would not hang together otherwise.

    A closed mesh has half as many corners as faces, a heap of loose triangles three times as many;
    loose ones are joined over growing gaps, and in the end until the mesh can be held.
    """
    merged = merge_corners(vertices, faces)
    for within in LOOSE_GAPS:
        loose = len(merged[0]) > LOOSE_ABOVE * len(merged[1])
        if not loose or not len(merged[1]):
            break
        merged = merge_corners(vertices, faces, within=within)
    return merged


def drop_unused(vertices: Array, faces: Ints) -> tuple[Array, Ints]:
    """Drop vertices no face uses, keeping their order."""
    used = np.zeros(len(vertices), dtype=bool)
    used[faces.ravel()] = True
    rank = np.cumsum(used) - 1
    return vertices[used], rank[faces].astype(np.int32)


def split_long_edges(
    vertices: Array, faces: Ints, *, longest: float, most_vertices: int
) -> tuple[Array, Ints]:
    """Split edges longer than `longest` at their middle, conformingly, longest first.

    Each round splits every long edge of the mesh once, so neighbours stay joined; it stops when
    no edge is long or the vertex budget is used up.
    """
    for _ in range(24):
        edges = np.sort(faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1).astype(np.int64)
        key = edges[:, 0] * len(vertices) + edges[:, 1]
        unique, inverse = np.unique(key, return_inverse=True)
        a, b = unique // len(vertices), unique % len(vertices)
        length = np.linalg.norm(vertices[a] - vertices[b], axis=1)
        budget = most_vertices - len(vertices)
        split = length > longest
        if not split.any() or budget <= 0:
            break
        if split.sum() > budget:
            split = length > max(longest, float(np.partition(length, -budget)[-budget]))
            if not split.any():
                break
        new_index = np.full(len(unique), -1, dtype=np.int64)
        new_index[split] = len(vertices) + np.arange(split.sum())
        vertices = np.concatenate([vertices, 0.5 * (vertices[a[split]] + vertices[b[split]])])
        faces = _refine(vertices, faces, new_index[inverse.ravel()].reshape(-1, 3))
    return vertices, faces


def _refine(vertices: Array, faces: Ints, middles: NDArray[np.int64]) -> Ints:
    """Faces with their edge middles (−1: edge stays), by the number of split edges."""
    count = (middles >= 0).sum(axis=1)
    parts: list[NDArray[np.int64]] = [faces[count == 0].astype(np.int64)]
    full = count == 3
    if full.any():
        (a, b, c), (ab, bc, ca) = faces[full].T, middles[full].T
        parts += [
            np.stack(t, axis=1) for t in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))
        ]
    for shift in range(3):
        f = np.roll(faces, -shift, axis=1)
        m = np.roll(middles, -shift, axis=1)
        one = (count == 1) & (m[:, 0] >= 0)
        if one.any():
            (a, b, c), ab = f[one].T, m[one, 0]
            parts += [np.stack([a, ab, c], axis=1), np.stack([ab, b, c], axis=1)]
        two = (count == 2) & (m[:, 0] >= 0) & (m[:, 1] >= 0)
        if two.any():
            (a, b, c), (ab, bc) = f[two].T, m[two, :2].T
            parts.append(np.stack([ab, b, bc], axis=1))
            short = np.linalg.norm(vertices[ab] - vertices[c], axis=1) < np.linalg.norm(
                vertices[a] - vertices[bc], axis=1
            )
            one_way = np.where(short[:, None], np.stack([a, ab, c], 1), np.stack([a, ab, bc], 1))
            other = np.where(short[:, None], np.stack([ab, bc, c], 1), np.stack([a, bc, c], 1))
            parts += [one_way, other]
    return np.concatenate(parts).astype(np.int32)


def morton_order(vertices: Array) -> NDArray[np.int64]:
    """Order of vertices along a Morton curve, so that neighbours lie near in memory."""
    low = vertices.min(axis=0)
    span = max(float(np.max(np.ptp(vertices, axis=0))), 1e-12)
    q = ((vertices - low) / span * 1023).astype(np.uint64)
    code = np.zeros(len(vertices), dtype=np.uint64)
    for bit in range(10):
        for axis in range(3):
            code |= ((q[:, axis] >> np.uint64(bit)) & np.uint64(1)) << np.uint64(3 * bit + axis)
    return np.argsort(code, kind="stable")


def vertex_normals(vertices: Array, faces: Ints) -> Array:
    """(n, 3) float: area-weighted unit normals."""
    a, b, c = (vertices[faces[:, i]] for i in range(3))
    cross = np.cross(b - a, c - a)
    normals = np.zeros_like(vertices)
    for i in range(3):
        for axis in range(3):
            normals[:, axis] += np.bincount(
                faces[:, i], weights=cross[:, axis], minlength=len(vertices)
            )
    return np.asarray(normals / np.maximum(np.linalg.norm(normals, axis=1, keepdims=True), 1e-20))


def vertex_areas(vertices: Array, faces: Ints) -> Array:
    """(n,) float: a third of the faces around each vertex."""
    third = _area(vertices, faces) / 3.0
    return np.asarray(
        sum(np.bincount(faces[:, i], weights=third, minlength=len(vertices)) for i in range(3))
    )


def _simplify(vertices: Array, faces: Ints, most_vertices: int) -> tuple[Array, Ints]:
    # quadric decimation keeps about two faces a vertex
    target = 1.0 - 2.0 * most_vertices / len(faces)
    if target <= 0:
        return _clustered(vertices, faces, most_vertices)
    v, f = fast_simplification.simplify(
        vertices.astype(np.float32), faces.astype(np.int32), target_reduction=target
    )
    v, f = drop_unused(v.astype(np.float64), f.astype(np.int32))
    return (v, f) if len(v) <= MOST_VERTICES else _clustered(v, f, most_vertices)


def _clustered(vertices: Array, faces: Ints, most_vertices: int) -> tuple[Array, Ints]:
    """Corners merged on ever coarser grids until few enough are left."""
    within = 2e-3
    while len(vertices) > most_vertices and within < 0.1:
        vertices, faces, _ = merge_corners(vertices, faces, within=within)
        within *= 1.5
    return vertices, faces


def prepare(
    raw: RawMesh,
    *,
    up: str,
    show: str,
    turn_deg: float = 0.0,
    progress: Callable[[float], bool] | None = None,
) -> PreparedMesh:
    """Prepare a mesh: 20–60k vertices where its form allows, in the piece frame.

    Parameters
    ----------
    progress : called with the share done; returning False cancels (`CancelledError`)

    Raises
    ------
    MeshError, with one sentence, when the mesh cannot be used
    """

    def tell(done: float) -> None:
        if progress and not progress(done):
            raise CancelledError("Stopped before the surface was prepared.")

    require_usable(raw)
    turn = frame_rotation(up, show, turn_deg)
    turned = raw.vertices @ turn.T
    middle = 0.5 * (turned.min(axis=0) + turned.max(axis=0))
    scale = DIAGONAL / float(np.linalg.norm(np.ptp(turned, axis=0)))
    vertices, faces, number = joined_corners((turned - middle) * scale, raw.faces)
    if len(faces) == 0:
        raise MeshError("The mesh has no surface: all its triangles are empty.")
    tell(0.3)
    faces = face_outward(vertices, faces)
    tell(0.5)
    raw_area = float(_area(vertices, faces).sum())
    body = body_of_vertices(faces, number, len(vertices))
    old_vertices = vertices
    if len(vertices) > MOST_VERTICES:
        vertices, faces = _simplify(vertices, faces, MOST_VERTICES * 3 // 4)
    tell(0.8)
    longest = LONGEST_EDGE
    for _ in range(4):
        vertices, faces = split_long_edges(
            vertices, faces, longest=longest, most_vertices=MOST_VERTICES
        )
        if len(vertices) >= LEAST_VERTICES:
            break
        longest *= 0.6
    height = float(np.ptp(vertices[:, 2]))
    if height < 1e-6 * DIAGONAL:
        raise MeshError("The mesh is flat along its up direction; choose another way up.")
    body = carry_over(vertices, faces, old_vertices=old_vertices, old_body=body)
    order = morton_order(vertices)
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    body = body[order]
    vertices, faces = vertices[order], rank[faces].astype(np.int32)
    # neighbouring faces follow each other too, so that a renderer meets each vertex once
    faces = faces[np.argsort(faces.min(axis=1), kind="stable")]
    return PreparedMesh(
        vertices=vertices.astype(np.float32),
        faces=np.ascontiguousarray(faces),
        normals=vertex_normals(vertices, faces).astype(np.float32),
        vertex_area=vertex_areas(vertices, faces).astype(np.float32),
        body=body,
        height=height,
        raw_area=raw_area,
        frame=np.column_stack([turn * scale, -middle * scale]),
    )
