"""Findings of the order rules on a plan's piece, and their fixes."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.errors import UnknownNameError
from haze.core.film.skin import seen
from haze.core.onpiece.aiming import AimedAt, GlowAt
from haze.core.onpiece.facts import Facts
from haze.core.plan.base import Identity
from haze.core.plan.document import Plan
from haze.core.rules.findings import BY_ID, findings
from haze.core.rules.materials import thinner_spoils
from haze.core.rules.rule import Finding
from haze.service.forms.wire import Strict
from haze.service.piece.onpiece import OnPiece
from haze.service.shelf.shelf import Shelf

MEANT_AT = 0.02  # of a zone: below that an aimed coat is not meant to land


class FindingList(BaseModel):
    findings: list[Finding]


class FixBody(Strict):
    plan: Plan
    rule: Annotated[str, Field(max_length=40)]
    step: Identity


def facts_of(plan: Plan, on: OnPiece) -> Facts:
    """What a plan does at samples of equal area."""
    at, count = on.sampled, len(plan.coats)
    parts = on.piece.parts_in(plan)
    skins = on.sampled_skins(plan, count)
    films = [on.step_film(plan, i)[at] for i in range(count)]
    without = [seen(on.sampled_without(plan, skins, i)).T for i in range(count)]
    sprayed = {c.id: on.outcome(plan, c) for c in plan.sprayed}
    return Facts(
        normals=on.piece.mesh.normals[at],
        reachable=on.reach.reachable(plan.piece.cones)[at],
        light=on.lit.value(plan)[at],
        film_um=np.stack(films) if films else np.zeros((0, len(at)), dtype=np.float32),
        full_um=np.array([on.square_on_um(plan, s) for s in plan.coats]),
        rgb=np.stack([seen(skin).T for skin in skins]),
        without=np.stack(without) if without else np.zeros((0, len(at), 3), np.float32),
        no_flow=np.array(
            [float(sprayed[s.id].no_flow) if s.id in sprayed else 0.0 for s in plan.coats]
        ),
        glow={
            light.id: on.lit.glow(GlowAt.of(light, height_mm=plan.piece.height_mm))[at]
            for light in plan.glows
        },
        meant={
            c.id: on.fields.zone(AimedAt.of(c.aim, plan, parts))[at] > MEANT_AT
            for c in plan.sprayed
            if c.aim
        },
        parts={part.id: on.piece.part[at] == n for n, part in enumerate(parts)},
    )


def _views(found: list[Finding]) -> FindingList:
    return FindingList(findings=found)


def look_over(plan: Plan, on: OnPiece) -> FindingList:
    """All findings; what cannot be worked out at all stands alone."""
    spoiled = list(thinner_spoils(plan))
    if spoiled:
        return _views(spoiled)
    return _views(findings(plan, facts_of(plan, on)))


def fixed(body: FixBody, shelf: Shelf) -> Plan:
    """The plan with one finding mended."""
    rule = BY_ID.get(body.rule)
    if rule is None:
        raise UnknownNameError(
            f"There is no rule {body.rule!r}; accepted are {', '.join(BY_ID)}.", field="rule"
        )
    return rule.fix(body.plan, body.step, shelf.stock)
