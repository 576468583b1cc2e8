"""Where aimed steps go, as values; parts by number; what masks cover."""

from __future__ import annotations

from dataclasses import fields, replace

import pytest

from haze.core.directions import Cone
from haze.core.errors import NotInPlanError
from haze.core.onpiece.aiming import AimedAt, AimedDeposit, GlowAt, lying_masks, part_number
from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.lights import GlowLight
from haze.core.plan.piece import Part
from helpers import coat, plan

PARTS = [Part(id=i, name=i.title(), bodies=[n]) for n, i in enumerate(("hull", "arm", "base"))]
GLOW = GlowLight(id="pool", at=(1, 2, 3), reach_mm=9, strength=0.5, colour="#112233")


def lying(*steps: dict[str, object]) -> list[tuple[str, int | None]]:
    """Kinds and parts of the masks that lie after some mask steps with a coat among them."""
    done = [
        HandStep.model_validate({"id": f"m{n}", "name": "Mask", "role": "mask_on"} | step)
        for n, step in enumerate(steps)
    ]
    of = plan(coat()).model_copy(update={"coats": [*done[:1], coat(), *done[1:]]})
    return [(m.kind, m.part) for m in lying_masks(of, len(of.coats), PARTS)]


def test_a_part_is_numbered_or_refused_with_those_there_are() -> None:
    assert [part_number(PARTS, p.id) for p in PARTS] == [0, 1, 2]
    with pytest.raises(NotInPlanError, match="no part 'hat'; its parts are Hull, Arm, Base"):
        part_number(PARTS, "hat")


ARM, BASE = {"part": "arm"}, {"part": "base"}
OFF = {"role": "mask_off"}


def test_masks_cover_until_they_are_taken_off() -> None:
    assert lying(ARM) == [("tape", 1)]
    assert lying(ARM, BASE | {"mask": "putty"}) == [("tape", 1), ("putty", 2)]
    assert lying(ARM, BASE, ARM | OFF) == [("tape", 2)]
    assert lying(ARM, BASE, OFF) == []
    assert lying(ARM | OFF, ARM) == [("tape", 1)]
    assert lying(ARM, ARM | {"mask": "liquid"}) == [("liquid", 1)], "one lies on the other"
    assert lying(ARM | {"off": True}) == []


def test_a_mask_over_a_zone_is_taken_off_by_the_same_zone() -> None:
    hull = {"aim": {"field": "part", "part": "hull"}}
    beside = {"aim": {"field": "part", "part": "hull", "reversed": True}}
    assert lying(hull, beside) == [("tape", None)] * 2
    assert lying(hull, beside, hull | OFF) == [("tape", None)]
    assert lying(hull, beside, ARM | OFF) == [("tape", None)] * 2
    of = plan(coat()).model_copy(
        update={
            "coats": [HandStep.model_validate({"id": "m", "name": "M", "role": "mask_on"} | hull)]
        }
    )
    assert lying_masks(of, 0, PARTS) == ()
    (mask,) = lying_masks(of, 1, PARTS)
    assert mask.zone is not None
    assert mask.zone.part == 0
    assert mask.height_mm == of.piece.height_mm


def test_a_glow_depends_on_where_it_sits_and_not_on_how_bright_it_is() -> None:
    at = GlowAt.of(GLOW, height_mm=32)
    assert at.to == GLOW.at, "a ball of light has no other end"
    for change in ({"strength": 3.0}, {"colour": "#ffffff"}, {"name": "Other"}):
        assert GlowAt.of(GLOW.model_copy(update=change), height_mm=32) == at
    for moved in (
        {"shape": "pool"},
        {"at": (1, 2, 4)},
        {"to": (9, 9, 9)},
        {"radius_mm": 3.0},
        {"reach_mm": 8.0},
        {"clear_mm": 1.0},
    ):
        assert GlowAt.of(GLOW.model_copy(update=moved), height_mm=32) != at
    assert GlowAt.of(GLOW, height_mm=33) != at


def test_an_aim_takes_from_the_plan_what_it_depends_on() -> None:
    p = plan(coat()).model_copy(update={"lights": [GLOW]})
    round_pool = AimedAt.of(Aim(field="glow", light="pool", passes=3), p, PARTS)
    assert round_pool.glow == GlowAt.of(GLOW, height_mm=32)
    assert round_pool == AimedAt.of(Aim(field="glow", light="pool", passes=9), p, PARTS)
    part = AimedAt.of(Aim(field="part", part="base", margin_mm=1), p, PARTS)
    assert (part.part, part.glow) == (2, None)
    ramp = Aim(field="ramp", start=(0, 0, 0), end=(0, 0, 5), reversed=True)
    at = AimedAt.of(ramp, p, PARTS)
    assert (at.start, at.end, at.reversed) == ((0, 0, 0), (0, 0, 5), True)
    taller = p.model_copy(update={"piece": p.piece.model_copy(update={"height_mm": 64.0})})
    assert AimedAt.of(ramp, taller, PARTS) != at
    assert {f.name for f in fields(AimedAt)} == {
        *("field", "reversed", "start", "end", "glow", "part", "margin_mm", "height_mm")
    }


def test_what_lands_depends_on_distance_and_blocked_sky_too() -> None:
    p = plan(coat())
    here = AimedDeposit(AimedAt.of(Aim(field="edges"), p, PARTS), 60.0, ())
    assert here == replace(here)
    assert len({here, replace(here, distance_mm=61.0), replace(here, cones=(Cone(0, 0, 9),))}) == 3
