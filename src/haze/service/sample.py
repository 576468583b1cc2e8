"""A core sample: the films at one point of the piece, bottom to top."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from haze.core.film.difference import lightness_of
from haze.core.film.gamut import into_gamut
from haze.core.film.skin import Skin, seen
from haze.core.film.spectra import LUMINANCE, to_hex
from haze.core.film.wet import wet_rgb
from haze.core.plan.document import Coat, HandStep, Plan, Point
from haze.core.plan.painting import coat_optics
from haze.service.painter import Painter
from haze.service.spray_io import Strict

Array = NDArray[np.float64]
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


def take_sample(body: SampleBody, painter: Painter) -> SampleOut:
    """The stack of films at one point."""
    plan, piece = body.plan, painter.piece
    here = piece.mesh.from_file(np.array([body.at], dtype=np.float64))[0]
    away = np.linalg.norm(piece.mesh.vertices - here, axis=1)
    away[~piece.counted] = np.inf
    at = int(np.argmin(away))
    below = painter.ground(plan)
    first = _rgb(below, at)
    layers: list[SampleLayer] = []
    total = 0.0
    for step, (film, skin) in zip(plan.coats, painter.layers(plan, len(plan.coats)), strict=True):
        um = float(film[at])
        total += um
        if step.kind == "hand" and step.paint is None:
            continue  # a rest or a mask leaves nothing to look at
        rgb = _rgb(skin, at)
        layers.append(
            SampleLayer(
                step=step.id,
                name=step.name,
                film_um=um,
                share=um / max(float(np.percentile(film, FULLEST)), 0.05),
                colour=to_hex(into_gamut(np.clip(rgb, 0, 1))[0]),
                wet=_wet(step, below, at, um),
                lightness=_lightness(rgb),
            )
        )
        below = skin
    parts = piece.parts_in(plan)
    return SampleOut(
        at=piece.mesh.to_file(piece.mesh.vertices[at]).tolist(),
        part=parts[int(piece.part[at])].name,
        bare=to_hex(np.clip(first, 0, 1)),
        bare_lightness=_lightness(first),
        total_um=total,
        light=float(painter.studio.light_value(plan)[at]),
        reachable=bool(painter.studio.reachable(plan.piece.blocked)[at]),
        layers=layers,
    )


def _rgb(skin: Skin, at: int) -> Array:
    return seen(skin.at(np.array([at])))[:, 0].astype(np.float64)


def _lightness(rgb: Array) -> float:
    return float(lightness_of(LUMINANCE @ np.clip(rgb, 0, 1)))


def _wet(step: Coat | HandStep, below: Skin, at: int, film_um: float) -> str | None:
    if step.paint is None or step.off or film_um <= 0:
        return None
    rgb = wet_rgb(coat_optics(step), ground=below.inside[:, at].astype(np.float64), film_um=film_um)
    return to_hex(into_gamut(np.clip(rgb, 0, 1))[0])
