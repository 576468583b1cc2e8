"""What the screens show of a plan: for every coat its film, setting, cup, waits and cautions."""

from __future__ import annotations

from dataclasses import asdict
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import outside_film
from haze.core.film.kubelka_munk import film as film_over
from haze.core.film.spectra import rgb_of, to_hex
from haze.core.film.stack import lightness_of_rgb, linear_rgb
from haze.core.light.reach import bare, share
from haze.core.light.stations import Station, deposit
from haze.core.plan.amounts import CoatAmounts, coat_amounts
from haze.core.plan.cautions import Caution, coat_cautions, plan_cautions
from haze.core.plan.document import Coat, Plan
from haze.core.plan.holding import holding_words
from haze.core.plan.painting import coat_setting, optics_of
from haze.core.plan.runsheet import Kind, run_sheet, total_seconds
from haze.core.plan.waits import Waits, coat_waits
from haze.core.spray.recipe import margins, task_of
from haze.core.units import psi_to_bar
from haze.service.painter import Painter, square_on_um
from haze.service.spray_io import AssessOut, assessment

Floats = NDArray[np.float32]

TRANSPARENT_ABOVE = 3.0  # ΔE00 between the two halves of a layer
DARK_SHARE, LIGHT_SHARE = 5.0, 95.0
LIT_ABOVE, DARK_BELOW = 0.5, 0.15  # light value that counts as lit, and as dark


class StationView(BaseModel):
    id: str
    holding: str


class LayerView(BaseModel):
    """One layer of the film column."""

    dry_um: float
    over_dark: str
    over_light: str
    transparent: bool
    covered_share: float
    bare_cm2: float


class PouredView(BaseModel):
    what: str
    role: Literal["thinner", "paint", "flow_aid"]
    drops: int
    ml: float
    colour: str | None


class CupView(BaseModel):
    poured: list[PouredView]
    loads: int
    spray_ml: float
    mix_ml: float


class WaitsView(BaseModel):
    touch_dry_still_s: float
    touch_dry_blown_s: float
    recoat_s: float


class CautionView(BaseModel):
    id: str
    sign: Literal["stop", "mind"]
    text: str


class CoatWorkings(BaseModel):
    id: str
    layer: LayerView
    spray: AssessOut
    margins: dict[str, tuple[float, float]]
    pressure_bar: float
    passes: int
    strokes_s: float
    cup: CupView
    waits: WaitsView
    cautions: list[CautionView]
    stations: list[StationView]


class StepView(BaseModel):
    """One step of the day; `beside` passes while the hands are free."""

    coat: str
    kind: Kind
    text: str
    start_s: float
    seconds: float
    beside: bool
    station: str | None
    passes: int | None


class LightShares(BaseModel):
    lit: float
    half: float
    dark: float


class PlanWorkings(BaseModel):
    """Everything computed for a plan; angles and films as models.md part 0 means them."""

    piece: str
    area_cm2: float
    vertices: int
    reachable_share: float
    coats: list[CoatWorkings]
    cautions: list[CautionView]
    to_mind: int
    total_s: float
    steps: list[StepView]
    light: LightShares


def _cautions(found: list[Caution]) -> list[CautionView]:
    return [CautionView(id=c.id, sign=c.sign, text=c.text) for c in found]


def _ends(below: Floats, finish: str, counted: NDArray[np.bool_]) -> tuple[int, int]:
    """A vertex at the dark end and one at the light end of the surface below a coat."""
    lightness = lightness_of_rgb(linear_rgb(below, finish))
    seen = np.nonzero(counted)[0]
    order = seen[np.argsort(lightness[seen], kind="stable")]
    last = len(order) - 1
    return (
        int(order[round(last * DARK_SHARE / 100)]),
        int(order[round(last * LIGHT_SHARE / 100)]),
    )


def _layer(
    coat: Coat,
    painter: Painter,
    *,
    below: Floats,
    finish_below: str,
    film: Floats,
    total: Floats,
    square_um: float,
    mm_per_unit: float,
) -> LayerView:
    piece = painter.piece
    optics = optics_of(coat.paint)
    rgb = []
    for vertex in _ends(below, finish_below, piece.counted):
        inside = film_over(
            optics.absorb_per_um,
            optics.scatter_per_um,
            below[:, vertex].astype(np.float64),
            square_um,
        )
        rgb.append(rgb_of(outside_film(inside, optics.finish)))
    clipped = np.clip(np.stack(rgb), 0, 1)
    apart = float(ciede2000(lab_of(clipped[0]), lab_of(clipped[1])))
    area = piece.mesh.vertex_area
    bare_area = float(area[bare(total) & piece.counted].sum()) * mm_per_unit**2 / 100
    return LayerView(
        dry_um=square_um,
        over_dark=to_hex(rgb[0]),
        over_light=to_hex(rgb[1]),
        transparent=apart > TRANSPARENT_ABOVE,
        covered_share=share(film >= 0.5 * square_um, area=area, counted=piece.counted),
        bare_cm2=bare_area,
    )


def workings(plan: Plan, painter: Painter) -> PlanWorkings:
    """Work out a plan on its piece."""
    piece = painter.piece
    scale = piece.mesh.mm_per_unit(plan.piece.height_mm)
    vertices_mm = piece.mesh.vertices * np.float32(scale)
    layers = painter.layers(plan, len(plan.coats))
    below, finish_below = painter.ground(plan), "matt"
    total = np.zeros(len(vertices_mm), dtype=np.float32)
    coats: list[CoatWorkings] = []
    needs = [
        coat_amounts(
            coat,
            outcome=painter.outcome(plan, coat),
            vertices_mm=vertices_mm,
            copies=plan.piece.copies,
            cup_ml=plan.airbrush.cup_ml,
        )
        for coat in plan.coats
    ]
    waits = [coat_waits(coat, painter.outcome(plan, coat)) for coat in plan.coats]
    steps = run_sheet(plan.coats, amounts=needs, waits=waits, copies=plan.piece.copies)
    for i, (coat, (film, after)) in enumerate(zip(plan.coats, layers, strict=True)):
        total = total + film
        coats.append(
            _coat(
                plan,
                coat,
                painter,
                amounts=needs[i],
                waits=waits[i],
                layer=_layer(
                    coat,
                    painter,
                    below=below,
                    finish_below=finish_below,
                    film=film,
                    total=total,
                    square_um=square_on_um(coat, painter.outcome(plan, coat)),
                    mm_per_unit=scale,
                ),
            )
        )
        below, finish_below = after, coat.paint.finish
    return PlanWorkings(
        piece=piece.key,
        area_cm2=piece.mesh.area_cm2(plan.piece.height_mm),
        vertices=len(vertices_mm),
        reachable_share=piece.reachable_share,
        coats=coats,
        cautions=_cautions(plan_cautions(plan)),
        to_mind=sum(c.spray.verdict != "clean" for c in coats),
        total_s=total_seconds(steps),
        steps=[StepView(**asdict(step)) for step in steps],
        light=_light_shares(plan, painter),
    )


def _coat(
    plan: Plan,
    coat: Coat,
    painter: Painter,
    *,
    amounts: CoatAmounts,
    waits: Waits,
    layer: LayerView,
) -> CoatWorkings:
    outcome = painter.outcome(plan, coat)
    setting = coat_setting(coat, airbrush=plan.airbrush, room=plan.room)
    return CoatWorkings(
        id=coat.id,
        layer=layer,
        spray=assessment(setting, outcome),
        margins=margins(setting, task_of(coat.task)),
        pressure_bar=psi_to_bar(coat.spray.pressure_psi),
        passes=sum(s.passes for s in coat.stations),
        strokes_s=amounts.strokes_s,
        cup=CupView(
            poured=[
                PouredView(
                    what=p.what,
                    role=p.role,
                    drops=p.drops,
                    ml=p.ml,
                    colour=p.colour,
                )
                for p in amounts.cup
            ],
            loads=amounts.cup_loads,
            spray_ml=amounts.spray_ml,
            mix_ml=amounts.mix_ml,
        ),
        waits=WaitsView(
            touch_dry_still_s=waits.touch_dry_still_s,
            touch_dry_blown_s=waits.touch_dry_blown_s,
            recoat_s=waits.recoat_s,
        ),
        cautions=_cautions(coat_cautions(coat)),
        stations=[
            StationView(id=s.id, holding=holding_words(s.azimuth_deg, s.elevation_deg))
            for s in coat.stations
        ],
    )


def _light_shares(plan: Plan, painter: Painter) -> LightShares:
    """Area shares of the show side that the key light finds lit, half lit and dark."""
    piece, light = painter.piece, plan.light
    # light reaches a point as spray from the same direction would
    value = deposit(
        piece.table,
        Station(light.azimuth_deg, light.elevation_deg, light.softness_deg, 1.0),
    )
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    area = piece.mesh.vertex_area
    lit = share(value >= LIT_ABOVE, area=area, counted=show)
    dark = share(value < DARK_BELOW, area=area, counted=show)
    return LightShares(lit=lit, half=max(0.0, 1 - lit - dark), dark=dark)
