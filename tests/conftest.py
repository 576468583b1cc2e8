"""Shapes and data folders that tests share."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import hypothesis
import numpy as np
import pytest
import trimesh
from threadpoolctl import threadpool_limits

from begun import begun
from haze.core.light.visibility import visibility_table
from haze.core.mesh.detail import COARSE
from haze.core.mesh.mesh import PreparedMesh, RawMesh
from haze.core.mesh.prepare import prepare
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.service.piece.meshes import add_mesh
from haze.service.plan.start import NewPlan
from helpers import coarse, going

# the same examples on every run; HYPOTHESIS_PROFILE=default looks for new ones
# no test may fail for being slow
hypothesis.settings.register_profile("repeatable", derandomize=True, deadline=None)
if "HYPOTHESIS_PROFILE" not in os.environ:
    hypothesis.settings.load_profile("repeatable")


def raw(mesh: trimesh.Trimesh) -> RawMesh:
    """A trimesh solid as Haze reads it."""
    return RawMesh(np.asarray(mesh.vertices, dtype=float), mesh.faces.astype(np.int32))


@pytest.fixture(scope="session", autouse=True)
def _one_blas_thread() -> Iterator[None]:
    """As the program starts: a second thread only gets in the way of small products."""
    with threadpool_limits(limits=1, user_api="blas"):
        yield


@pytest.fixture(scope="session")
def ball() -> PreparedMesh:
    return prepare(
        raw(trimesh.creation.icosphere(subdivisions=4)), up="z", show="-y", detail=COARSE
    )


@pytest.fixture(scope="session")
def ball_table(ball: PreparedMesh) -> np.ndarray:
    return visibility_table(ball)


@pytest.fixture(scope="session")
def cone_stl() -> bytes:
    """A small solid with a base, quick to work out."""
    solid = trimesh.creation.cone(radius=10, height=25, sections=40)
    return write_stl(solid.vertices, solid.faces)


@pytest.fixture
def bench(tmp_path: Path) -> Iterator[Bench]:
    held = coarse(tmp_path / "data")
    yield held
    held.close()


@pytest.fixture(scope="session")
def cone_cache(tmp_path_factory: pytest.TempPathFactory, cone_stl: bytes) -> Path:
    """What a data folder keeps of the cone once its piece is worked out."""
    held = coarse(tmp_path_factory.mktemp("cone") / "data")
    mesh = add_mesh(held.db, cone_stl, name="cone.stl")
    plan = begun(held.db, NewPlan(mesh=mesh.id, name="Cone", height_mm=25)).plan
    held.cache.make(plan.piece, going)
    held.close()
    return held.cache.folder
