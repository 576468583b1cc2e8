"""A core sample: the films at one point of the piece, bottom to top."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.arrays import Array
from haze.core.film.looks import shown
from haze.core.film.skin import Skin, seen
from haze.core.film.srgb import tone_of_rgb
from haze.core.film.wet import wet_rgb
from haze.core.plan.base import Point
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.service.forms.wire import Strict
from haze.service.piece.onpiece import OnPiece

FULLEST = 98.0  # percentile of a step's film on the piece that counts as its fullest


class SampleBody(Strict):
    """Where to take the sample: a point in the axes and units of the mesh file."""

    plan: Plan
    at: Point


class SampleLayer(BaseModel):
    """One step at the point: its film, the share of its fullest film, and the colour after it."""

    step: str
    name: str
    film_um: float
    share: float
    colour: str
    wet: str | None
    lightness: float


class SampleOut(BaseModel):
    """The films at the vertex nearest to the point; `at` is where that is in the file."""

    at: list[float]
    part: str
    bare: str
    bare_lightness: float
    total_um: float
    light: float
    reachable: bool
    layers: list[SampleLayer]


def take_sample(body: SampleBody, on: OnPiece) -> SampleOut:
    """The stack of films at one point."""
    plan, piece = body.plan, on.piece
    here = piece.mesh.from_file(np.array([body.at], dtype=np.float64))[0]
    away = np.linalg.norm(piece.mesh.vertices - here, axis=1)
    away[~piece.counted] = np.inf
    at = int(np.argmin(away))
    below = on.ground(plan)
    first = _rgb(below, at)
    layers: list[SampleLayer] = []
    total = 0.0
    for step, layer in zip(plan.coats, on.layers(plan, len(plan.coats)), strict=True):
        um = float(layer.film_um[at])
        total += um
        if step.kind == "hand" and step.paint is None:
            continue  # a rest or a mask leaves nothing to look at
        rgb = _rgb(layer.after, at)
        layers.append(
            SampleLayer(
                step=step.id,
                name=step.name,
                film_um=um,
                share=um / max(float(np.percentile(layer.film_um, FULLEST)), 0.05),
                colour=shown(rgb),
                wet=_wet(step, below, at, um),
                lightness=tone_of_rgb(rgb),
            )
        )
        below = layer.after
    parts = piece.parts_in(plan)
    return SampleOut(
        at=piece.mesh.to_file(piece.mesh.vertices[at]).tolist(),
        part=parts[int(piece.part[at])].name,
        bare=shown(first),
        bare_lightness=tone_of_rgb(first),
        total_um=total,
        light=float(on.lit.value(plan)[at]),
        reachable=bool(on.reach.reachable(plan.piece.cones)[at]),
        layers=layers,
    )


def _rgb(skin: Skin, at: int) -> Array:
    return seen(skin.at(np.array([at])))[:, 0].astype(np.float64)


def _wet(step: Coat | HandStep, below: Skin, at: int, film_um: float) -> str | None:
    if step.paint is None or step.off or film_um <= 0:
        return None
    ground = below.inside[:, at].astype(np.float64)
    return shown(wet_rgb(step.optics, ground=ground, film_um=film_um))
