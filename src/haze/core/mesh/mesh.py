"""Meshes as read and as prepared, and what a mesh must be to be used."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from trimesh import triangles

from haze.core.arrays import Array, Floats, Ints
from haze.core.errors import MeshError

__all__ = ("PreparedMesh", "RawMesh")

MOST_FACES = 3_000_000
AREA_BLOCK = 200_000
LARGEST = 1e9  # a side in file units, whatever these are


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
        """Scale [mm per unit] for a true height.

        Parameters
        ----------
        height_mm : float [mm], true height of the piece
        """
        return height_mm / self.height

    def area_cm2(self, height_mm: float) -> float:
        """Surface [cm²] of the mesh as read, for a true height.

        Parameters
        ----------
        height_mm : float [mm], true height of the piece
        """
        return self.raw_area * self.mm_per_unit(height_mm) ** 2 / 100.0


def soup(corners: Array) -> RawMesh:
    """A mesh whose triangles share no corners.

    Parameters
    ----------
    corners : (3 m, 3) float [file unit], three of each triangle one after the other
    """
    faces = np.arange(len(corners), dtype=np.int32).reshape(-1, 3)
    return RawMesh(np.ascontiguousarray(corners), faces)


def too_many(faces: int | None = None) -> str:
    """The sentence for a mesh of more triangles than Haze can hold.

    Parameters
    ----------
    faces : int, how many it has; None when they were not counted to the end
    """
    has = f"more than {MOST_FACES:,}" if faces is None else f"{faces:,}"
    return f"The mesh has {has} triangles; at most {MOST_FACES:,} are accepted."


def require_usable(mesh: RawMesh) -> None:
    """Refuse a mesh without surface, with NaN, or larger than Haze can hold."""
    if len(mesh.faces) == 0 or len(mesh.vertices) < 3:
        raise MeshError("The file holds no triangles; a mesh needs at least one.")
    if len(mesh.faces) > MOST_FACES:
        raise MeshError(too_many(len(mesh.faces)))
    if not np.isfinite(mesh.vertices).all():
        raise MeshError("The mesh holds corners that are not numbers; save it again and retry.")
    if mesh.faces.min() < 0 or mesh.faces.max() >= len(mesh.vertices):
        raise MeshError("The mesh names corners it does not have; the file is damaged.")
    sides = np.ptp(mesh.vertices, axis=0)
    if sides.max() > LARGEST:
        raise MeshError("The mesh is larger than a piece can be; save it in millimetres and retry.")
    size = float(np.linalg.norm(sides))
    if size <= 0 or not _has_surface(mesh, 1e-10 * size * size):
        raise MeshError("The mesh has no surface: all its triangles are empty.")


def _has_surface(mesh: RawMesh, least: float) -> bool:
    """Whether the surface is more than `least` [file unit²]; block by block, until that is sure."""
    surface = 0.0
    for at in range(0, len(mesh.faces), AREA_BLOCK):
        surface += float(triangles.area(mesh.vertices[mesh.faces[at : at + AREA_BLOCK]]).sum())
        if surface > least:
            return True
    return False


def vertex_normals(vertices: Array, faces: Ints) -> Array:
    """(n, 3) float: area-weighted unit normals.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    faces : (m, 3) int, corners of each triangle
    """
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
    """(n,) float: a third of the faces around each vertex.

    Parameters
    ----------
    vertices : (n, 3) float [mesh unit]
    """
    third = triangles.area(vertices[faces]) / 3.0
    return np.asarray(
        sum(np.bincount(faces[:, i], weights=third, minlength=len(vertices)) for i in range(3))
    )
