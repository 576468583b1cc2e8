"""Three ways to prime, compared on a ball in a plan of its own."""

from __future__ import annotations

import pytest
import trimesh

from begun import begun
from haze.core.errors import CancelledError, HazeError
from haze.core.plan.document import Plan
from haze.core.plan.piece import Room
from haze.core.plan.schools import Schools
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.service.piece.meshes import add_mesh
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.priming import (
    PrimingBody,
    PrimingOut,
    PrimingPictureBody,
    compare_priming,
    priming_picture,
)
from haze.service.plan.start import NewPlan
from haze.service.shelf.shelf import Shelf
from helpers import going

BARE = Shelf(paints=[], thinners=[], airbrushes=[])


@pytest.fixture(scope="module")
def plan(club: Bench) -> Plan:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=10)
    mesh = add_mesh(club.db, write_stl(ball.vertices, ball.faces), name="ball.stl")
    return begun(club.db, NewPlan(mesh=mesh.id, name="Ball", height_mm=28)).plan


@pytest.fixture(scope="module")
def on(club: Bench, plan: Plan) -> OnPiece:
    club.cache.make(plan.piece, going)
    return club.on(plan)


def compared(plan: Plan, on: OnPiece, shelf: Shelf = BARE) -> PrimingOut:
    return compare_priming(PrimingBody(plan=plan), on, shelf, going)


def test_three_ways_to_prime_are_visibly_changed(plan: Plan, on: OnPiece) -> None:
    found = compared(plan, on)
    ways = {w.way: w for w in found.ways}
    assert found.assumed is None
    assert set(ways) == {"airbrush", "can", "dry_brush"}
    assert ways["airbrush"].grain < ways["can"].grain
    assert ways["can"].caution is not None
    assert ways["can"].possible
    assert ways["dry_brush"].minutes > 24 * 60
    for w in ways.values():
        assert w.contrast == pytest.approx(w.whitest - w.darkest)


def test_a_light_coat_that_is_left_out_does_not_count(plan: Plan, on: OnPiece) -> None:
    cut = plan.model_copy(deep=True)
    last = max(i for i, c in enumerate(cut.coats) if c.kind == "spray" and c.task == "light")
    less = cut.model_copy(update={"coats": cut.coats[:last]})
    cut.coats[last].off = True
    out, shorter = (next(w for w in compared(p, on).ways) for p in (cut, less))
    assert out.whitest == pytest.approx(shorter.whitest)
    assert out.grain == pytest.approx(shorter.grain)
    assert out.grain > 0


def test_a_damp_cold_room_rules_the_can_out_and_says_both_limits(plan: Plan, on: OnPiece) -> None:
    damp = plan.model_copy(update={"room": Room(temperature_c=8, humidity_pct=85)})
    can = next(w for w in compared(damp, on).ways if w.way == "can")
    assert not can.possible
    assert len(can.limits) == 2


@pytest.mark.parametrize("ground", ["two_tone", "three_tone", "hue_ground"])
def test_a_plan_without_a_light_coat_is_compared_with_its_schools_ground(
    plan: Plan, on: OnPiece, shelf: Shelf, ground: str
) -> None:
    schools = Schools.model_validate({**plan.schools.model_dump(), "ground": ground})
    bare = plan.model_copy(update={"coats": [], "schools": schools})
    found = compared(bare, on, shelf)
    assert found.assumed is not None
    assert found.assumed.count(", ") == (ground == "three_tone")
    contrast = {w.way: w.contrast for w in found.ways}
    assert contrast["airbrush"] > 20
    assert contrast["can"] > 20
    assert contrast["dry_brush"] < 5, "a ball has no edge a dry brush would catch"
    body = PrimingPictureBody(plan=bare, way="airbrush")
    assert priming_picture(body, on, shelf)[:4] == b"\x89PNG"


def test_a_shelf_that_cannot_stand_in_says_what_it_lacks(plan: Plan, on: OnPiece) -> None:
    bare = plan.model_copy(update={"coats": []})
    with pytest.raises(HazeError, match="no dark primer and no dark paint"):
        compared(bare, on)


def test_each_way_has_a_picture_of_its_own(plan: Plan, on: OnPiece) -> None:
    shots = [
        priming_picture(PrimingPictureBody(plan=plan, way=w), on, BARE)
        for w in ("airbrush", "can", "dry_brush")
    ]
    assert all(s[:4] == b"\x89PNG" for s in shots)
    assert len(set(shots)) == 3


def test_comparing_can_be_stopped(plan: Plan, on: OnPiece) -> None:
    with pytest.raises(CancelledError):
        compare_priming(PrimingBody(plan=plan), on, BARE, lambda _, __: False)
