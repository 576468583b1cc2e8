"""Which directions each vertex sees past the piece itself (docs/models.md B2).

One Embree scene, occlusion queries for all vertices of one direction at a time, two threads.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import TYPE_CHECKING

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from haze.core.errors import CancelledError
from haze.core.light.directions import fibonacci_directions
from haze.core.light.scale import DIAGONAL

if TYPE_CHECKING:
    from haze.core.light.mesh import PreparedMesh

Array = NDArray[np.float64]
Floats = NDArray[np.float32]
Table = NDArray[np.uint8]

ALGORITHM = 1
OFFSET = 1e-4 * DIAGONAL
THREADS = 2
Progress = Callable[[float], bool]


class Scene:
    """A mesh ready for occlusion queries."""

    def __init__(self, vertices: Floats, faces: NDArray[np.int32]) -> None:
        self._scene = EmbreeScene(robust=True)
        TriangleMesh(
            self._scene,
            np.ascontiguousarray(vertices, dtype=np.float32),
            np.ascontiguousarray(faces, dtype=np.int32),
        )
        # the scene commits at its first query, which must not happen on two threads at once
        far = np.full((1, 3), 1e6, dtype=np.float32)
        self.blocked(far, np.array([[0.0, 0.0, 1.0]], dtype=np.float32))

    def blocked(
        self, origins: Floats, directions: Floats, *, within: Floats | None = None
    ) -> NDArray[np.bool_]:
        """(n,) bool: whether a ray from each origin meets the mesh.

        Parameters
        ----------
        origins : (n, 3) float32
        directions : (1, 3) or (n, 3) float32, unit
        within : (n,) float32, how far each ray goes; None for without end
        """
        if directions.shape not in ((1, 3), origins.shape) or directions.dtype != np.float32:
            raise ValueError("directions must be float32 of shape (1, 3) or one for each origin")
        answer = self._scene.run(
            np.ascontiguousarray(origins, dtype=np.float32),
            np.ascontiguousarray(directions),
            dists=within,
            query="OCCLUDED",
        )
        # embreex: 0 for a hit, -1 for a miss
        return np.asarray(answer == 0)


def scene_of(mesh: PreparedMesh, members: NDArray[np.bool_] | None = None) -> Scene:
    """The scene of a mesh, or of the faces whose first corner is a member."""
    faces = mesh.faces if members is None else mesh.faces[members[mesh.faces[:, 0]]]
    return Scene(mesh.vertices, faces)


def origins_of(mesh: PreparedMesh) -> Floats:
    """(n, 3) float32: where rays leave the surface, a little above it."""
    return np.asarray(mesh.vertices + OFFSET * mesh.normals, dtype=np.float32)


def visibility_table(
    mesh: PreparedMesh,
    *,
    members: NDArray[np.bool_] | None = None,
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
