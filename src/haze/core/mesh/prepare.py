"""Prepare a mesh for light and spray (docs/models.md B1).

Input is a triangle soup or indexed mesh; output has merged corners, no doubled faces, edges short
enough to show gradients, Morton order, a diagonal of 100 and z up with the show side at −y.
"""

from __future__ import annotations

import numpy as np
from trimesh import triangles

from haze.core.arrays import Array, Ints, Longs
from haze.core.errors import MeshError
from haze.core.mesh.bodies import body_of_vertices, carry_over
from haze.core.mesh.corners import joined_corners, morton_order
from haze.core.mesh.detail import FINE, Detail
from haze.core.mesh.frame import frame_rotation
from haze.core.mesh.mesh import (
    PreparedMesh,
    RawMesh,
    require_usable,
    vertex_areas,
    vertex_normals,
)
from haze.core.mesh.refine import simplified, split_long_edges
from haze.core.mesh.scale import DIAGONAL
from haze.core.mesh.winding import face_outward
from haze.core.progress import Progress, tell

__all__ = ("prepare",)

ALGORITHM = 3  # part of every cache key: raise it when the output changes
STOPPED = "Stopped before the surface was prepared."


def _coarsened(vertices: Array, faces: Ints, detail: Detail) -> tuple[Array, Ints]:
    """Fewer triangles where there are more than the sums need."""
    if len(vertices) <= detail.most_vertices:
        return vertices, faces
    return simplified(vertices, faces, detail.most_vertices)


def _refined(vertices: Array, faces: Ints, detail: Detail) -> tuple[Array, Ints]:
    """Long edges split until there are points enough to tell light from dark."""
    longest = detail.longest_edge
    for _ in range(4):
        vertices, faces = split_long_edges(
            vertices, faces, longest=longest, most_vertices=detail.most_vertices
        )
        if len(vertices) >= detail.least_vertices:
            break
        longest *= 0.6
    return vertices, faces


def _renumbered(faces: Ints, order: Longs) -> Ints:
    """Triangles over vertices in a new order; neighbours follow each other for the renderer."""
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    renamed = rank[faces].astype(np.int32)
    return renamed[np.argsort(renamed.min(axis=1), kind="stable")]


def prepare(
    raw: RawMesh,
    *,
    up: str,
    show: str,
    turn_deg: float = 0.0,
    detail: Detail = FINE,
    progress: Progress | None = None,
) -> PreparedMesh:
    """Prepare a mesh, in the piece frame: 20–60k vertices where its form allows.

    Parameters
    ----------
    raw : as it was read
    up : axis of the file that points up
    show : side of the file that shows
    turn_deg : float [°], further turn about the upright axis
    detail : how finely the surface is divided
    progress : called with the share done; returning False cancels (`CancelledError`)

    Raises
    ------
    MeshError, with one sentence, when the mesh cannot be used
    """

    require_usable(raw)
    turn = frame_rotation(up, show, turn_deg)
    turned = raw.vertices @ turn.T
    middle = 0.5 * (turned.min(axis=0) + turned.max(axis=0))
    scale = DIAGONAL / float(np.linalg.norm(np.ptp(turned, axis=0)))
    vertices, faces, number = joined_corners((turned - middle) * scale, raw.faces)
    if len(faces) == 0:
        raise MeshError("The mesh has no surface: all its triangles are empty.")
    tell(progress, 0.3, STOPPED)
    faces = face_outward(vertices, faces)
    tell(progress, 0.5, STOPPED)
    raw_area = float(triangles.area(vertices[faces]).sum())
    body = body_of_vertices(faces, number, len(vertices))
    old_vertices = vertices
    vertices, faces = _coarsened(vertices, faces, detail)
    tell(progress, 0.8, STOPPED)
    vertices, faces = _refined(vertices, faces, detail)
    height = float(np.ptp(vertices[:, 2]))
    if height < 1e-6 * DIAGONAL:
        raise MeshError("The mesh is flat along its up direction; choose another way up.")
    body = carry_over(vertices, faces, old_vertices=old_vertices, old_body=body)
    order = morton_order(vertices)
    vertices, faces, body = vertices[order], _renumbered(faces, order), body[order]
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
