"""Which directions each vertex sees past the piece itself (docs/models.md B2).

One Embree scene, occlusion queries for all vertices of one direction at a time, two threads.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene
from numpy.typing import NDArray

from haze.core.errors import CancelledError
from haze.core.light.directions import fibonacci_directions
from haze.core.light.mesh import DIAGONAL, PreparedMesh

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

    def blocked(self, origins: Floats, directions: Floats) -> NDArray[np.bool_]:
        """(n,) bool: whether a ray from each origin meets the mesh.

        Parameters
        ----------
        origins : (n, 3) float32
        directions : (1, 3) or (n, 3) float32, unit
        """
        if directions.shape not in ((1, 3), origins.shape) or directions.dtype != np.float32:
            raise ValueError("directions must be float32 of shape (1, 3) or one for each origin")
        answer = self._scene.run(
            np.ascontiguousarray(origins, dtype=np.float32),
            np.ascontiguousarray(directions),
            query="OCCLUDED",
        )
        # embreex: 0 for a hit, -1 for a miss
        return np.asarray(answer == 0)


def visibility_table(
    mesh: PreparedMesh,
    *,
    directions: Array | None = None,
    progress: Progress | None = None,
    threads: int = THREADS,
) -> Table:
    """(directions, vertices) uint8: cosine × unoccluded, 255 for a square-on open view.

    Parameters
    ----------
    mesh : PreparedMesh
    directions : (k, 3) float, unit; None for the standard set
    progress : called with the share done; returning False cancels (`CancelledError`)
    """
    d = fibonacci_directions() if directions is None else directions
    d32 = np.ascontiguousarray(d, dtype=np.float32)
    table = np.zeros((len(d32), len(mesh.vertices)), dtype=np.uint8)
    scene = Scene(mesh.vertices, mesh.faces)
    origins = mesh.vertices + OFFSET * mesh.normals
    lock, done = Lock(), [0, False]

    def fill(first: int) -> None:
        for i in range(first, len(d32), threads):
            if done[1]:
                return
            cosine = mesh.normals @ d32[i]
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
