"""More or fewer triangles: long edges split, dense meshes thinned."""

from __future__ import annotations

import fast_simplification
import numpy as np

from haze.core.arrays import Array, Ints, Longs
from haze.core.mesh.corners import drop_unused, merge_corners


def split_long_edges(
    vertices: Array, faces: Ints, *, longest: float, most_vertices: int
) -> tuple[Array, Ints]:
    """Split edges longer than `longest` at their middle, conformingly, longest first.

    Each round splits every long edge of the mesh once, so neighbours stay joined; it stops when
    no edge is long or the vertex budget is used up.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    faces : (m, 3) int, corners of each triangle
    most_vertices : int, where splitting ends
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


def _refine(vertices: Array, faces: Ints, middles: Longs) -> Ints:
    """Faces with their edge middles (−1: edge stays), by the number of split edges."""
    count = (middles >= 0).sum(axis=1)
    parts: list[Longs] = [faces[count == 0].astype(np.int64)]
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


def simplified(vertices: Array, faces: Ints, most_vertices: int) -> tuple[Array, Ints]:
    """Fewer triangles with the same form, by quadric decimation.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    faces : (m, 3) int, corners of each triangle
    most_vertices : int, how many may stay; three quarters are aimed at
    """
    aim = most_vertices * 3 // 4
    # quadric decimation keeps about two faces a vertex
    target = 1.0 - 2.0 * aim / len(faces)
    if target <= 0:
        return _clustered(vertices, faces, aim)
    v, f = fast_simplification.simplify(
        vertices.astype(np.float32), faces.astype(np.int32), target_reduction=target
    )
    v, f = drop_unused(v.astype(np.float64), f.astype(np.int32))
    return (v, f) if len(v) <= most_vertices else _clustered(v, f, aim)


def _clustered(vertices: Array, faces: Ints, most_vertices: int) -> tuple[Array, Ints]:
    """Corners merged on ever coarser grids until few enough are left."""
    within = 2e-3
    while len(vertices) > most_vertices and within < 0.1:
        vertices, faces, _ = merge_corners(vertices, faces, within=within)
        within *= 1.5
    return vertices, faces
