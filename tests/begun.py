"""Plans somebody has begun: four coats on a mesh, for tests that need some."""

from __future__ import annotations

from haze.core.drafting.coats import GROUND, drafted, every_side
from haze.core.light.stations import Station
from haze.core.plan.document import Plan
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan, bare_plan
from haze.service.shelf.shelf import shelf_of
from haze.store.connection import Database

DARK, MID, WHITE, VEIL = "Bilge Black", "Slate", "Tern White", "Lamp Amber"


def four_coats(db: Database, new: NewPlan) -> Plan:
    """Dark ground, mid tone from the light, white from overhead, one transparent veil."""
    plan, stock = bare_plan(db, new), shelf_of(db).stock
    paint = {p.name: p for p in stock.paints}
    key = plan.key_light
    overhead = Station(key.azimuth_deg, 70.0, 9.0)
    steps = (
        ("dark", "prime", DARK, GROUND, plan.piece.surface, None),
        ("mid", "light", MID, [key.station], paint[DARK].masstone, 1.2),
        ("light", "light", WHITE, [overhead], paint[MID].masstone, 9.0),
        ("veil", "veil", VEIL, every_side(35.0, 30.0), paint[WHITE].masstone, 4.5),
    )
    coats = [
        drafted(
            plan,
            stock,
            stem=stem,
            task=task,
            paint=paint[name],
            stations=stations,
            over=over,
            film_um=film,
        ).model_copy(update={"id": stem})
        for stem, task, name, stations, over, film in steps
    ]
    return plan.model_copy(update={"coats": coats})


def begun(db: Database, new: NewPlan) -> PlanView:
    """A stored plan of four coats."""
    return plans.add(db, four_coats(db, new), what="Started")
