"""Long edges split."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.mesh.refine import split_long_edges


def test_long_edges_are_split_and_neighbours_stay_joined() -> None:
    box = trimesh.creation.box((1, 1, 1))
    vertices, faces = split_long_edges(
        np.asarray(box.vertices, float), box.faces.astype(np.int32), longest=0.1, most_vertices=9000
    )
    solid = trimesh.Trimesh(vertices, faces, process=False)
    assert solid.is_watertight
    assert solid.edges_unique_length.max() <= 0.1
    assert solid.area == pytest.approx(6.0)
    assert solid.volume == pytest.approx(1.0)


def test_the_vertex_budget_is_kept() -> None:
    box = trimesh.creation.box((1, 1, 1))
    vertices, _ = split_long_edges(
        np.asarray(box.vertices, float),
        box.faces.astype(np.int32),
        longest=1e-4,
        most_vertices=2000,
    )
    assert len(vertices) <= 2000
