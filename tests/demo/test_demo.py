from __future__ import annotations

from importlib import resources

import numpy as np
import pytest
import trimesh
from meshes import bust, crawler, stair, warden
from meshes.solid import Solid, ellipsoid, limb

from haze.core.errors import UnknownNameError
from haze.core.mesh.detail import FINE
from haze.core.mesh.prepare import prepare
from haze.core.spray.constants import PAINTS
from haze.demo import saltgate
from haze.demo.plans import DEMO_PLANS, DemoPlan
from haze.demo.stand_ins import SHIPPED, mesh_of, stand_in
from haze.service.bench import Bench
from haze.service.plan import plans
from haze.service.shelf import shelf
from helpers import with_station


def test_a_solid_ball_has_the_volume_of_a_ball() -> None:
    s = Solid((-6, -6, -6), (6, 6, 6), 0.25)
    s.add(ellipsoid((0, 0, 0), (4, 4, 4)), (-5, -5, -5), (5, 5, 5), 0.0)
    v, f = s.mesh()
    solid = trimesh.Trimesh(v, f)
    assert solid.volume == pytest.approx(4 / 3 * np.pi * 64, rel=0.02)


def test_cutting_takes_away() -> None:
    s = Solid((-6, -6, -6), (6, 6, 6), 0.3)
    s.add(limb((-3, 0, 0), (3, 0, 0), 2, 2), (-6, -6, -6), (6, 6, 6), 0.0)
    v, f = s.mesh()
    whole = trimesh.Trimesh(v, f).volume
    s.cut(ellipsoid((0, 0, 2), (1, 1, 1)), (-3, -3, 0), (3, 3, 4))
    v, f = s.mesh()
    assert trimesh.Trimesh(v, f).volume < whole - 1


BUILDERS = {
    "warden": lambda: [warden.figure(0.2), warden.base(0.2), warden.lamp(0.2)],
    "marrow": lambda: [
        (b.vertices, b.faces) for bodies in crawler.build().values() for b in bodies
    ],
    "lamp-stair": lambda: [stair.groundwork(), stair.beacon()],
    "herald": lambda: [bust.bust(), bust.plinth()],
}


@pytest.mark.parametrize("stem", BUILDERS)
def test_each_shipped_mesh_is_what_its_builder_makes(stem: str) -> None:
    assert len((resources.files("haze.demo") / "pieces" / f"{stem}.npz").read_bytes()) < 2**20
    shipped = mesh_of(stem)
    corners = np.concatenate([np.asarray(v) for v, _ in BUILDERS[stem]()])
    assert shipped.vertices.min(0) == pytest.approx(corners.min(0), abs=0.7)
    assert shipped.vertices.max(0) == pytest.approx(corners.max(0), abs=0.7)


@pytest.mark.parametrize("stem", BUILDERS)
def test_each_shipped_piece_prepares_and_every_body_has_a_part(stem: str, bench: Bench) -> None:
    piece = stand_in(bench.db, stem)
    mesh = prepare(mesh_of(stem), up="z", show="-y")
    assert 30_000 <= len(mesh.vertices) <= FINE.most_vertices
    assert float(mesh.vertex_area.sum()) == pytest.approx(mesh.raw_area, rel=0.01)
    named = {b for part in piece.parts for b in part.bodies}
    assert set(np.unique(mesh.body).tolist()) <= named
    bodies = [b for part in piece.parts for b in part.bodies]
    assert len(bodies) == len(set(bodies))


@pytest.mark.parametrize("solid", ["ball", "cube", "cone", "plate"])
def test_practice_solids_are_closed_and_come_once(solid: str, bench: Bench) -> None:
    first, again = (stand_in(bench.db, solid) for _ in range(2))
    assert first.mesh.id == again.mesh.id
    made = SHIPPED[solid].solid
    assert made is not None
    assert made().is_watertight


def test_an_unknown_stand_in_is_refused_by_name(bench: Bench) -> None:
    with pytest.raises(UnknownNameError, match="accepted are warden, diver"):
        stand_in(bench.db, "ship")


def test_loading_the_demo_twice_keeps_the_painters_changes(bench: Bench) -> None:
    first = saltgate.load(bench.db)
    changed = with_station(first.plan, 1, azimuth_deg=123.0)
    plans.save(bench.db, first.id, version=first.version, plan=changed, what="Mine")
    again = saltgate.load(bench.db)
    assert again.id == first.id
    assert again.plan == changed
    names = {c.name for c in again.plan.coats}
    assert {"Bilge Black", "Slate", "Tern White", "Lamp Amber", "Dawn Rose", "Pool Glow"} <= names
    assert {p.name for p in plans.every(bench.db)} == {p.name for p in DEMO_PLANS}
    elevations = [s.elevation_deg for s in again.plan.coats[0].stations]
    assert min(elevations) < 0 < max(elevations)


def test_the_clubs_shelf_covers_every_kind_and_stays_as_the_painter_left_it(bench: Bench) -> None:
    saltgate.load(bench.db)
    chips = shelf.screen(bench.db).chips
    assert 85 <= len(chips) <= 95
    assert {c.paint.kind for c in chips} == set(PAINTS)
    assert {c.paint.maker for c in chips} == {"Oddmere", "Tolvane", "Brindlecot"}
    gone = chips[3].paint.id
    shelf.put_away(bench.db, [gone], trashed=True)
    saltgate.load(bench.db)
    assert gone not in {c.paint.id for c in shelf.screen(bench.db).chips}


@pytest.mark.parametrize("demo", DEMO_PLANS, ids=lambda d: d.stand_in)
def test_each_demo_plan_is_whole(demo: DemoPlan, bench: Bench) -> None:
    saltgate.load(bench.db)
    found = next(p for p in plans.every(bench.db) if p.name == demo.name)
    plan = plans.open_plan(bench.db, found.id).plan
    tasks = [c.task if c.kind == "spray" else c.role for c in plan.coats]
    assert "prime" in tasks
    assert tasks[-1] in ("matt", "satin")
    wanted = {
        "warden": {"light", "veil", "tint", "glow"},
        "marrow": {"metal", "tint", "mask_on", "mask_off", "gloss", "wash", "streaks", "satin"},
        "lamp-stair": {"seal", "rung", "glow", "wash", "dry_brush", "rim"},
        "herald": {"veil", "tint"},
    }[demo.stand_in]
    assert wanted <= set(tasks)
    if demo.stand_in == "marrow":
        order = [tasks.index(t) for t in ("metal", "cover", "gloss", "wash", "satin")]
        assert order == sorted(order)
    if demo.stand_in == "lamp-stair":
        assert plan.piece.groundwork == "plaster"
        assert tasks[0] == "seal"
