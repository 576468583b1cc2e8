"""The Saltgate demo: the club's harbour warden and its first plan."""

from __future__ import annotations

from importlib import resources

from pydantic import BaseModel

from haze.service import plans
from haze.service.plans import MeshView, NewPlan, PlanView
from haze.store.connection import Database

WARDEN_FILE = "warden.stl"
WARDEN_HEIGHT_MM = 46.0  # to the ring of the lamp; the man himself is a 32 mm figure
PLAN_NAME = "Wardens of the spring tide"


class StandIn(BaseModel):
    """A figure to plan on for a painter without a mesh, with its true height."""

    mesh: MeshView
    height_mm: float


def stand_in(db: Database) -> StandIn:
    """The harbour warden, put into the data folder when it is not there yet."""
    data = (resources.files("haze.demo") / WARDEN_FILE).read_bytes()
    return StandIn(mesh=plans.add_mesh(db, data, name=WARDEN_FILE), height_mm=WARDEN_HEIGHT_MM)


def load(db: Database) -> PlanView:
    """Put the warden and its plan into a data folder; the plan that is there already is kept."""
    mesh = stand_in(db).mesh
    for known in plans.every(db):
        if known.name == PLAN_NAME:
            return plans.open_plan(db, known.id)
    fresh = plans.start(
        db,
        NewPlan(mesh=mesh.id, name=PLAN_NAME, height_mm=WARDEN_HEIGHT_MM, copies=6),
    )
    plan = fresh.plan.model_copy(deep=True)
    plan.piece.name = "Harbour warden"
    return plans.save(db, fresh.id, version=fresh.version, plan=plan, what="Demo plan started")
