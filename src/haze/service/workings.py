"""What the screens show of a plan: for every coat its film, setting, cup, waits and cautions."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.skin import Skin, coated, seen
from haze.core.film.spectra import to_hex
from haze.core.film.stack import lightness_of_rgb
from haze.core.light.fields import panel_fit
from haze.core.light.reach import bare, share
from haze.core.plan.amounts import CoatAmounts, coat_amounts, pour
from haze.core.plan.cautions import Caution, coat_cautions, plan_cautions, step_cautions
from haze.core.plan.document import Coat, HandStep, Part, Plan, StationAt
from haze.core.plan.holding import aim_words, holding_words
from haze.core.plan.painting import coat_optics, coat_setting
from haze.core.plan.parts import uneven
from haze.core.plan.roles import recipe_task
from haze.core.plan.runsheet import Kind, Sprayed, hand_words, run_sheet, total_seconds
from haze.core.plan.waits import coat_waits, hand_wait_s
from haze.core.plan.wanted import OFF_BY
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.recipe import margins, task_of
from haze.core.units import psi_to_bar
from haze.service.lighting import LightStudy, light_study
from haze.service.painter import Painter
from haze.service.parts import PartView, part_views
from haze.service.spray_io import AssessOut, assessment
from haze.service.studio import is_free, sectors_of

Floats = NDArray[np.float32]

TRANSPARENT_ABOVE = 3.0  # ΔE00 between the two halves of a layer
DARK_SHARE, LIGHT_SHARE = 5.0, 95.0
AIMED_AT = 0.1  # of a full pass: from here a point counts as gone over by an aimed coat


class StationView(BaseModel):
    id: str
    holding: str
    blocked_by: str | None


class PartLayer(BaseModel):
    """What one coat does on one part; bare counts all coats so far."""

    part: str
    landed_share: float
    covered_share: float
    bare_cm2: float


class UnevenView(BaseModel):
    """A mirrored pair of parts of which one got much less."""

    less: str
    more: str
    words: str


class PanelFitView(BaseModel):
    """The spot of the airbrush against the panels it is meant for."""

    panels: int
    too_small: int
    narrowest_mm: float
    spot_mm: float
    half_fit_mm: float
    words: str


class LayerView(BaseModel):
    """One layer of the film column; it lands where it leaves at least 1 µm."""

    dry_um: float
    over_dark: str
    over_light: str
    transparent: bool
    landed_share: float
    covered_share: float
    bare_cm2: float
    parts: list[PartLayer]
    uneven: list[UnevenView]


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
    aim_words: str | None
    panels: PanelFitView | None


class HandWorkings(BaseModel):
    """A step by hand, worked out."""

    id: str
    layer: LayerView | None
    words: str
    wait_s: float
    cautions: list[CautionView]


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


class OffPlan(BaseModel):
    """Predicted against wanted lightness after the last coat [L*]."""

    dark_end: float
    light_end: float
    too_dark: float
    too_light: float


class PlanWorkings(BaseModel):
    """Everything computed for a plan; angles and films as models.md part 0 means them."""

    piece: str
    area_cm2: float
    vertices: int
    reachable_share: float
    frame: list[list[float]]  # 3 × 4: prepared = frame · (file x, y, z, 1)
    units_per_mm: float  # of the prepared frame
    parts: list[PartView]
    coats: list[CoatWorkings]
    hands: list[HandWorkings]
    cautions: list[CautionView]
    to_mind: int
    total_s: float
    steps: list[StepView]
    light: LightStudy
    off_plan: OffPlan


def _cautions(found: list[Caution]) -> list[CautionView]:
    return [CautionView(id=c.id, sign=c.sign, text=c.text) for c in found]


def _ends(below: Skin, sampled: NDArray[np.int64]) -> tuple[int, int]:
    """A vertex at the dark end and one at the light end of the surface below a step."""
    lightness = lightness_of_rgb(seen(below.at(sampled)))
    order = sampled[np.argsort(lightness, kind="stable")]
    last = len(order) - 1
    return (
        int(order[round(last * DARK_SHARE / 100)]),
        int(order[round(last * LIGHT_SHARE / 100)]),
    )


def _halves(step: Coat | HandStep, painter: Painter, below: Skin, square_um: float) -> Floats:
    """(2, 3) float32: the step's full film over the dark and the light end of what lies below."""
    spots = below.at(np.array(_ends(below, painter.studio.sampled)))
    laid = coated(spots, coat_optics(step), np.full(2, square_um, dtype=np.float32))
    return np.clip(seen(laid), 0, 1).T


def _layer(
    step: Coat | HandStep,
    painter: Painter,
    *,
    below: Skin,
    film: Floats,
    total: Floats,
    square_um: float,
    areas_cm2: Floats,
    parts: list[Part],
) -> LayerView:
    rgb = _halves(step, painter, below, square_um)
    dark, light = lab_of(rgb)
    told = [np.ones_like(film), ~bare(film), film >= 0.5 * square_um, bare(total)]
    sums = np.stack(told).astype(np.float32) @ areas_cm2.T
    landed, covered = sums[1:3] / np.maximum(sums[0], 1e-9)
    still_bare = sums[3]
    return LayerView(
        dry_um=square_um,
        over_dark=to_hex(rgb[0]),
        over_light=to_hex(rgb[1]),
        transparent=float(ciede2000(dark, light)) > TRANSPARENT_ABOVE,
        landed_share=float(landed[0]),
        covered_share=float(covered[0]),
        bare_cm2=float(still_bare[0]),
        parts=[
            PartLayer(
                part=part.id,
                landed_share=float(landed[i]),
                covered_share=float(covered[i]),
                bare_cm2=float(still_bare[i]),
            )
            for i, part in enumerate(parts, start=1)
        ],
        uneven=_uneven(step, painter, film, parts) if step.kind == "spray" else [],
    )


def _uneven(coat: Coat, painter: Painter, film: Floats, parts: list[Part]) -> list[UnevenView]:
    """Left and right compared; light from one side is meant to differ."""
    if coat.task == "light" and not coat.aim:
        return []
    piece = painter.piece
    area = np.where(piece.counted, piece.mesh.vertex_area, 0).astype(np.float32)
    found = uneven(film, area=area, part=piece.part, pairs=painter.studio.pairs)
    return [
        UnevenView(
            less=parts[u.less].id,
            more=parts[u.more].id,
            words=(
                f"Left and right differ: {parts[u.less].name} got {u.less_um:.1f} µm, "
                f"{parts[u.more].name} {u.more_um:.1f} µm. Repeat the coat on that side."
            ),
        )
        for u in found
    ]


def _panel_fit(plan: Plan, coat: Coat, painter: Painter) -> PanelFitView | None:
    if not coat.aim or coat.aim.field != "panels":
        return None
    fit = panel_fit(
        painter.studio.surface,
        mm_per_unit=painter.piece.mesh.mm_per_unit(plan.piece.height_mm),
        sigma_mm=float(footprint_sigma_mm(np.asarray(coat.spray.distance_mm))),
    )
    if not fit.panels:
        words = "The piece has no panels: no edges sharp enough to part them."
    elif fit.too_small:
        words = (
            f"{fit.too_small} of {fit.panels} panels are narrower than the spot of "
            f"{fit.spot_mm:.2g} mm; the narrowest by {fit.spot_mm - fit.narrowest_mm:.2g} mm. "
            f"At {coat.spray.distance_mm * fit.half_fit_mm / fit.spot_mm:.2g} mm half of them fit; "
            "as it is, borders are painted too."
        )
    else:
        words = f"The spot of {fit.spot_mm:.2g} mm fits all {fit.panels} panels."
    return PanelFitView(words=words, **asdict(fit))


def workings(plan: Plan, painter: Painter) -> PlanWorkings:
    """Work out a plan on its piece."""
    piece = painter.piece
    scale = piece.mesh.mm_per_unit(plan.piece.height_mm)
    vertices_mm = piece.mesh.vertices * np.float32(scale)
    groups_mm = [vertices_mm[members] for members in piece.spray_groups]
    parts = piece.parts_in(plan)
    needs = {
        coat.id: Sprayed(
            _amounts(plan, coat, painter, groups_mm=groups_mm, scale=scale),
            coat_waits(coat, painter.outcome(plan, coat)),
        )
        for coat in plan.sprayed
    }
    layers = _layers(plan, painter, mm_per_unit=scale, parts=parts)
    names = {part.id: part.name for part in parts}
    steps = run_sheet(plan, sprayed=needs, parts=names)
    coats = [_coat(plan, c, painter, need=needs[c.id], layer=layers[c.id]) for c in plan.sprayed]
    hands = [
        HandWorkings(
            id=step.id,
            layer=layers[step.id] if step.paint else None,
            words=hand_words(step, names.get(step.part or "")),
            wait_s=hand_wait_s(step),
            cautions=_cautions(step_cautions(step)),
        )
        for step in plan.coats
        if step.kind == "hand"
    ]
    return PlanWorkings(
        piece=piece.key,
        area_cm2=piece.mesh.area_cm2(plan.piece.height_mm),
        vertices=len(vertices_mm),
        reachable_share=share(
            painter.studio.reachable(plan.piece.blocked),
            area=piece.mesh.vertex_area,
            counted=piece.counted,
        ),
        frame=piece.mesh.frame.tolist(),
        units_per_mm=1.0 / scale,
        parts=part_views(plan, painter),
        coats=coats,
        hands=hands,
        cautions=_cautions(plan_cautions(plan)),
        to_mind=sum(
            w.spray.verdict != "clean" and not c.off
            for w, c in zip(coats, plan.sprayed, strict=True)
        ),
        total_s=total_seconds(steps),
        steps=[StepView(**asdict(step)) for step in steps],
        light=light_study(plan.lights, plan, painter),
        off_plan=_off_plan(plan, painter),
    )


def _layers(
    plan: Plan, painter: Painter, *, mm_per_unit: float, parts: list[Part]
) -> dict[str, LayerView]:
    """A layer of the film column for every step, by its id."""
    areas_cm2 = _areas_cm2(painter, len(parts), mm_per_unit)
    found: dict[str, LayerView] = {}
    below = painter.ground(plan)
    total = np.zeros(len(painter.piece.mesh.vertices), dtype=np.float32)
    for step, (film, after) in zip(plan.coats, painter.layers(plan, len(plan.coats)), strict=True):
        total = total + film
        found[step.id] = _layer(
            step,
            painter,
            below=below,
            film=film,
            total=total,
            square_um=painter.square_on_um(plan, step),
            areas_cm2=areas_cm2,
            parts=parts,
        )
        below = after
    return found


def _areas_cm2(painter: Painter, parts: int, mm_per_unit: float) -> Floats:
    """(1 + parts, n) float32 [cm²]: area of each vertex that counts, over all and part by part."""
    piece = painter.piece
    area = np.where(piece.counted, piece.mesh.vertex_area, 0) * np.float32(mm_per_unit**2 / 100)
    each = [area * (piece.part == i) for i in range(parts)]
    return np.stack([area, *each]).astype(np.float32)


def _aimed_mm2(plan: Plan, coat: Coat, painter: Painter, scale: float) -> float:
    if not coat.aim:
        return 0.0
    gone_over = painter.studio.aimed(plan, coat) >= AIMED_AT
    return float(painter.piece.mesh.vertex_area[gone_over].sum()) * scale**2


def _off_plan(plan: Plan, painter: Painter) -> OffPlan:
    off = painter.off_plan(plan, len(plan.coats))
    dark, light = painter.lightness_ends(plan)
    area, counted = painter.piece.mesh.vertex_area, painter.piece.counted
    return OffPlan(
        dark_end=dark,
        light_end=light,
        too_dark=share(off < -OFF_BY, area=area, counted=counted),
        too_light=share(off > OFF_BY, area=area, counted=counted),
    )


def _told(
    plan: Plan, coat: Coat, painter: Painter
) -> tuple[AssessOut, dict[str, tuple[float, float]]]:
    """What the spray model says of a coat, and how far each knob may move."""
    setting = coat_setting(coat, airbrush=plan.airbrush, room=plan.room)
    said = assessment(setting, painter.outcome(plan, coat))
    return said, margins(setting, task_of(recipe_task(coat.task)))


def _amounts(
    plan: Plan, coat: Coat, painter: Painter, *, groups_mm: list[Floats], scale: float
) -> CoatAmounts:
    """What a coat needs; remembered, because colours only tell what stands in the cup."""
    colourless = {"masstone", "name", "opacity", "finish", "swatches", "fluorescent", "strength"}
    key = "|".join(
        (
            painter.outcome_key(plan, coat),
            coat.model_dump_json(
                exclude={
                    "name": True,
                    "note": True,
                    "off": True,
                    "paint": colourless,
                    "also": {"__all__": {"paint": colourless}},
                }
            ),
            f"{plan.piece.copies} {plan.airbrush.cup_ml} {scale}",
            painter.studio.aim_key(plan, coat) if coat.aim else "",
        )
    )
    found = painter.remembered(
        f"amounts {key}",
        lambda: coat_amounts(
            coat,
            outcome=painter.outcome(plan, coat),
            groups_mm=groups_mm,
            aimed_mm2=_aimed_mm2(plan, coat, painter, scale),
            copies=plan.piece.copies,
            cup_ml=plan.airbrush.cup_ml,
        ),
    )
    return replace(found, cup=pour(coat, mix_ml=found.mix_ml / found.cup_loads))


def _coat(
    plan: Plan,
    coat: Coat,
    painter: Painter,
    *,
    need: Sprayed,
    layer: LayerView,
) -> CoatWorkings:
    amounts, waits = need.amounts, need.waits
    spray, knobs = painter.remembered(
        f"told {painter.outcome_key(plan, coat)} {coat.task}", lambda: _told(plan, coat, painter)
    )
    return CoatWorkings(
        id=coat.id,
        layer=layer,
        spray=spray,
        margins=knobs,
        pressure_bar=psi_to_bar(coat.spray.pressure_psi),
        passes=coat.passes,
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
            StationView(
                id=s.id,
                holding=holding_words(s.azimuth_deg, s.elevation_deg),
                blocked_by=_blocked_by(plan, s),
            )
            for s in coat.stations
        ],
        aim_words=aim_words(coat.aim) if coat.aim else None,
        panels=_panel_fit(plan, coat, painter),
    )


def _blocked_by(plan: Plan, station: StationAt) -> str | None:
    for sector in plan.piece.blocked:
        if not is_free(station.azimuth_deg, station.elevation_deg, sectors_of([sector])):
            return sector.name
    return None
