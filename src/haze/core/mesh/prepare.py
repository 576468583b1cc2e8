"""Prepare a mesh for light and spray (docs/models.md B1).

Input is a triangle soup or indexed mesh; output has merged corners, no doubled faces, edges short
enough to show gradients, Morton order, a diagonal of 100 and z up with the show side at −y.
"""

from __future__ import annotations

import numpy as np
from trimesh import triangles

from haze.core.errors import MeshError
from haze.core.mesh.bodies import body_of_vertices, carry_over
from haze.core.mesh.corners import joined_corners, morton_order
from haze.core.mesh.frame import frame_rotation
from haze.core.mesh.mesh import (
    PreparedMesh,
    RawMesh,
    require_usable,
    vertex_areas,
    vertex_normals,
)
from haze.core.mesh.refine import MOST_VERTICES, _simplify, split_long_edges
from haze.core.mesh.scale import DIAGONAL
from haze.core.mesh.winding import face_outward
from haze.core.progress import Progress, tell

ALGORITHM = 3  # part of every cache key: raise it when the output changes
STOPPED = "Stopped before the surface was prepared."
LEAST_VERTICES = 20_000
LONGEST_EDGE = DIAGONAL / 75.0


def prepare(
    raw: RawMesh,
    *,
    up: str,
    show: str,
    turn_deg: float = 0.0,
    progress: Progress | None = None,
) -> PreparedMesh:
    """Prepare a mesh: 20–60k vertices where its form allows, in the piece frame.

    Parameters
    ----------
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
    if len(vertices) > MOST_VERTICES:
        vertices, faces = _simplify(vertices, faces, MOST_VERTICES * 3 // 4)
    tell(progress, 0.8, STOPPED)
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
