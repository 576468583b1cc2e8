"""Cups: what each coat needs, how it is set and held, and how long it dries."""

from __future__ import annotations

from dataclasses import asdict

import numpy as np
from pydantic import BaseModel

from haze.core.day.alike import Alike, alike_of, alike_words
from haze.core.day.amounts import Role, coat_amounts, drops_words
from haze.core.day.cleaning import Level, cleaning
from haze.core.day.hands import (
    Round,
    Silhouette,
    coat_hands_s,
    coat_rounds,
    patches_of,
    strokes_seconds,
)
from haze.core.day.holding import aim_words, holding_words, rounds_words, side_words
from haze.core.day.runsheet import CoatNeeds, next_sprayed
from haze.core.day.waits import coat_waits
from haze.core.directions import is_free
from haze.core.light.fields import panel_fit
from haze.core.onpiece.aiming import AimedAt, AimedDeposit
from haze.core.onpiece.painting import Spraying
from haze.core.plan.coat import Coat, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.roles import TaskName, recipe_task
from haze.core.rules.cautions import Caution, coat_cautions
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.recipe import Margin, margins
from haze.core.spray.tasks import task_of
from haze.core.spray.unsure import in_turn, prior_of_paint
from haze.core.units import psi_to_bar
from haze.service.cups.overspray import OversprayView, overspray_of
from haze.service.cups.setting import AssessIn, AssessOut, asked_of, assessment
from haze.service.piece.layers import LayerView
from haze.service.piece.onpiece import OnPiece
from haze.service.work.memo import Memo

AIMED_AT = 0.1  # of a full pass: from here a point counts as gone over by an aimed coat
KEPT_SETTINGS = 200


class StationView(BaseModel):
    id: str
    side: str
    holding: str
    blocked_by: str | None


class PanelFitView(BaseModel):
    """The spot of the airbrush against the panels it is meant for."""

    panels: int
    too_small: int
    narrowest_mm: float
    spot_mm: float
    half_fit_mm: float
    words: str


class PouredView(BaseModel):
    what: str
    role: Role
    drops: int
    ml: float
    amount: str  # in drops as far as one counts them, then in ml
    colour: str | None
    id: str = ""


class CupView(BaseModel):
    poured: list[PouredView]
    loads: int
    spray_ml: float
    mix_ml: float


class WaitsView(BaseModel):
    touch_dry_still_s: float
    touch_dry_blown_s: float
    recoat_s: float


class CleaningView(BaseModel):
    """How the airbrush is cleaned after a coat, and why so."""

    level: Level
    seconds: float
    why: str
    words: str


class CoatWorkings(BaseModel):
    """A sprayed coat, worked out."""

    id: str
    layer: LayerView
    setting: AssessIn
    spray: AssessOut
    margins: dict[str, Margin]
    pressure_bar: float
    rounds: str
    rounds_alike: str
    hands_s: float
    cup: CupView
    waits: WaitsView
    cautions: list[Caution]
    cleaning: CleaningView
    stations: list[StationView]
    aim_words: str | None
    panels: PanelFitView | None
    overspray: OversprayView | None


Assessed = tuple[AssessOut, dict[str, Margin]]
# what a setting does does not depend on the piece
_settings: Memo[tuple[Spraying, TaskName], Assessed] = Memo(KEPT_SETTINGS)


_alike: Memo[tuple[Spraying, int], Alike] = Memo(KEPT_SETTINGS)


def needs_of(plan: Plan, on: OnPiece) -> dict[str, CoatNeeds]:
    """Amounts, waits and rounds of every sprayed coat, by its id."""
    return {coat.id: need_of(plan, coat, on) for coat in plan.sprayed}


def need_of(plan: Plan, coat: Coat, on: OnPiece) -> CoatNeeds:
    """Amounts, waits and rounds of a coat."""
    outcome = on.outcome(plan, coat)
    rounds = _rounds(plan, coat, on)
    amounts = coat_amounts(
        coat,
        outcome=outcome,
        strokes_s=strokes_seconds(coat, rounds),
        copies=plan.piece.copies,
        cup_ml=plan.airbrush.cup_ml,
    )
    paints = list(dict.fromkeys(c.paint.name for c in plan.sprayed))
    what = on.spraying(plan, coat), paints.index(coat.paint.name)
    return CoatNeeds(amounts, coat_waits(coat, outcome), rounds, _alike.of(what, _alike_airbrushes))


def _rounds(plan: Plan, coat: Coat, on: OnPiece) -> list[Round]:
    scale = on.piece.mesh.mm_per_unit(plan.piece.height_mm)
    seen = [
        [outline.scaled(scale) for outline in on.silhouettes(s.azimuth_deg, s.elevation_deg)]
        for s in coat.stations
    ]
    return coat_rounds(coat, silhouettes=seen, aimed=_aimed(plan, coat, on, scale))


def _aimed(plan: Plan, coat: Coat, on: OnPiece, scale: float) -> list[Silhouette]:
    if not coat.aim:
        return []
    at = AimedAt.of(coat.aim, plan, on.piece.parts_in(plan))
    landed = on.fields.aimed(AimedDeposit(at, coat.spray.distance_mm, plan.piece.cones))
    mesh, gone_over = on.piece.mesh, (landed >= AIMED_AT) & ~on.fields.elsewhere(at)
    return patches_of(
        mesh.normals[gone_over], mesh.vertex_area[gone_over].astype(np.float64) * scale**2
    )


def _alike_airbrushes(what: tuple[Spraying, int]) -> Alike:
    """A coat in airbrushes alike; the number is that of its paint among those of the plan."""
    spraying, paint = what
    return alike_of(
        spraying.setting,
        kind=spraying.paint,
        outcome=spraying.outcome(),
        latents=in_turn(spraying.belief.draws) if spraying.belief else prior_of_paint(paint),
    )


def _assessed(what: tuple[Spraying, TaskName]) -> Assessed:
    """What the spray model says of a coat, and how far each knob may move."""
    spraying, task = what
    said = assessment(spraying.setting, spraying.belief)
    return said, margins(spraying.setting, task_of(recipe_task(task)), spraying.latents)


def coat_workings(
    plan: Plan, coat: Coat, on: OnPiece, *, need: CoatNeeds, layer: LayerView
) -> CoatWorkings:
    """A sprayed coat, worked out."""
    amounts, waits = need.amounts, need.waits
    spraying = on.spraying(plan, coat)
    spray, knobs = _settings.of((spraying, coat.task), _assessed)
    return CoatWorkings(
        id=coat.id,
        layer=layer,
        setting=asked_of(spraying, drop_ul=coat.paint.drop_ul),
        spray=spray,
        margins=knobs,
        pressure_bar=psi_to_bar(coat.spray.pressure_psi),
        rounds=rounds_words(coat),
        rounds_alike=alike_words(coat.most_passes, need.alike),
        hands_s=coat_hands_s(coat, need.rounds, copies=plan.piece.copies),
        cup=CupView(
            poured=[PouredView(amount=drops_words(p), **asdict(p)) for p in amounts.cup],
            loads=amounts.cup_loads,
            spray_ml=amounts.spray_ml,
            mix_ml=amounts.mix_ml,
        ),
        waits=WaitsView(
            touch_dry_still_s=waits.touch_dry_still_s,
            touch_dry_blown_s=waits.touch_dry_blown_s,
            recoat_s=waits.recoat_s,
        ),
        cautions=list(coat_cautions(coat)),
        cleaning=CleaningView.model_validate(
            cleaning(coat, next_sprayed(plan, coat)), from_attributes=True
        ),
        stations=[
            StationView(
                id=s.id,
                side=side_words(s.azimuth_deg, s.elevation_deg),
                holding=holding_words(s.azimuth_deg, s.elevation_deg),
                blocked_by=_blocked_by(plan, s),
            )
            for s in coat.stations
        ],
        aim_words=aim_words(coat.aim) if coat.aim else None,
        panels=_panel_fit(plan, coat, on),
        overspray=overspray_of(plan, coat, on),
    )


def _blocked_by(plan: Plan, station: StationAt) -> str | None:
    for sector in plan.piece.blocked:
        if not is_free(station.azimuth_deg, station.elevation_deg, [sector.cone]):
            return sector.name
    return None


def _panel_fit(plan: Plan, coat: Coat, on: OnPiece) -> PanelFitView | None:
    if not coat.aim or coat.aim.field != "panels":
        return None
    fit = panel_fit(
        on.fields.surface,
        mm_per_unit=on.piece.mesh.mm_per_unit(plan.piece.height_mm),
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
