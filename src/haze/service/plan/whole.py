"""Everything that is worked out for a plan and shown on its screens."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.day.runsheet import Step, hand_words
from haze.core.day.waits import hand_wait_s
from haze.core.film.skin import seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.reach import share
from haze.core.onpiece.wanted import OFF_BY, nearness, off_reasons, within_words
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import ground_under
from haze.core.rules.cautions import Caution, plan_cautions, step_cautions
from haze.service.colour.mixes import MOST_LATER
from haze.service.cups.cups import CoatWorkings, coat_workings, needs_of
from haze.service.forms.wire import MOST_LATER_UM, FilmLater
from haze.service.light.lights import LightStudy, light_study
from haze.service.piece.asked import OffColour, off_colour_of
from haze.service.piece.layers import LayerView, layers_of
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.parts import PartView, part_views
from haze.service.plan.run_sheet import (
    TotalsView,
    run_steps,
    totals_of,
    totals_view,
)


class HandWorkings(BaseModel):
    """A step by hand, worked out."""

    id: str
    layer: LayerView | None
    words: str
    wait_s: float
    cautions: list[Caution]


class PlaceView(BaseModel):
    """A place between two steps: what lies under it, and the films that come over it later."""

    ground: str
    later: list[FilmLater]


class OffPlan(BaseModel):
    """How the plan ends against its light [L*], where light coats decide.

    `dark_end` and `light_end` are the ends the wish runs between; shares are of what counts, those
    of `too_dark` and `too_light` of all of it, by more than 8 L*. `reasons` says what costs most.
    """

    coats: list[str]  # ids of the light coats
    dark_end: float
    light_end: float
    mean: float
    show_share: float
    share: float
    too_dark: float
    too_light: float
    words: str
    reasons: list[str]


class PlanWorkings(BaseModel):
    """Everything computed for a plan; angles and films as models.md part 0 means them.

    `places` are those below the first step, between steps, and above the last.
    """

    piece: str
    area_cm2: float
    vertices: int
    reachable_share: float
    frame: list[list[float]]  # 3 × 4: prepared = frame · (file x, y, z, 1)
    units_per_mm: float  # of the prepared frame
    parts: list[PartView]
    coats: list[CoatWorkings]
    hands: list[HandWorkings]
    places: list[PlaceView]
    cautions: list[Caution]
    to_mind: int
    totals: TotalsView
    steps: list[Step]
    light: LightStudy
    off_plan: OffPlan | None  # null without a light coat
    off_colour: OffColour | None  # null where no scheme was asked for


def worked_out(plan: Plan, on: OnPiece) -> PlanWorkings:
    """Work out a plan on its piece."""
    piece = on.piece
    layers = layers_of(plan, on)
    needs = needs_of(plan, on)
    coats = [
        coat_workings(plan, coat, on, need=needs[coat.id], layer=layers[coat.id])
        for coat in plan.sprayed
    ]
    steps = run_steps(plan, on, needs)
    return PlanWorkings(
        piece=piece.key,
        area_cm2=piece.mesh.area_cm2(plan.piece.height_mm),
        vertices=piece.size,
        reachable_share=share(
            on.reach.reachable(plan.piece.cones),
            area=piece.mesh.vertex_area,
            counted=piece.counted,
        ),
        frame=piece.mesh.frame.tolist(),
        units_per_mm=1.0 / piece.mesh.mm_per_unit(plan.piece.height_mm),
        parts=part_views(plan, on),
        coats=coats,
        hands=[_by_hand(plan, s, on, layers) for s in plan.coats if s.kind == "hand"],
        places=_places(plan, on),
        cautions=list(plan_cautions(plan)),
        to_mind=sum(
            w.spray.verdict != "clean" and not c.off
            for w, c in zip(coats, plan.sprayed, strict=True)
        ),
        totals=totals_view(totals_of(steps, needs)),
        steps=steps,
        light=light_study(plan.lights, plan, on),
        off_plan=_off_plan(plan, on),
        off_colour=off_colour_of(on, plan),
    )


def _by_hand(plan: Plan, step: HandStep, on: OnPiece, layers: dict[str, LayerView]) -> HandWorkings:
    names = {part.id: part.name for part in on.piece.parts_in(plan)}
    return HandWorkings(
        id=step.id,
        layer=layers[step.id] if step.paint else None,
        words=hand_words(step, names.get(step.about_part or "")),
        wait_s=hand_wait_s(step),
        cautions=list(step_cautions(step)),
    )


def _places(plan: Plan, on: OnPiece) -> list[PlaceView]:
    films = [
        (i, _later(plan, step, on))
        for i, step in enumerate(plan.coats)
        if step.paint and step.seen_through and not step.off
    ]
    return [
        PlaceView(
            ground=ground_under(plan, place),
            later=[film for i, film in films if i >= place][:MOST_LATER],
        )
        for place in range(len(plan.coats) + 1)
    ]


def _later(plan: Plan, step: Coat | HandStep, on: OnPiece) -> FilmLater:
    assert step.paint is not None
    return FilmLater(
        masstone=step.paint.masstone,
        opacity=step.paint.opacity,
        finish=step.paint.finish,
        dry_film_um=min(on.square_on_um(plan, step), MOST_LATER_UM),
    )


def _off_plan(plan: Plan, on: OnPiece) -> OffPlan | None:
    light = plan.light_coats()
    if not light:
        return None
    wish = on.wish(plan, sampled=True)
    weight = on.place_weights(plan)[on.sampled]
    skins = on.sampled_skins(plan, len(plan.coats))
    ended = lightness_of_rgb(seen(skins[-1]))
    off = ended - wish.lightness
    near = nearness(off, weight=weight, area=np.ones_like(off))
    counted = weight > 0
    without = [
        (step.name, lightness_of_rgb(seen(on.sampled_without(plan, skins, i))) - ended)
        for i, step in enumerate(plan.coats)
        if i > light[0] and i not in light and not step.off and step.mix is not None
    ]
    reasons = off_reasons(off, weight=weight, without=without)
    return OffPlan(
        coats=[plan.coats[i].id for i in light],
        dark_end=float(np.quantile(wish.dark[counted], 0.05)) if counted.any() else 0.0,
        light_end=float(np.quantile(wish.light[counted], 0.95)) if counted.any() else 0.0,
        mean=near.mean,
        show_share=near.show_share,
        share=near.share,
        too_dark=float((off[counted] < -OFF_BY).mean()) if counted.any() else 0.0,
        too_light=float((off[counted] > OFF_BY).mean()) if counted.any() else 0.0,
        words=within_words(near),
        reasons=[r for r in reasons if r],
    )
