"""A client of the application on a fresh data folder, with a plan on a cone worked out."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from begun import begun
from haze.service.bench import Bench
from haze.service.plan.start import NewPlan
from haze.web.app import create_app
from helpers import taken


@pytest.fixture
def client(bench: Bench) -> FlaskClient:
    return create_app(bench).test_client()


@pytest.fixture
def plan(client: FlaskClient, bench: Bench, cone_stl: bytes, cone_cache: Path) -> dict:
    mesh = taken(client, cone_stl, name="cone.stl")
    made = begun(bench.db, NewPlan(mesh=mesh["id"], name="Cone", height_mm=25))
    shutil.copytree(cone_cache, bench.cache.folder, dirs_exist_ok=True)
    assert bench.cache.ready(made.plan.piece) is not None
    return made.model_dump(mode="json")
