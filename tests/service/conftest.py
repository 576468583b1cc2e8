"""The club's shelf, and three pieces worked out once for all tests of the services."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
import trimesh

import shapes
from begun import begun
from haze.core.drafting.stock import Stock
from haze.core.plan.document import Plan
from haze.demo.shelf import paints
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.service.piece.meshes import add_mesh
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan
from haze.service.shelf.shelf import Shelf, shelf_of
from haze.store import shelf as rows
from helpers import coarse, going


def fill(held: Bench) -> Bench:
    """The club's ninety paints beside the starter shelf."""
    with held.db.atomic() as tx:
        for row in paints():
            rows.put_paint(tx, row)
    return held


@pytest.fixture
def stocked(bench: Bench) -> Bench:
    """A fresh shelf, to be changed."""
    return fill(bench)


@pytest.fixture(scope="session")
def club(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Bench]:
    """One data folder for all tests, not to be changed."""
    held = fill(coarse(tmp_path_factory.mktemp("club") / "data"))
    yield held
    held.close()


@pytest.fixture(scope="session")
def shelf(club: Bench) -> Shelf:
    """Its shelf as a plan would use it."""
    return shelf_of(club.db)


@pytest.fixture(scope="session")
def stock(shelf: Shelf) -> Stock:
    """What fixes may take from it."""
    return shelf.stock


def planned(bench: Bench, solid: trimesh.Trimesh, *, name: str, height_mm: float) -> Plan:
    """A plan on a solid, its piece worked out."""
    data = write_stl(np.asarray(solid.vertices), np.asarray(solid.faces))
    mesh = add_mesh(bench.db, data, name=f"{name}.stl")
    plan = begun(bench.db, NewPlan(mesh=mesh.id, name=name, height_mm=height_mm)).plan
    bench.cache.make(plan.piece, going)
    return plan


@pytest.fixture(scope="session")
def lantern(club: Bench) -> Plan:
    """A post on a broad base between two equal boxes: four bodies, two of them alike."""
    return planned(club, shapes.lantern(), name="Lantern", height_mm=34)


@pytest.fixture(scope="session")
def on_lantern(club: Bench, lantern: Plan) -> OnPiece:
    return club.on(lantern)


@pytest.fixture(scope="session")
def globe(club: Bench) -> Plan:
    """A ball over a plate."""
    return planned(club, shapes.globe(), name="Globe", height_mm=28)


@pytest.fixture(scope="session")
def on_globe(club: Bench, globe: Plan) -> OnPiece:
    return club.on(globe)


@pytest.fixture
def cone(bench: Bench, cone_stl: bytes) -> PlanView:
    """A plan on a cone in a data folder of its own; the piece is not worked out."""
    mesh = add_mesh(bench.db, cone_stl, name="cone.stl")
    return begun(bench.db, NewPlan(mesh=mesh.id, name="Practice cone", height_mm=25))


@pytest.fixture
def on_cone(bench: Bench, cone: PlanView, cone_cache: Path) -> OnPiece:
    shutil.copytree(cone_cache, bench.cache.folder, dirs_exist_ok=True)
    return bench.on(cone.plan)
