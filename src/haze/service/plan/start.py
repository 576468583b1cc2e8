"""Starting: a bare plan on a mesh, and one more coat for a plan."""

from __future__ import annotations

from pydantic import Field

from haze.core.drafting.coats import draft_coat, usual_stations
from haze.core.drafting.recipes import Cup
from haze.core.drafting.stock import Stock
from haze.core.errors import NothingFitsError
from haze.core.mesh.frame import UpAxis, default_show
from haze.core.onpiece.lighting import preset
from haze.core.plan.base import Digest, Name
from haze.core.plan.coat import Aim, Coat
from haze.core.plan.document import MOST_COATS, Plan
from haze.core.plan.edits import ground_under
from haze.core.plan.lights import MOST_LIGHTS, Light
from haze.core.plan.paint import PaintUsed, ThinnerUsed
from haze.core.plan.piece import MOST_PARTS, BlockedSector, Copies, Height, Part, Piece, Room
from haze.core.plan.roles import TaskName
from haze.core.plan.schools import Schools
from haze.service.forms.wire import Strict
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.shelf import starter
from haze.service.shelf.shelf import shelf_of
from haze.store.connection import Database

# a grip under the base, held by the hand that turns the piece
HANDLE = BlockedSector(id="handle", name="Handle below", elevation_deg=-90, half_angle_deg=30)


class NewPlan(Strict):
    """What a new plan starts from."""

    mesh: Digest
    name: Name
    height_mm: Height = 32.0
    up: UpAxis = "z"
    copies: Copies = 1
    parts: list[Part] = Field(default_factory=list, max_length=MOST_PARTS)
    lights: list[Light] | None = Field(default=None, max_length=MOST_LIGHTS)


def bare_plan(db: Database, new: NewPlan) -> Plan:
    """A plan without a step, by the default schools, with the first airbrush of the shelf.

    Raises
    ------
    NothingFitsError
        Nobody owns an airbrush.
    """
    airbrushes = shelf_of(db).airbrushes
    airbrush = next((a for a in airbrushes if a.id == starter.FIRST_AIRBRUSH), None)
    if not airbrushes:
        raise NothingFitsError(
            "There is no airbrush yet: add one under Equipment on the shelf first.",
            field="airbrush",
        )
    schools = Schools()
    piece = Piece(
        mesh=new.mesh,
        name=new.name,
        height_mm=new.height_mm,
        up=new.up,
        show=default_show(new.up),
        copies=new.copies,
        parts=new.parts,
        blocked=[HANDLE],
    )
    lights = preset(schools.light).lights if new.lights is None else new.lights
    return Plan(
        name=new.name,
        schools=schools,
        piece=piece,
        lights=list(lights),
        airbrush=airbrush or airbrushes[0],
        room=Room(),
        coats=[],
    )


def start(db: Database, new: NewPlan) -> PlanView:
    """A plan on a stored mesh, without a step."""
    return plans.add(db, bare_plan(db, new), what="Started")


class NewCoatBody(Strict):
    """A coat to draft into a plan after so many steps."""

    plan: Plan
    id: str = Field(pattern=r"^[A-Za-z0-9_-]{1,48}$")
    task: TaskName
    paint: PaintUsed
    thinner: ThinnerUsed | None = None
    after: int = Field(ge=0, le=MOST_COATS)
    aim: Aim | None = None


def draft(body: NewCoatBody, stock: Stock) -> Coat:
    """A coat by the plan's schools, from its light or from all round.

    Without a thinner it takes the shelf's own for its paint.
    """
    plan = body.plan
    over = ground_under(plan, body.after)
    return draft_coat(
        body.id,
        Cup.of(plan, stock, body.paint, body.task, over=over, thinner=body.thinner),
        stations=usual_stations(body.task, plan.key_light),
        aim=body.aim,
    )
