"""What each school would set for a coat of a plan, and what that gains and costs."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel

from haze.core.day.hands import coat_hands_s
from haze.core.drafting.recipes import spray_of
from haze.core.plan.base import Identity
from haze.core.plan.coat import Coat, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, with_rounds
from haze.core.plan.roles import recipe_task
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.calibrate import believed
from haze.core.spray.model import spray
from haze.core.spray.recipe import NoRecipe, find_recipe
from haze.core.spray.tasks import SCHOOLS
from haze.core.spray.unsure import clean_words
from haze.service.cups.cups import need_of
from haze.service.forms.wire import PlanBody
from haze.service.piece.onpiece import OnPiece


class SchoolsBody(PlanBody):
    """Which coat of a plan."""

    step: Identity


class SchoolSays(BaseModel):
    """What a school would set; `none` says why it cannot, and then all else is null."""

    school: str
    spray: SprayAt | None = None
    rounds: int | None = None
    hands_min: float | None = None
    film_um: float | None = None
    clean_share: float | None = None
    sure: str | None = None
    none: str | None = None


class SchoolsOut(BaseModel):
    """What the coat takes as it is set, and by each school, for the same film."""

    now: SchoolSays
    schools: list[SchoolSays]


def schools_of(body: SchoolsBody, on: OnPiece) -> SchoolsOut:
    """All schools beside the present setting of a coat."""
    _, coat = coat_at(body.plan, body.step)
    wanted = float(on.outcome(body.plan, coat).dry_film_um) * coat.most_passes
    now = _said_of("as it is set", body.plan, coat, on)
    found = [_school(name, body.plan, coat, on, wanted) for name in SCHOOLS]
    return SchoolsOut(now=now, schools=found)


def _school(name: str, plan: Plan, coat: Coat, on: OnPiece, wanted_um: float) -> SchoolSays:
    as_set = on.spraying(plan, coat)
    found = find_recipe(
        coat.paint.kind,
        needle_mm=plan.airbrush.needle_mm,
        task=recipe_task(coat.task),
        school=name,
        thinner=coat.thinner.kind,
        temperature_c=plan.room.temperature_c,
        humidity_pct=plan.room.humidity_pct,
        contrast=as_set.contrast,
        surface=as_set.surface,
    )
    if isinstance(found, NoRecipe):
        return SchoolSays(school=name, none=f"{found.reason} {found.change}")
    once = coat.model_copy(update={"spray": spray_of(found)}, deep=True)
    film = float(on.outcome(plan, once).dry_film_um)
    more = wanted_um / max(film, 1e-3) / coat.most_passes
    return _said_of(name, plan, with_rounds(once, more), on)


def _said_of(name: str, plan: Plan, coat: Coat, on: OnPiece) -> SchoolSays:
    changed = plan.model_copy(
        update={"coats": [coat if c.id == coat.id else c for c in plan.coats]}
    )
    spraying = on.spraying(changed, coat)
    _, draws = believed(spraying.belief)
    clean = float(np.mean(spray(spraying.setting, draws).worst < CLEAN_BELOW))
    need = need_of(changed, coat, on)
    return SchoolSays(
        school=name,
        spray=coat.spray,
        rounds=coat.most_passes,
        hands_min=coat_hands_s(coat, need.rounds, copies=plan.piece.copies) / 60,
        film_um=float(spraying.outcome().dry_film_um),
        clean_share=clean,
        sure=clean_words(clean),
    )
