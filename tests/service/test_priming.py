"""Three ways to prime, compared on a ball in a plan of its own."""

from __future__ import annotations

import pytest
import trimesh

from haze.core.errors import CancelledError, HazeError
from haze.core.plan.document import Plan, Room, Schools
from haze.formats.meshes import write_stl
from haze.service import plans
from haze.service.bench import Bench
from haze.service.painter import Painter
from haze.service.plans import NewPlan
from haze.service.priming import (
    PrimingBody,
    PrimingOut,
    PrimingPictureBody,
    compare_priming,
    priming_picture,
)
from haze.service.shelf import Shelf

BARE = Shelf(paints=[], thinners=[], airbrushes=[])


def going(_: float, __: str) -> bool:
    return True


@pytest.fixture(scope="module")
def plan(club: Bench) -> Plan:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=10)
    mesh = plans.add_mesh(club.db, write_stl(ball.vertices, ball.faces), name="ball.stl")
    return plans.start(club.db, NewPlan(mesh=mesh.id, name="Ball", height_mm=28)).plan


@pytest.fixture(scope="module")
def painter(club: Bench, plan: Plan) -> Painter:
    club.pieces.make(plan.piece, going)
    return club.painter(plan)


def compared(plan: Plan, painter: Painter, shelf: Shelf = BARE) -> PrimingOut:
    return compare_priming(PrimingBody(plan=plan), painter, shelf, going)


def test_three_ways_to_prime_are_told_apart(plan: Plan, painter: Painter) -> None:
    found = compared(plan, painter)
    ways = {w.way: w for w in found.ways}
    assert found.assumed is None
    assert set(ways) == {"airbrush", "can", "dry_brush"}
    assert ways["airbrush"].grain < ways["can"].grain
    assert ways["can"].caution is not None
    assert ways["can"].possible
    assert ways["dry_brush"].minutes > 24 * 60
    for w in ways.values():
        assert w.contrast == pytest.approx(w.whitest - w.darkest)


def test_a_light_coat_that_is_left_out_does_not_count(plan: Plan, painter: Painter) -> None:
    cut = plan.model_copy(deep=True)
    last = max(i for i, c in enumerate(cut.coats) if c.kind == "spray" and c.task == "light")
    less = cut.model_copy(update={"coats": cut.coats[:last]})
    cut.coats[last].off = True
    out, shorter = (next(w for w in compared(p, painter).ways) for p in (cut, less))
    assert out.whitest == pytest.approx(shorter.whitest)
    assert out.grain == pytest.approx(shorter.grain)
    assert out.grain > 0


def test_a_damp_cold_room_rules_the_can_out_and_says_both_limits(
    plan: Plan, painter: Painter
) -> None:
    damp = plan.model_copy(update={"room": Room(temperature_c=8, humidity_pct=85)})
    can = next(w for w in compared(damp, painter).ways if w.way == "can")
    assert not can.possible
    assert len(can.limits) == 2


@pytest.mark.parametrize("ground", ["two_tone", "three_tone", "hue_ground"])
def test_a_plan_without_a_light_coat_is_compared_with_its_schools_ground(
    plan: Plan, painter: Painter, shelf: Shelf, ground: str
) -> None:
    schools = Schools.model_validate({**plan.schools.model_dump(), "ground": ground})
    bare = plan.model_copy(update={"coats": [], "schools": schools})
    found = compared(bare, painter, shelf)
    assert found.assumed is not None
    assert found.assumed.count(", ") == (ground == "three_tone")
    contrast = {w.way: w.contrast for w in found.ways}
    assert contrast["airbrush"] > 20
    assert contrast["can"] > 20
    assert contrast["dry_brush"] < 5, "a ball has no edge a dry brush would catch"
    body = PrimingPictureBody(plan=bare, way="airbrush")
    assert priming_picture(body, painter, shelf)[:4] == b"\x89PNG"


def test_a_shelf_that_cannot_stand_in_says_what_it_lacks(plan: Plan, painter: Painter) -> None:
    bare = plan.model_copy(update={"coats": []})
    with pytest.raises(HazeError, match="dark primer; add one first"):
        compared(bare, painter)


def test_each_way_has_a_picture_of_its_own(plan: Plan, painter: Painter) -> None:
    shots = [
        priming_picture(PrimingPictureBody(plan=plan, way=w), painter, BARE)
        for w in ("airbrush", "can", "dry_brush")
    ]
    assert all(s[:4] == b"\x89PNG" for s in shots)
    assert len(set(shots)) == 3


def test_comparing_can_be_stopped(plan: Plan, painter: Painter) -> None:
    with pytest.raises(CancelledError):
        compare_priming(PrimingBody(plan=plan), painter, BARE, lambda _, __: False)
