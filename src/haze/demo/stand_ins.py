"""Pieces for a painter without a mesh: the club's own, common kinds of kit, practice solids."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

import numpy as np
import trimesh
from pydantic import BaseModel

from haze.core.drafting.sequence import What
from haze.core.errors import UnknownNameError
from haze.core.mesh.mesh import RawMesh
from haze.core.plan.piece import Part
from haze.formats.compact import read_compact
from haze.formats.meshes import write_ply
from haze.service.piece.meshes import MeshView, add_mesh
from haze.store.connection import Database

Sizes = tuple[tuple[str, float], ...]  # by name, factors on the piece's own
FIGURE_SIZES: Sizes = (
    ("28 mm figure", 28 / 32),
    ("32 mm figure", 1.0),
    ("54 mm", 54 / 32),
    ("75 mm", 75 / 32),
)
BEAST_SIZES: Sizes = (
    ("for 28 mm figures", 28 / 32),
    ("for 32 mm figures", 1.0),
    ("for 54 mm", 54 / 32),
)
VEHICLE_SIZES: Sizes = (("1:72", 48 / 72), ("1:48", 1.0), ("1:35", 48 / 35))


@dataclass(frozen=True, slots=True)
class Shipped:
    """A piece that ships with Haze.

    Attributes
    ----------
    name, words : what it is called, and what it is
    kind : under which it is listed
    sizes : usual ones
    solid : makes it when it is a simple solid; None for one with a mesh file
    height_mm : float [mm], of a simple solid
    """

    name: str
    words: str
    kind: str
    sizes: Sizes = ()
    solid: Callable[[], trimesh.Trimesh] | None = None
    height_mm: float = 30.0


SHIPPED: dict[str, Shipped] = {
    "warden": Shipped("Harbour warden", "long coat, hat, a lamp on a pole", "figure", FIGURE_SIZES),
    "diver": Shipped(
        "Mole diver", "trooper in plates with a pack and a long gun", "figure", FIGURE_SIZES
    ),
    "breakwater": Shipped(
        "Breakwater guard",
        "broad, in heavy plate, with cloak, shield and mace",
        "figure",
        FIGURE_SIZES,
    ),
    "strand-rider": Shipped(
        "Strand rider", "rider with a flag on a striding horse", "mounted", FIGURE_SIZES
    ),
    "cliff-wing": Shipped(
        "Cliff wing", "winged beast on a rock, scaled, with horns and tail", "beast", BEAST_SIZES
    ),
    "silt-back": Shipped(
        "Silt back", "long scaled beast on six legs, crawling", "beast", BEAST_SIZES
    ),
    "marrow": Shipped(
        "Dredge crawler Marrow", "tracked barge with an arm", "machine", VEHICLE_SIZES
    ),
    "mud-strider": Shipped(
        "Mud strider", "walker machine on two legs, with a cab and claws", "machine", VEHICLE_SIZES
    ),
    "salt-car": Shipped(
        "Salt car", "rail car of planks and iron, on its track", "machine", VEHICLE_SIZES
    ),
    "lamp-stair": Shipped("Lamp stair", "sea wall, steps, tide pool, beacon", "ground"),
    "cracked-shore": Shipped(
        "Cracked shore",
        "round base: cracked mud, a pool, reeds, a broken pile",
        "ground",
        (("40 mm round", 40 / 60), ("60 mm round", 1.0), ("100 mm round", 100 / 60)),
    ),
    "herald": Shipped(
        "Herald",
        "bust with a cap and plume",
        "bust",
        (("1:16", 0.75), ("1:12", 1.0), ("1:9", 4 / 3)),
    ),
    "ball": Shipped(
        "Ball",
        "practice solid",
        "practice",
        solid=lambda: trimesh.creation.icosphere(subdivisions=5),
    ),
    "cube": Shipped(
        "Cube", "practice solid", "practice", solid=lambda: trimesh.creation.box((2, 2, 2))
    ),
    "cone": Shipped(
        "Cone",
        "practice solid",
        "practice",
        solid=lambda: trimesh.creation.cone(radius=1, height=2, sections=96),
    ),
    "plate": Shipped(
        "Plate",
        "practice solid, flat and broad",
        "practice",
        solid=lambda: trimesh.creation.box((4, 4, 0.2)),
        height_mm=3.0,
    ),
}


WHAT_OF: dict[str, What] = {"machine": "vehicle", "ground": "terrain", "bust": "bust"}


class StandInSize(BaseModel):
    """A usual size of a stand-in, its true height then [mm], and that in words."""

    label: str
    height_mm: float
    words: str


class StandInView(BaseModel):
    """A piece a painter without a mesh can plan on; its sizes from small to large."""

    id: str
    name: str
    words: str
    kind: str
    what: What
    parts: list[str]
    sizes: list[StandInSize]
    usual: str
    height_mm: float


class StandInList(BaseModel):
    stand_ins: list[StandInView]


class StandIn(BaseModel):
    """A stand-in that is in the data folder now, with its true height and its parts."""

    mesh: MeshView
    name: str
    height_mm: float
    parts: list[Part]


def stand_ins() -> StandInList:
    """All stand-ins, the club's and common kinds of kit first, practice solids last."""
    return StandInList(stand_ins=[_view(identity, s) for identity, s in SHIPPED.items()])


def _view(identity: str, shipped: Shipped) -> StandInView:
    about = _about(identity)
    own = float(about["height_mm"])
    sizes = [
        _size(label, round(own * factor, 1), of_figures=shipped.sizes is FIGURE_SIZES)
        for label, factor in shipped.sizes
    ]
    usual = next((label for label, factor in shipped.sizes if factor == 1.0), "")
    return StandInView(
        id=identity,
        name=shipped.name,
        words=shipped.words,
        kind=shipped.kind,
        what=WHAT_OF.get(shipped.kind, "figure"),
        parts=[p["name"] for p in about["parts"]],
        sizes=sizes,
        usual=usual,
        height_mm=round(own, 1),
    )


def _size(label: str, height_mm: float, *, of_figures: bool) -> StandInSize:
    words = f"{height_mm:g} mm tall"
    if of_figures:
        nominal = label.split()[0]
        words = f"{nominal} mm counts from foot to eye; to its highest point this is {words}."
    return StandInSize(label=label, height_mm=height_mm, words=words)


def stand_in(db: Database, identity: str, *, size: str | None = None) -> StandIn:
    """A stand-in, put into the data folder when it is not there yet.

    Parameters
    ----------
    db : of the data folder
    identity : of the stand-in
    size : one of its usual sizes by name; None for its own

    Raises
    ------
    UnknownNameError, which names the stand-ins or sizes there are
    """
    shipped = _shipped(identity)
    about = _about(identity)
    factors = dict(shipped.sizes)
    if size is not None and size not in factors:
        raise UnknownNameError(
            f"{shipped.name} has no size {size!r}; accepted are {', '.join(factors) or 'none'}.",
            field="size",
        )
    raw = mesh_of(identity)
    mesh = add_mesh(db, write_ply(raw.vertices, raw.faces), name=f"{identity}.ply")
    return StandIn(
        mesh=mesh,
        name=shipped.name,
        height_mm=round(float(about["height_mm"]) * (factors[size] if size else 1.0), 1),
        parts=[
            Part(id=_identity(p["name"]), name=p["name"], bodies=p["bodies"])
            for p in about["parts"]
        ],
    )


def picture(identity: str) -> bytes:
    """WebP of a stand-in, primed and lit from the left shoulder.

    Parameters
    ----------
    identity : of the stand-in
    """
    _shipped(identity)
    return (resources.files("haze.demo") / "pieces" / f"{identity}.webp").read_bytes()


def _shipped(identity: str) -> Shipped:
    shipped = SHIPPED.get(identity)
    if shipped is None:
        raise UnknownNameError(
            f"There is no stand-in {identity!r}; accepted are {', '.join(SHIPPED)}.", field="id"
        )
    return shipped


def mesh_of(identity: str) -> RawMesh:
    """The surface of a stand-in as it ships.

    Parameters
    ----------
    identity : of the stand-in
    """
    solid = _shipped(identity).solid
    if solid:
        made = solid()
        return RawMesh(np.asarray(made.vertices), np.asarray(made.faces, dtype=np.int32))
    return read_compact((resources.files("haze.demo") / "pieces" / f"{identity}.npz").read_bytes())


@cache
def _about(identity: str) -> dict[str, Any]:
    """Height and parts as the builder wrote them."""
    shipped = _shipped(identity)
    if shipped.solid:
        return {"height_mm": shipped.height_mm, "parts": []}
    file = resources.files("haze.demo") / "pieces" / f"{identity}.json"
    found: dict[str, Any] = json.loads(file.read_text("utf-8"))
    return found


def _identity(name: str) -> str:
    return name.lower().replace(" ", "-")
