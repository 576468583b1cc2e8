"""Which directions each vertex sees past the piece itself (docs/models.md B2).

One Embree scene, occlusion queries for all vertices of one direction at a time, two threads.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import TYPE_CHECKING

import numpy as np

from haze.core.arrays import Array, Floats, Mask, Table
from haze.core.directions import fibonacci_directions
from haze.core.errors import CancelledError
from haze.core.mesh.scene import Scene, origins_of, scene_of
from haze.core.progress import Progress

if TYPE_CHECKING:
    from haze.core.mesh.mesh import PreparedMesh


ALGORITHM = 1
THREADS = 2


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
    scene: Scene, origins: Floats, normals: Floats, directions: Floats, *, threads: int = THREADS
) -> Floats:
    """(n,) float32 [-]: mean of cosine × unoccluded over equally weighted directions.

    Parameters
    ----------
    origins, normals : (n, 3) float32
    directions : (k, 3) float32, unit
    scene : what blocks the rays
    threads : int, at most
    """
    sums = [np.zeros(len(origins), dtype=np.float32) for _ in range(threads)]

    def add(first: int) -> None:
        for i in range(first, len(directions), threads):
            cosine = normals @ directions[i]
            facing = np.nonzero(cosine > 0)[0]
            if len(facing):
                free = ~scene.blocked(origins[facing], directions[i : i + 1])
                sums[first][facing] += np.where(free, cosine[facing], np.float32(0))

    with ThreadPoolExecutor(threads) as pool:
        list(pool.map(add, range(threads)))
    return np.asarray(sum(sums) / np.float32(len(directions)), dtype=np.float32)
