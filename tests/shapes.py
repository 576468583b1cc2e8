"""Shapes made by tests, prepared and seen."""

from __future__ import annotations

import numpy as np
import trimesh

from haze.core.light.visibility import visibility_table
from haze.core.mesh.detail import COARSE, Detail
from haze.core.mesh.mesh import PreparedMesh, RawMesh
from haze.core.mesh.prepare import prepare


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def prepared(mesh: trimesh.Trimesh, *, detail: Detail = COARSE) -> PreparedMesh:
    return prepare(raw(mesh), up="z", show="-y", detail=detail)


def seen(mesh: trimesh.Trimesh, *, detail: Detail = COARSE) -> tuple[PreparedMesh, np.ndarray]:
    piece = prepared(mesh, detail=detail)
    return piece, visibility_table(piece)


def moved(mesh: trimesh.Trimesh, *by: float) -> trimesh.Trimesh:
    out = mesh.copy()
    out.apply_translation(by)
    return out


def cross() -> trimesh.Trimesh:
    """Three bars through one another: bodies that overlap, with recesses between."""
    bars = [trimesh.creation.box(size) for size in ((30, 6, 6), (6, 30, 6), (6, 6, 30))]
    return trimesh.util.concatenate(bars)


def table() -> trimesh.Trimesh:
    """A top on four legs: much of it in its own shade."""
    legs = [moved(trimesh.creation.box((2, 2, 12)), x, y, 6) for x in (-8, 8) for y in (-5, 5)]
    return trimesh.util.concatenate([*legs, moved(trimesh.creation.box((20, 14, 2)), 0, 0, 13)])


def ball_on_plate() -> trimesh.Trimesh:
    ball = moved(trimesh.creation.icosphere(subdivisions=4, radius=6), 0, 0, 9)
    return trimesh.util.concatenate([ball, trimesh.creation.box((30, 30, 2))])


def lantern() -> trimesh.Trimesh:
    """A post on a broad base between two equal boxes: four bodies, two of them alike."""
    parts = [
        trimesh.creation.box((40, 30, 4)),
        moved(trimesh.creation.cylinder(radius=4, height=30, sections=40), 0, 0, 16.5),
        moved(trimesh.creation.box((6, 10, 8)), -14, 0, 6.3),
        moved(trimesh.creation.box((6, 10, 8)), 14, 0, 6.3),
    ]
    return trimesh.util.concatenate(parts)


def masted() -> trimesh.Trimesh:
    """The lantern with a mast and a yard at one side: no two sides of it look alike."""
    mast = moved(trimesh.creation.cylinder(radius=1, height=34, sections=20), -17, 9, 17)
    yard = moved(trimesh.creation.box((2, 14, 2)), -17, 3, 28)
    return trimesh.util.concatenate([lantern(), mast, yard])


def globe() -> trimesh.Trimesh:
    """A ball over a plate."""
    ball = moved(trimesh.creation.icosphere(subdivisions=3, radius=10), 0, 0, 14)
    return trimesh.util.concatenate([ball, trimesh.creation.box((26, 26, 4))])
