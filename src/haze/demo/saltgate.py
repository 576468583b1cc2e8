"""The Saltgate demo: four pieces of the club's display, and the plans begun on them."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from importlib import resources

import trimesh
from pydantic import BaseModel

from haze.core.errors import UnknownNameError
from haze.core.plan.piece import Part
from haze.demo.plans import DEMO_PLANS, DemoPlan
from haze.demo.shelf import paints
from haze.formats.meshes import write_ply
from haze.service.piece.meshes import MeshView, add_mesh
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.service.plan.start import NewPlan, start
from haze.service.shelf.shelf import shelf_of
from haze.store import shelf
from haze.store.connection import Database


@dataclass(frozen=True, slots=True)
class Shipped:
    """A piece that ships with Haze: its file, what it is, and the solid it is when it is simple."""

    name: str
    words: str
    stem: str | None = None
    solid: Callable[[], trimesh.Trimesh] | None = None
    height_mm: float = 30.0


SHIPPED: dict[str, Shipped] = {
    "warden": Shipped("Harbour warden", "32 mm figure with a lamp on a pole", stem="warden"),
    "marrow": Shipped("Dredge crawler Marrow", "tracked barge, 1:48", stem="marrow"),
    "lamp-stair": Shipped("Lamp stair", "sea wall, steps, tide pool, beacon", stem="lamp-stair"),
    "herald": Shipped("Herald", "bust, 1:12", stem="herald"),
    "ball": Shipped(
        "Ball", "practice solid", solid=lambda: trimesh.creation.icosphere(subdivisions=5)
    ),
    "cube": Shipped("Cube", "practice solid", solid=lambda: trimesh.creation.box((2, 2, 2))),
    "cone": Shipped(
        "Cone",
        "practice solid",
        solid=lambda: trimesh.creation.cone(radius=1, height=2, sections=96),
    ),
    "plate": Shipped(
        "Plate",
        "practice solid, flat and broad",
        solid=lambda: trimesh.creation.box((4, 4, 0.2)),
        height_mm=3.0,
    ),
}


class StandInView(BaseModel):
    """A piece a painter without a mesh can plan on."""

    id: str
    name: str
    words: str


class StandInList(BaseModel):
    stand_ins: list[StandInView]


class StandIn(BaseModel):
    """A stand-in that is in the data folder now, with its true height and its parts."""

    mesh: MeshView
    name: str
    height_mm: float
    parts: list[Part]


def stand_ins() -> StandInList:
    """All stand-ins, the club's pieces first."""
    return StandInList(
        stand_ins=[StandInView(id=k, name=s.name, words=s.words) for k, s in SHIPPED.items()]
    )


def stand_in(db: Database, identity: str) -> StandIn:
    """A stand-in, put into the data folder when it is not there yet."""
    shipped = SHIPPED.get(identity)
    if shipped is None:
        raise UnknownNameError(
            f"There is no stand-in {identity!r}; accepted are {', '.join(SHIPPED)}.", field="id"
        )
    parts: list[Part] = []
    height = shipped.height_mm
    if shipped.solid:
        solid = shipped.solid()
        data = write_ply(solid.vertices, solid.faces)
    else:
        folder = resources.files("haze.demo")
        data = (folder / f"{shipped.stem}.ply").read_bytes()
        about = json.loads((folder / f"{shipped.stem}.json").read_text("utf-8"))
        height = float(about["height_mm"])
        parts = [
            Part(id=_identity(p["name"]), name=p["name"], bodies=p["bodies"])
            for p in about["parts"]
        ]
    mesh = add_mesh(db, data, name=f"{identity}.ply")
    return StandIn(mesh=mesh, name=shipped.name, height_mm=height, parts=parts)


def _identity(name: str) -> str:
    return name.lower().replace(" ", "-")


def load(db: Database) -> PlanView:
    """Put the demo into a data folder; plans that are there already are kept. The wardens' one."""
    load_shelf(db)
    known = {p.name: p.id for p in plans.every(db)}
    last: PlanView | None = None
    for demo in DEMO_PLANS:
        have = known.get(demo.name)
        last = plans.open_plan(db, have) if have else _begin(db, demo)
    assert last is not None
    return last


def load_shelf(db: Database) -> None:
    """The club's shelf, once: what the painter changed or put away stays so."""
    with db.atomic() as tx:
        known = {row.id for row in (*shelf.paints(tx), *shelf.trashed_paints(tx))}
        club = paints()
        if any(row.ml_left is not None for row in shelf.paints(tx)) or not club:
            return
        for row in club:
            shelf.put_paint(tx, row)
        extra = known - {row.id for row in club}
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
