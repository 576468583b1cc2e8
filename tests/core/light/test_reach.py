"""Reach, bare surface, shares."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.directions import fibonacci_directions
from haze.core.light.reach import bare, buried, share
from haze.core.light.visibility import visibility_table
from haze.core.mesh.mesh import RawMesh
from haze.core.mesh.prepare import prepare


def test_shares_are_by_area() -> None:
    area = np.array([1, 3, 6], dtype=np.float32)
    mask = np.array([True, False, True])
    assert share(mask, area=area, counted=np.array([True, True, True])) == pytest.approx(0.7)
    assert share(mask, area=area, counted=np.array([True, True, False])) == pytest.approx(0.25)
    assert bare(np.array([0.99, 1.0], dtype=np.float32)).tolist() == [True, False]


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


def test_a_buried_shell_is_kept_out_of_sums_but_stays_a_body() -> None:
    outer, inner = trimesh.creation.box((10, 10, 10)), trimesh.creation.icosphere(radius=2)
    piece = prepare(raw(trimesh.util.concatenate([outer, inner])), up="z", show="-y")
    assert np.unique(piece.body).tolist() == [0, 12]
    table = visibility_table(piece, directions=fibonacci_directions(64))
    assert np.array_equal(buried(table), piece.body == 12)
