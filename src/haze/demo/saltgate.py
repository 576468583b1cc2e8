"""The Saltgate demo: the club's harbour warden and its first plan."""

from __future__ import annotations

from importlib import resources

from haze.service import plans
from haze.service.plans import NewPlan, PlanView
from haze.store.connection import Database

WARDEN_FILE = "warden.stl"
WARDEN_HEIGHT_MM = 46.0  # to the ring of the lamp; the man himself is a 32 mm figure
PLAN_NAME = "Wardens of the spring tide"


def load(db: Database) -> PlanView:
    """Put the warden and its plan into a data folder; the plan that is there already is kept."""
    data = (resources.files("haze.demo") / WARDEN_FILE).read_bytes()
    mesh = plans.add_mesh(db, data, name=WARDEN_FILE)
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
