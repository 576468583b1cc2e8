"""Which directions each vertex sees past the piece itself (docs/models.md B2).

One Embree scene, occlusion queries for all vertices of one direction at a time, two threads.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import TYPE_CHECKING

import numpy as np

from haze.core.arrays import Array, Floats, Longs, Mask, Table
from haze.core.directions import fibonacci_directions
from haze.core.errors import CancelledError
from haze.core.mesh.scene import Scene, origins_of, scene_of
from haze.core.progress import Progress

__all__ = ("visibility_table",)

if TYPE_CHECKING:
    from haze.core.mesh.mesh import PreparedMesh


ALGORITHM = 1
THREADS = 2
SCOUTS = 16  # of the directions of a sweep


def visibility_table(
    mesh: PreparedMesh,
    *,
    members: Mask | None = None,
    directions: Array | None = None,
    progress: Progress | None = None,
    threads: int = THREADS,
) -> Table:
    """(directions, vertices) uint8: cosine × unoccluded, 255 for a square-on open view.

    Parameters
    ----------
    mesh : PreparedMesh
    members : (n,) bool, the vertices of what is sprayed or lit together: only they block and only
        they receive, and the columns of the table are theirs in order; None for the whole mesh
    directions : (k, 3) float, unit; None for the standard set
    progress : called with the share done; returning False cancels (`CancelledError`)
    threads : int, at most
    """
    d = fibonacci_directions() if directions is None else directions
    d32 = np.ascontiguousarray(d, dtype=np.float32)
    kept = np.arange(len(mesh.vertices)) if members is None else np.flatnonzero(members)
    table = np.zeros((len(d32), len(kept)), dtype=np.uint8)
    scene = scene_of(mesh, members)
    origins, normals = origins_of(mesh)[kept], mesh.normals[kept]
    lock, done = Lock(), [0, False]

    def fill(first: int) -> None:
        for i in range(first, len(d32), threads):
            if done[1]:
                return
            cosine = normals @ d32[i]
            facing = np.nonzero(cosine > 0)[0]
            if len(facing):
                blocked = scene.blocked(origins[facing], d32[i : i + 1])
                seen = np.where(blocked, 0.0, np.minimum(cosine[facing], 1.0))
                table[i, facing] = np.round(seen * 255)
            with lock:
                done[0] += 1
                if progress and done[0] % 16 == 0 and not progress(done[0] / len(d32)):
                    done[1] = True

    with ThreadPoolExecutor(threads) as pool:
        list(pool.map(fill, range(threads)))
    if done[1]:
        raise CancelledError("Stopped before the light on the piece was worked out.")
    return table


def mean_visibility(
    scene: Scene,
    origins: Floats,
    normals: Floats,
    directions: Floats,
    *,
    scouts: int = SCOUTS,
    threads: int = THREADS,
) -> Floats:
    """(n,) float32 [-]: mean of cosine × unoccluded over equally weighted directions.

    A few directions, spread over all of them, are asked first. Where all of these are free, or all
    are blocked, the others are taken to be so too; only in between, in half shadow, are they asked.

    Parameters
    ----------
    origins, normals : (n, 3) float32
    directions : (k, 3) float32, unit
    scene : what blocks the rays
    scouts : int, how many are asked first; all of them, when k is no more
    threads : int, at most
    """
    count = len(directions)
    first = _far_apart(directions, min(scouts, count))
    rest = np.setdiff1d(np.arange(count), first)
    everyone = np.arange(len(origins))
    lit, faced, free = _asked(scene, origins, normals, directions[first], everyone, threads)
    open_to = np.maximum(normals @ directions.T, 0).mean(axis=1)
    out = np.where(free > 0, open_to, np.float32(0))
    # a face that turns away from every scout may still see some of the others
    unsure = np.flatnonzero(((free > 0) & (free < faced)) | ((faced == 0) & (open_to > 0)))
    if len(rest) and len(unsure):
        more, _, _ = _asked(scene, origins, normals, directions[rest], unsure, threads)
        out[unsure] = (lit[unsure] + more) / count
    elif len(unsure):
        out[unsure] = lit[unsure] / count
    return np.asarray(out, dtype=np.float32)


def _far_apart(directions: Floats, count: int) -> Longs:
    """(count,) int: directions each as far as can be from those chosen before it."""
    chosen = [0]
    near = directions @ directions[0]
    while len(chosen) < count:
        chosen.append(int(near.argmin()))
        near = np.maximum(near, directions @ directions[chosen[-1]])
    return np.array(chosen)


def _asked(
    scene: Scene,
    origins: Floats,
    normals: Floats,
    directions: Floats,
    members: Longs,
    threads: int,
) -> tuple[Floats, Floats, Floats]:
    """(m,) each, of the members: Σ cosine of free directions, how many they face, how many free."""
    at, facing_way = origins[members], normals[members]
    sums = [np.zeros((3, len(members)), dtype=np.float32) for _ in range(threads)]

    def add(first: int) -> None:
        lit, faced, free = sums[first]
        for i in range(first, len(directions), threads):
            cosine = facing_way @ directions[i]
            facing = np.nonzero(cosine > 0)[0]
            if len(facing):
                seen = ~scene.blocked(at[facing], directions[i : i + 1])
                lit[facing] += np.where(seen, cosine[facing], np.float32(0))
                faced[facing] += 1
                free[facing] += seen

    with ThreadPoolExecutor(threads) as pool:
        list(pool.map(add, range(threads)))
    lit, faced, free = np.sum(sums, axis=0)
    return lit, faced, free
