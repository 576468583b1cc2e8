"""The one ray scene: a mesh in Embree, asked what blocks a ray and what it meets first."""

from __future__ import annotations

import numpy as np
from embreex.mesh_construction import TriangleMesh
from embreex.rtcore_scene import EmbreeScene

from haze.core.arrays import Floats, Ints, Mask
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scale import DIAGONAL

OFFSET = 1e-4 * DIAGONAL  # how far above the surface rays begin


class Scene:
    """A mesh ready for occlusion queries."""

    def __init__(self, vertices: Floats, faces: Ints) -> None:
        self._scene = EmbreeScene(robust=True)
        TriangleMesh(
            self._scene,
            np.ascontiguousarray(vertices, dtype=np.float32),
            np.ascontiguousarray(faces, dtype=np.int32),
        )
        # the scene commits at its first query, which must not happen on two threads at once
        far = np.full((1, 3), 1e6, dtype=np.float32)
        self.blocked(far, np.array([[0.0, 0.0, 1.0]], dtype=np.float32))

    def blocked(self, origins: Floats, directions: Floats, *, within: Floats | None = None) -> Mask:
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

    def met(self, origins: Floats, directions: Floats) -> tuple[Ints, Floats, Floats]:
        """(n,) each: the face a ray meets first, −1 for none, and where on it as u and v [0..1].

        Parameters
        ----------
        origins, directions : (n, 3) float32, directions unit
        """
        hits = self._scene.run(
            np.ascontiguousarray(origins, dtype=np.float32),
            np.ascontiguousarray(directions, dtype=np.float32),
            query="INTERSECT",
            output=1,
        )
        return hits["primID"], hits["u"], hits["v"]


def between(mesh: PreparedMesh, values: Floats, met: tuple[Ints, Floats, Floats]) -> Floats:
    """(n, k) float32: what lies where rays met faces, between what lies at their corners.

    Parameters
    ----------
    mesh : prepared
    values : (vertices, k) float32
    met : faces, u and v of `Scene.met`, of rays that met one
    """
    face, u, v = met
    corner = mesh.faces[face]
    at, along, across = values[corner[:, 0]], u[:, None], v[:, None]
    mixed = at * (1 - along - across)
    mixed = mixed + values[corner[:, 1]] * along + values[corner[:, 2]] * across
    return np.asarray(mixed, dtype=np.float32)


def scene_of(mesh: PreparedMesh, members: Mask | None = None) -> Scene:
    """The scene of a mesh, or of the faces whose first corner is a member.

    Parameters
    ----------
    mesh : prepared
    members : (n,) bool, vertices; None for all
    """
    faces = mesh.faces if members is None else mesh.faces[members[mesh.faces[:, 0]]]
    return Scene(mesh.vertices, faces)


def origins_of(mesh: PreparedMesh) -> Floats:
    """(n, 3) float32: where rays leave the surface, a little above it.

    Parameters
    ----------
    mesh : prepared
    """
    return np.asarray(mesh.vertices + OFFSET * mesh.normals, dtype=np.float32)
