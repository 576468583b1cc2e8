"""Plans as the painter uses them: open, save, undo, start, put away."""

from __future__ import annotations

import hashlib
import uuid
from typing import Literal, TypeVar

from pydantic import BaseModel, Field

from haze.core.errors import HazeError
from haze.core.light.mesh import default_show
from haze.core.plan.document import (
    MOST_LIGHTS,
    MOST_PARTS,
    Aim,
    AirbrushUsed,
    BlockedSector,
    Coat,
    KeyLight,
    Light,
    PaintUsed,
    Part,
    Piece,
    Plan,
    Room,
    Schools,
    ThinnerUsed,
)
from haze.core.plan.drafts import Angle, draft_coat, first_coats, ground_angles
from haze.core.plan.lighting import preset
from haze.core.plan.painting import mix_hex
from haze.core.plan.roles import ALL_ROUND, TaskName
from haze.formats.meshes import read_mesh
from haze.service import starter
from haze.service.pieces import key_of
from haze.service.shelf import shelf_of
from haze.service.spray_io import Strict
from haze.store import meshes, plans
from haze.store.connection import Database
from haze.store.meshes import MeshRow
from haze.store.plans import PlanRow

# a grip under the base, held by the hand that turns the piece
HANDLE = BlockedSector(id="handle", name="Handle below", elevation_deg=-90, half_angle_deg=30)
SAVED_AS_DEFAULT = "Changed"


class PlanView(BaseModel):
    """A plan with what the screen needs to save, undo and redo it."""

    id: str
    version: int
    plan: Plan
    updated_at: str
    can_undo: bool
    can_redo: bool
    what: str


class PlanSummary(BaseModel):
    """A plan in the list."""

    id: str
    version: int
    name: str
    piece: str
    copies: int
    coats: int
    school: str
    updated_at: str
    piece_key: str
    film: list[str]
    pictured: bool = False


class MeshView(BaseModel):
    """A stored mesh."""

    id: str
    name: str
    format: Literal["stl", "obj", "ply", "glb"]
    size_bytes: int
    faces: int


class NewPlan(Strict):
    """What a new plan starts from."""

    mesh: str = Field(pattern=r"^[0-9a-f]{64}$")
    name: str = Field(min_length=1, max_length=120)
    height_mm: float = Field(default=32.0, ge=1, le=2000)
    up: Literal["z", "y", "x", "-z", "-y", "-x"] = "z"
    copies: int = Field(default=1, ge=1, le=500)
    parts: list[Part] = Field(default_factory=list, max_length=MOST_PARTS)
    lights: list[Light] | None = Field(default=None, max_length=MOST_LIGHTS)


def view(row: PlanRow) -> PlanView:
    """A stored plan for the screen."""
    return PlanView(
        id=row.id,
        version=row.version,
        plan=Plan.model_validate_json(row.document),
        updated_at=row.updated_at,
        can_undo=row.parent is not None,
        can_redo=row.child is not None,
        what=row.what,
    )


def summary(row: PlanRow) -> PlanSummary:
    """A stored plan for the list."""
    plan = Plan.model_validate_json(row.document)
    return PlanSummary(
        id=row.id,
        version=row.version,
        name=plan.name,
        piece=plan.piece.name,
        copies=plan.piece.copies,
        coats=len(plan.coats),
        school=school_words(plan.schools),
        updated_at=row.updated_at,
        film=[h for h in (mix_hex(step) for step in plan.done) if h],
        piece_key=key_of(plan.piece),
    )


def school_words(schools: Schools) -> str:
    """The schools a plan follows, in the words of the trade."""
    words = {"two_tone": "Two-tone", "three_tone": "Three-tone", "hue_ground": "Hue ground"}
    return ", ".join(
        words.get(name, name.capitalize())
        for name in (schools.pressure, schools.light, schools.ground, schools.order)
    )


def every(db: Database) -> list[PlanSummary]:
    """Plans that are not in the trash, last changed first."""
    return [summary(row) for row in plans.live(db.connection())]


def in_trash(db: Database) -> list[PlanSummary]:
    """Plans in the trash."""
    return [summary(row) for row in plans.trashed(db.connection())]


def open_plan(db: Database, identity: str) -> PlanView:
    """One plan as it stands."""
    return view(plans.get(db.connection(), identity))


def save(db: Database, identity: str, *, version: int, plan: Plan, what: str) -> PlanView:
    """A new revision; refused with `StaleError` when the plan was changed elsewhere."""
    with db.atomic() as tx:
        meshes.get(tx, plan.piece.mesh)
        row = plans.save(
            tx,
            identity=identity,
            version=version,
            document=plan.model_dump_json(),
            mesh=plan.piece.mesh,
            what=what.strip()[:200] or SAVED_AS_DEFAULT,
        )
    return view(row)


def undo(db: Database, identity: str, *, version: int) -> PlanView:
    """Back one revision."""
    with db.atomic() as tx:
        row = plans.undo(tx, identity=identity, version=version)
    return view(row)


def redo(db: Database, identity: str, *, version: int) -> PlanView:
    """Forward one revision."""
    with db.atomic() as tx:
        row = plans.redo(tx, identity=identity, version=version)
    return view(row)


def put_away(db: Database, identity: str, *, version: int, trashed: bool) -> PlanSummary:
    """Into the trash, or out of it."""
    with db.atomic() as tx:
        row = plans.set_trashed(tx, identity=identity, version=version, trashed=trashed)
    return summary(row)


def empty_trash(db: Database) -> int:
    """Delete for good what is in the trash."""
    with db.atomic() as tx:
        return plans.empty_trash(tx)


def mesh_view(row: MeshRow) -> MeshView:
    """A stored mesh for the screen."""
    return MeshView(
        id=row.id,
        name=row.name,
        format=row.format,
        size_bytes=row.size_bytes,
        faces=row.faces,
    )


def add_mesh(db: Database, data: bytes, *, name: str) -> MeshView:
    """Check a mesh file and keep it as it came; nothing is stored when it cannot be used."""
    form, raw = read_mesh(data, name=name)
    with db.atomic() as tx:
        row = meshes.add(
            tx,
            identity=hashlib.sha256(data).hexdigest(),
            name=(name.strip() or "mesh")[:200],
            form=form,
            faces=len(raw.faces),
            data=data,
        )
    return mesh_view(row)


def every_mesh(db: Database) -> list[MeshView]:
    """All stored meshes."""
    return [mesh_view(row) for row in meshes.every(db.connection())]


T = TypeVar("T", PaintUsed, ThinnerUsed, AirbrushUsed)


def _pick(rows: list[T], identity: str, what: str) -> T:
    for row in rows:
        if row.id == identity:
            return row
    if rows:
        return rows[0]
    raise HazeError(f"There is no {what} on the shelf; add one first.", field=what)


def start(db: Database, new: NewPlan) -> PlanView:
    """A plan of four coats on a stored mesh, by the default schools."""
    have = shelf_of(db)
    schools, room = Schools(), Room()
    lights = list(preset(schools.light).lights if new.lights is None else new.lights)
    airbrush = _pick(have.airbrushes, starter.FIRST_AIRBRUSH, "airbrush")
    paints = {
        role: _pick(have.paints, identity, "paint")
        for role, identity in starter.FIRST_PAINTS.items()
    }
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
    plan = Plan(
        name=new.name,
        schools=schools,
        piece=piece,
        lights=lights,
        airbrush=airbrush,
        room=room,
        coats=first_coats(
            paints,
            thinner=_pick(have.thinners, starter.FIRST_THINNER, "thinner"),
            airbrush=airbrush,
            room=room,
            schools=schools,
            light=next((light for light in lights if light.kind == "key"), KeyLight()),
            surface=piece.surface,
        ),
    )
    return add(db, plan, what="Started")


def add(db: Database, plan: Plan, *, what: str) -> PlanView:
    """Store a new plan."""
    with db.atomic() as tx:
        meshes.get(tx, plan.piece.mesh)
        row = plans.add(
            tx,
            identity=uuid.uuid4().hex,
            document=plan.model_dump_json(),
            mesh=plan.piece.mesh,
            what=what,
        )
    return view(row)


class NewCoatBody(Strict):
    """A coat to draft for a plan; `over` is the colour it will lie on."""

    plan: Plan
    id: str = Field(pattern=r"^[A-Za-z0-9_-]{1,48}$")
    task: TaskName
    paint: PaintUsed
    thinner: ThinnerUsed
    over: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")
    aim: Aim | None = None


def draft(body: NewCoatBody) -> Coat:
    """A coat by the plan's schools, from its light or from all round."""
    light = body.plan.key_light
    angles = (
        ground_angles()
        if body.task in ALL_ROUND
        else [Angle(light.azimuth_deg, light.elevation_deg, light.softness_deg)]
    )
    return draft_coat(
        body.id,
        task=body.task,
        paint=body.paint,
        thinner=body.thinner,
        airbrush=body.plan.airbrush,
        room=body.plan.room,
        schools=body.plan.schools,
        angles=angles,
        over=body.over,
        aim=body.aim,
    )
