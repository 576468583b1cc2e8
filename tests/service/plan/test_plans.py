"""Plans kept, undone, refused."""

from __future__ import annotations

from pathlib import Path

import pytest

from begun import begun
from haze.core.errors import MeshError
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.forms import settings
from haze.service.piece import meshes
from haze.service.piece.meshes import add_mesh
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan
from haze.store.connection import MissingError
from helpers import coarse, with_spray


def test_a_bad_mesh_leaves_nothing_behind(bench: Bench) -> None:
    with pytest.raises(MeshError):
        add_mesh(bench.db, b"<html></html>", name="x.stl")
    assert meshes.every(bench.db) == []


def test_everything_is_there_after_a_restart(tmp_path: Path, cone_stl: bytes) -> None:
    one = coarse(tmp_path)
    mesh = add_mesh(one.db, cone_stl, name="cone.stl")
    made = begun(one.db, NewPlan(mesh=mesh.id, name="Stays"))
    changed = with_spray(made.plan, 0, pressure_psi=17.5)
    saved = plans.save(one.db, made.id, version=made.version, plan=changed, what="Pressure")
    settings.write(one.db, "theme", "lamp_off")
    one.close()
    two = coarse(tmp_path)
    found = plans.open_plan(two.db, made.id)
    assert found == saved
    assert found.can_undo
    assert settings.read(two.db)["theme"] == "lamp_off"
    assert plans.undo(two.db, made.id, version=found.version).plan == made.plan
    two.close()


def test_a_plan_on_a_mesh_that_is_not_there_is_refused(bench: Bench, cone: PlanView) -> None:
    lost: Plan = cone.plan.model_copy(deep=True)
    lost.piece.mesh = "e" * 64
    with pytest.raises(MissingError):
        plans.save(bench.db, cone.id, version=cone.version, plan=lost, what="x")
    assert plans.open_plan(bench.db, cone.id).version == cone.version
