"""The Saltgate demo: four pieces of the club's display, and the plans begun on them."""

from __future__ import annotations

from datetime import date

from haze.demo import history
from haze.demo.plans import DEMO_PLANS, DemoPlan
from haze.demo.shelf import paints
from haze.demo.stand_ins import stand_in
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan, start
from haze.service.shelf import starter
from haze.service.shelf.shelf import shelf_of
from haze.store import shelf
from haze.store.connection import Database


def load(db: Database, *, past: bool = False) -> PlanView:
    """Put the demo into a data folder; plans that are there already are kept. The wardens' one.

    Parameters
    ----------
    db : the data folder's
    past : whether a folder that had no plan gets the club's last three months too
    """
    load_shelf(db)
    known = {p.name: p.id for p in plans.every(db)}
    views = [
        plans.open_plan(db, known[demo.name]) if demo.name in known else _begin(db, demo)
        for demo in DEMO_PLANS
    ]
    if past and not known:
        history.load(db, {view.plan.name: view.id for view in views}, today=date.today())
    return views[-1]


def load_shelf(db: Database) -> None:
    """The club's shelf, once: what the painter changed or put away stays so."""
    with db.atomic() as tx:
        known = {row.id for row in (*shelf.paints(tx), *shelf.trashed_paints(tx))}
        club = paints()
        if any(row.ml_left is not None for row in shelf.paints(tx)) or not club:
            return
        for row in club:
            shelf.put_paint(tx, row)
        # the example shelf gives way to the club's; what is the painter's own stays
        extra = (known & {row.id for row in starter.PAINTS}) - {row.id for row in club}
        if extra:
            shelf.set_paints_trashed(tx, sorted(extra), trashed=True)


def _begin(db: Database, demo: DemoPlan) -> PlanView:
    piece = stand_in(db, demo.stand_in)
    fresh = start(
        db,
        NewPlan(
            mesh=piece.mesh.id,
            name=demo.name,
            height_mm=piece.height_mm,
            copies=demo.copies,
            parts=piece.parts,
            lights=list(demo.lights),
        ),
    )
    plan = demo.steps(fresh.plan, shelf_of(db).stock)
    plan.piece.name = piece.name
    return plans.save(db, fresh.id, version=fresh.version, plan=plan, what="Demo plan started")
