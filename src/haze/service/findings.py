"""Findings of the order rules on a plan's piece, and their fixes."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, Field

from haze.core.errors import HazeError, UnknownNameError
from haze.core.film.skin import Skin, coated, seen
from haze.core.plan.document import Identity, Plan
from haze.core.plan.facts import Facts, Stock
from haze.core.plan.order_rules import BY_ID, Finding, findings, thinner_spoils
from haze.core.plan.painting import coat_optics
from haze.service.painter import Painter, sampled_skins
from haze.service.shelf import Shelf
from haze.service.spray_io import Strict

Floats = NDArray[np.float32]


class FindingView(BaseModel):
    """A finding as the screens show it."""

    rule: str
    step: str
    sign: str
    what: str
    fix: str | None


class FindingList(BaseModel):
    findings: list[FindingView]


class FixBody(Strict):
    plan: Plan
    rule: Annotated[str, Field(max_length=40)]
    step: Identity


def stock_of(shelf: Shelf) -> Stock:
    """What fixes may take from the shelf."""
    return Stock(tuple(shelf.paints), tuple(shelf.thinners), tuple(shelf.airbrushes))


def facts_of(plan: Plan, painter: Painter) -> Facts:
    """What a plan does at the studio's samples."""
    studio, at = painter.studio, painter.studio.sampled
    skins = sampled_skins(plan, len(plan.coats), painter)
    films = [painter.step_film(plan, i)[at] for i in range(len(plan.coats))]
    sprayed = {c.id: painter.outcome(plan, c) for c in plan.sprayed}
    n = len(at)

    return Facts(
        normals=painter.piece.mesh.normals[at],
        reachable=studio.reachable(plan.piece.blocked)[at],
        light=studio.light_value(plan)[at],
        film_um=np.stack(films) if films else np.zeros((0, n), dtype=np.float32),
        full_um=np.array([painter.square_on_um(plan, s) for s in plan.coats]),
        rgb=np.stack([seen(skin).T for skin in skins]),
        without=_without(plan, painter, skins, films),
        no_flow=np.array(
            [float(sprayed[s.id].no_flow) if s.id in sprayed else 0.0 for s in plan.coats]
        ),
        glow={
            light.id: studio.glow_of(light, plan.piece.height_mm)[at]
            for light in plan.lights
            if light.kind == "glow"
        },
    )


def _without(plan: Plan, painter: Painter, skins: list[Skin], films: list[Floats]) -> Floats:
    """(k, s, 3): what is seen at the end when each step is left out."""
    out = []
    for left in range(len(plan.coats)):
        skin = skins[left]
        for i in range(left + 1, len(plan.coats)):
            step = plan.coats[i]
            if step.off or step.paint is None:
                continue
            droplet = painter.splat_um(plan, step)
            skin = coated(skin, coat_optics(step), films[i], droplet_um=droplet)
        out.append(seen(skin).T)
    return np.stack(out) if out else np.zeros((0, len(painter.studio.sampled), 3), np.float32)


def _views(found: list[Finding]) -> FindingList:
    return FindingList(findings=[FindingView(**asdict(f)) for f in found])


def look_over(plan: Plan, painter: Painter) -> FindingList:
    """All findings; what cannot be worked out at all is told alone."""
    spoiled = list(thinner_spoils(plan))
    if spoiled:
        return _views(spoiled)
    return _views(findings(plan, facts_of(plan, painter)))


def fixed(body: FixBody, shelf: Shelf) -> Plan:
    """The plan with one finding mended."""
    rule = BY_ID.get(body.rule)
    if rule is None:
        raise UnknownNameError(
            f"There is no rule {body.rule!r}; accepted are {', '.join(BY_ID)}.", field="rule"
        )
    if rule.fix is None:
        raise HazeError("This finding has no change that mends it by itself.", field="rule")
    return rule.fix(body.plan, body.step, stock_of(shelf))
