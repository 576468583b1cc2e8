"""Corners: merged, joined where triangles lie loose, ordered along a curve."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array, Ints, Longs

LOOSE_ABOVE = 1.2  # corners per face
LOOSE_GAPS = (1e-5, 1e-4, 5e-4, 2e-3)  # shares of the size


def merge_corners(
    vertices: Array, faces: Ints, *, within: float = 1e-6
) -> tuple[Array, Ints, Ints]:
    """Merge corners on a grid of a share of the size; drop collapsed and doubled faces.

    The third array holds the number each kept face had before.

    Parameters
    ----------
    within : float [-], step of the grid as a share of the size, at least a millionth
    vertices : (n, 3) float [mesh unit]
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

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    """
    merged = merge_corners(vertices, faces)
    for within in LOOSE_GAPS:
        loose = len(merged[0]) > LOOSE_ABOVE * len(merged[1])
        if not loose or not len(merged[1]):
            break
        merged = merge_corners(vertices, faces, within=within)
    return merged


def drop_unused(vertices: Array, faces: Ints) -> tuple[Array, Ints]:
    """Drop vertices no face uses, keeping their order.

    Parameters
    ----------
    faces : (m, 3) int, corners of each triangle
    """
    used = np.zeros(len(vertices), dtype=bool)
    used[faces.ravel()] = True
    rank = np.cumsum(used) - 1
    return vertices[used], rank[faces].astype(np.int32)


def morton_order(vertices: Array) -> Longs:
    """Order of vertices along a Morton curve, so that neighbours lie near in memory."""
    low = vertices.min(axis=0)
    span = max(float(np.max(np.ptp(vertices, axis=0))), 1e-12)
    q = ((vertices - low) / span * 1023).astype(np.uint64)
    code = np.zeros(len(vertices), dtype=np.uint64)
    for bit in range(10):
        for axis in range(3):
            code |= ((q[:, axis] >> np.uint64(bit)) & np.uint64(1)) << np.uint64(3 * bit + axis)
    return np.argsort(code, kind="stable")
