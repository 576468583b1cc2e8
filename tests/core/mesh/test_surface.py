"""The surface as a graph."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

import shapes
from haze.core.mesh.surface import Surface


def test_blur_keeps_the_amount_and_widens_as_asked() -> None:
    plate = Surface(shapes.prepared(trimesh.creation.box((40, 40, 0.5))))
    v = plate.mesh.vertices
    top = plate.mesh.normals[:, 2] > 0.9
    spot = np.exp(-0.5 * ((v[:, 0] / 3) ** 2 + (v[:, 1] / 3) ** 2)) * top
    out = plate.blurred(spot.astype(np.float32), sigma=4.0)
    area = plate.mesh.vertex_area
    assert float((out * area).sum()) == pytest.approx(float((spot * area).sum()), rel=2e-3)
    spread = float((out * area * v[:, 0] ** 2)[top].sum() / (out * area)[top].sum())
    # variances add: 3² + 4²
    assert np.sqrt(spread) == pytest.approx(5.0, rel=0.06)
    assert np.array_equal(
        plate.blurred(spot.astype(np.float32), sigma=0.0), spot.astype(np.float32)
    )


def test_distance_runs_along_the_surface() -> None:
    ball = Surface(shapes.prepared(trimesh.creation.icosphere(subdivisions=5)))
    z = ball.mesh.vertices[:, 2]
    far = ball.distance(z == z.max())
    radius = float(np.linalg.norm(ball.mesh.vertices, axis=1).mean())
    polar = np.arccos(np.clip(z / radius, -1, 1)) * radius
    assert float(np.median(np.abs(far / np.maximum(polar, 1) - 1))) < 0.08
    assert ball.distance(z > 2 * radius, limit=7.0).max() == 7.0


def test_a_ball_bends_by_one_over_its_radius() -> None:
    ball = Surface(shapes.prepared(trimesh.creation.icosphere(subdivisions=5)))
    radius = float(np.linalg.norm(ball.mesh.vertices, axis=1).mean())
    assert float(np.median(ball.bend)) == pytest.approx(1 / radius, rel=0.02)
