"""Overspray of a coat for one part: told with the part that suffers, gone under a mask."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.onpiece.aiming import AimedAt
from haze.core.plan.coat import HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import inserted
from haze.service.cups.overspray import OversprayView, overspray_of
from haze.service.piece.onpiece import OnPiece
from helpers import PART, for_part, with_spray

BUT = {"aim": PART.model_copy(update={"reversed": True})}


def masked(plan: Plan, kind: str, **region: object) -> Plan:
    mask = HandStep.model_validate(
        {"id": "mask", "name": "Mask", "role": "mask_on", "mask": kind} | (region or BUT)
    )
    return inserted(plan, len(plan.coats) - 1, mask)


def told(plan: Plan, on: OnPiece) -> OversprayView:
    last = plan.coats[-1]
    assert last.kind == "spray"
    found = overspray_of(plan, last, on)
    assert found is not None
    return found


def test_what_touches_the_part_is_masked(lantern: Plan, on_lantern: OnPiece) -> None:
    said = told(for_part(lantern), on_lantern)
    assert said.mask
    assert said.delta_e is not None
    assert said.delta_e > 1
    assert said.words.endswith("mask it.")
    assert f"{said.reach_mm:.0f} mm" in said.words


def test_nearer_it_shows_less_far(lantern: Plan, on_lantern: OnPiece) -> None:
    plan = for_part(lantern)
    last = len(plan.coats) - 1
    near, far = (told(with_spray(plan, last, distance_mm=d), on_lantern) for d in (30.0, 90.0))
    assert far.reach_mm > 2 * near.reach_mm


@pytest.mark.parametrize("kind", ["tape", "putty"])
def test_under_a_mask_nothing_turns(kind: str, lantern: Plan, on_lantern: OnPiece) -> None:
    said = told(masked(for_part(lantern), kind), on_lantern)
    assert not said.mask
    assert said.words.endswith("and masked.")


def test_other_coats_have_no_edge(lantern: Plan, on_lantern: OnPiece) -> None:
    first = lantern.coats[0]
    assert first.kind == "spray"
    assert overspray_of(lantern, first, on_lantern) is None
    back = for_part(lantern, reversed=True)
    last = back.coats[-1]
    assert last.kind == "spray"
    assert overspray_of(back, last, on_lantern) is None


def test_a_soft_mask_lets_more_under_than_a_hard_one(lantern: Plan, on_lantern: OnPiece) -> None:
    plan, on = for_part(lantern), on_lantern
    covered = on.piece.part != 1
    films = {
        kind: float(on.step_film(masked(plan, kind), len(plan.coats))[covered].sum())
        for kind in ("tape", "foam", "card")
    }
    free = float(on.step_film(plan, len(plan.coats) - 1)[covered].sum())
    assert films["tape"] < films["foam"] < films["card"] < free
    own = [on.step_film(masked(plan, kind), len(plan.coats))[~covered] for kind in films]
    assert all(np.array_equal(o, own[0]) for o in own), "what is aimed at is sprayed as before"


def test_a_mask_over_a_ramp_fades_in_from_its_edge(lantern: Plan, on_lantern: OnPiece) -> None:
    on, last = on_lantern, len(lantern.coats)
    tall = float(on.piece.mesh.vertices[:, 2].max())
    file = on.piece.mesh
    ramp = {"field": "ramp", "start": (0, 0, 0), "end": (0, 0, 30)}
    hard, soft = (on.step_film(masked(lantern, kind, aim=ramp), last) for kind in ("tape", "foam"))
    free = on.step_film(lantern, last - 1)
    z = file.vertices[:, 2]
    top, foot = z > 0.8 * tall, z < z.min() + 0.2 * (z.max() - z.min())
    assert hard[top].max() < 0.02 * free[top].max()
    assert np.array_equal(hard[foot], free[foot])
    assert soft.sum() > hard.sum()


def test_a_brush_leaves_nothing_under_a_mask(lantern: Plan, on_lantern: OnPiece) -> None:
    last = lantern.coats[-1]
    assert last.kind == "spray"
    brush = HandStep(id="dry", name="Dry", role="dry_brush", paint=last.paint)
    plan = lantern.model_copy(update={"coats": [*lantern.coats, brush]})
    covered = on_lantern.piece.part != 1
    assert on_lantern.step_film(plan, len(lantern.coats))[covered].max() > 0
    under = on_lantern.step_film(masked(plan, "putty"), len(lantern.coats) + 1)
    assert under[covered].max() == 0
    assert under[~covered].max() > 0


def test_the_gap_to_a_part_is_that_of_its_nearest_point(lantern: Plan, on_lantern: OnPiece) -> None:
    on = on_lantern
    at = AimedAt.of(PART, lantern, on.piece.parts_in(lantern))
    points = on.piece.mesh.vertices
    aimed = points[on.fields.zone(at) >= 0.5]
    for number, gap in enumerate(on.fields.gaps(at)):
        mine = points[(on.piece.part == number) & on.piece.counted]
        off = min(float(np.linalg.norm(aimed - point, axis=1).min()) for point in mine[::7])
        assert gap <= off + 1e-5
        assert gap >= off - 3.0, "one in seven lies near the nearest"
    assert on.fields.gaps(at)[1] == 0.0
