"""Light plans, angles, aimed coats and parts, as one click does them."""

from __future__ import annotations

import json
import sqlite3
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
import trimesh
from pydantic import ValidationError

from haze.core.errors import CancelledError, HazeError, UnknownNameError
from haze.core.film.stack import lightness_of_rgb
from haze.core.plan.document import Aim, BlockedSector, GlowLight, KeyLight, Plan, SkyLight
from haze.formats.meshes import write_stl
from haze.service import plans
from haze.service.angles import AnglesBody, work_out
from haze.service.bench import Bench
from haze.service.lighting import PresetBody, light_picture, light_study, lights_of, preset_list
from haze.service.painter import Painter
from haze.service.parts import SplitBody, advice, part_views, split
from haze.service.plans import NewCoatBody, NewPlan
from haze.service.workings import workings
from haze.store.connection import FILE_NAME, Database, migrations, statements


def going(_: float, __: str) -> bool:
    return True


def lantern() -> bytes:
    """A post on a broad base between two equal boxes: four bodies, two of them alike."""
    parts = [
        trimesh.creation.box((40, 30, 4)),
        trimesh.creation.cylinder(radius=4, height=30, sections=40).apply_translation([0, 0, 16.5]),
        trimesh.creation.box((6, 10, 8)).apply_translation([-14, 0, 6.3]),
        trimesh.creation.box((6, 10, 8)).apply_translation([14, 0, 6.3]),
    ]
    solid = trimesh.util.concatenate(parts)
    return write_stl(solid.vertices, solid.faces)


@pytest.fixture(scope="module")
def bench(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Bench]:
    held = Bench(tmp_path_factory.mktemp("light") / "data")
    yield held
    held.close()


@pytest.fixture(scope="module")
def plan(bench: Bench) -> Plan:
    mesh = plans.add_mesh(bench.db, lantern(), name="lantern.stl")
    return plans.start(bench.db, NewPlan(mesh=mesh.id, name="Lantern", height_mm=34)).plan


@pytest.fixture(scope="module")
def painter(bench: Bench, plan: Plan) -> Painter:
    bench.pieces.make(plan.piece, going)
    return bench.painter(plan)


def test_bodies_become_parts_that_can_be_named(bench: Bench, plan: Plan, painter: Painter) -> None:
    views = part_views(plan, painter)
    assert [v.part.name for v in views] == ["Part 1", "Part 2", "Part 3", "Part 4"]
    assert [v.part.state for v in views] == ["attached"] * 4
    # a base of 40 × 30 × 4 mm
    assert views[0].area_cm2 == pytest.approx(29.6, rel=0.03)
    named = plan.model_copy(deep=True)
    named.piece.parts = [v.part.model_copy(update={"name": f"N{i}"}) for i, v in enumerate(views)]
    bench.pieces.make(named.piece, going)
    again = bench.painter(named)
    assert np.array_equal(again.piece.part, painter.piece.part)
    assert np.array_equal(again.piece.table, painter.piece.table)


def test_holding_a_part_off_frees_what_it_hid(bench: Bench, plan: Plan, painter: Painter) -> None:
    off = plan.model_copy(deep=True)
    off.piece.parts = [v.part for v in part_views(plan, painter)]
    off.piece.parts[1].state = "held_off"
    bench.pieces.make(off.piece, going)
    alone = bench.painter(off)
    assert len(alone.piece.spray_groups) == 2
    under = (alone.piece.part == 0) & (painter.piece.table.max(axis=0) == 0)
    assert under.any()
    assert alone.piece.table[:, under].max() > 200
    # what will be hidden when all is together stays out of every sum
    assert not alone.piece.counted[under].any()
    tacked = off.model_copy(deep=True)
    tacked.piece.parts[1].state = "tacked"
    bench.pieces.make(tacked.piece, going)
    shadow = bench.painter(tacked).piece
    assert np.array_equal(shadow.table, alone.piece.table)
    assert np.array_equal(shadow.light_table, painter.piece.table)


def test_advice_names_the_part_and_the_surface_it_frees(plan: Plan, painter: Painter) -> None:
    found = advice(plan, painter, going).advice
    assert found == sorted(found, key=lambda a: -a.gain_cm2)
    for one in found:
        assert one.gain_cm2 == pytest.approx(one.on_part_cm2 + one.on_rest_cm2)
        assert one.words.startswith(f"Leave {one.name} off: ")


def test_blocked_sectors_take_reach_away_and_are_named_at_stations(
    plan: Plan, painter: Painter
) -> None:
    free = plan.model_copy(deep=True)
    free.piece.blocked = []
    benched = plan.model_copy(deep=True)
    benched.piece.blocked = [BlockedSector(id="bench", name="Bench", half_angle_deg=88)]
    reach = [workings(p, painter).reachable_share for p in (free, plan, benched)]
    assert reach[0] >= reach[1] > reach[2]
    told = workings(benched, painter).coats[0].stations
    assert {s.blocked_by for s in told} == {None, "Bench"}


def test_parts_split_by_a_level_cut_and_by_bodies(
    plan: Plan, painter: Painter, bench: Bench
) -> None:
    post = part_views(plan, painter)[1].part
    found = split(SplitBody(plan=plan, part=post.id, way="level", at=0.25), painter).parts
    assert [p.name for p in found][1:3] == ["Part 2, upper", "Part 2, lower"]
    cut = plan.model_copy(deep=True)
    cut.piece.parts = found
    bench.pieces.make(cut.piece, going)
    piece = bench.painter(cut).piece
    z = piece.mesh.to_file(piece.mesh.vertices.astype(float))[:, 2]
    level = 1.5 + 0.25 * 30
    assert z[piece.part == 1].min() == pytest.approx(level, abs=0.6)
    assert z[piece.part == 2].max() == pytest.approx(level, abs=0.6)
    with pytest.raises(HazeError, match="is one body"):
        split(SplitBody(plan=plan, part=post.id, way="bodies"), painter)
    with pytest.raises(HazeError, match="its parts are"):
        split(SplitBody(plan=plan, part="hat", way="level"), painter)
    views = [v.part for v in part_views(plan, painter)]
    joined = plan.model_copy(deep=True)
    both = views[2].model_copy(update={"bodies": [*views[2].bodies, *views[3].bodies]})
    joined.piece.parts = [views[0], views[1], both]
    bench.pieces.make(joined.piece, going)
    apart = split(SplitBody(plan=joined, part=both.id, way="bodies"), bench.painter(joined)).parts
    assert len(apart) == 4


def test_left_and_right_differ_when_one_side_was_forgotten(plan: Plan, painter: Painter) -> None:
    pairs = painter.studio.pairs
    assert len(pairs) == 1
    even = workings(plan, painter).coats[0]
    assert even.layer.uneven == []
    forgot = plan.model_copy(deep=True)
    forgot.coats[0].stations = [
        s.model_copy(update={"azimuth_deg": 90.0, "elevation_deg": 0.0, "spread_deg": 5.0})
        for s in forgot.coats[0].stations[:1]
    ]
    told = workings(forgot, painter).coats[0].layer.uneven
    assert len(told) == 1
    assert "Left and right differ" in told[0].words
    by_part = {p.part: p for p in workings(forgot, painter).coats[0].layer.parts}
    assert by_part[told[0].less].bare_cm2 > by_part[told[0].more].bare_cm2


def test_every_preset_gives_a_light_plan_with_shares(plan: Plan, painter: Painter) -> None:
    for one in preset_list().presets:
        found = lights_of(PresetBody(plan=plan, preset=one.id), painter)
        assert found.lights
        assert found.study.show.lit + found.study.show.dark <= 1 + 1e-6
        assert (found.study.meeting is not None) == (one.id == "two_sides")
    with pytest.raises(UnknownNameError, match="accepted are noon"):
        lights_of(PresetBody(plan=plan, preset="moon"), painter)


def test_stage_models_the_show_side_more_than_noon_and_shoulder(
    plan: Plan, painter: Painter
) -> None:
    piece = painter.piece
    show = piece.counted & (piece.mesh.normals[:, 1] < 0)
    weight = np.where(show, piece.mesh.vertex_area, 0)

    def spread(preset: str) -> float:
        lights = lights_of(PresetBody(plan=plan, preset=preset), painter).lights
        value = painter.studio.light_value(plan.model_copy(update={"lights": lights}))
        mean = np.average(value, weights=weight)
        return float(np.sqrt(np.average((value - mean) ** 2, weights=weight)))

    assert spread("stage") >= spread("noon") - 1e-3
    assert spread("stage") >= spread("shoulder") - 0.02


def test_lights_add_and_keep_their_colours(plan: Plan, painter: Painter) -> None:
    key = KeyLight(azimuth_deg=60, elevation_deg=20, softness_deg=10, colour="#ff8080")
    other = KeyLight(id="k2", azimuth_deg=-120, elevation_deg=20, softness_deg=10, colour="#8080ff")
    both = plan.model_copy(update={"lights": [key, other]})
    colour = painter.studio.light_colour(both)
    value = [painter.studio.value_of(light, both) for light in (key, other)]
    first, second = int(np.argmax(value[0] - value[1])), int(np.argmax(value[1] - value[0]))
    assert colour[0, first] > colour[2, first]
    assert colour[2, second] > colour[0, second]
    met = light_study([key, other], both, painter).meeting
    assert met is not None
    assert met.both + met.first + met.second + met.neither == pytest.approx(1)
    dim = plan.model_copy(update={"lights": [key.model_copy(update={"strength": 0.5})]})
    full = plan.model_copy(update={"lights": [key]})
    assert painter.studio.light_value(dim) == pytest.approx(
        0.5 * painter.studio.light_value(full), abs=1e-6
    )
    none = plan.model_copy(update={"lights": []})
    assert painter.studio.light_value(none).max() == 0
    assert painter.colours(none, after=4, look="light_wanted").max() < 60


def test_a_glow_moves_with_the_piece_and_grows_with_it(
    bench: Bench, plan: Plan, painter: Painter
) -> None:
    glow = GlowLight(at=[-14, -8, 6], reach_mm=1.5, radius_mm=0.1)
    lit = plan.model_copy(update={"lights": [glow]})
    value = painter.studio.light_value(lit)
    turned = lit.model_copy(deep=True)
    turned.piece.turn_deg = 90
    bench.pieces.make(turned.piece, going)
    other = bench.painter(turned)
    again = other.studio.light_value(turned)
    brightest = painter.piece.mesh.to_file(
        painter.piece.mesh.vertices[[np.argmax(value)]].astype(float)
    )
    there = other.piece.mesh.to_file(other.piece.mesh.vertices[[np.argmax(again)]].astype(float))
    assert np.linalg.norm(brightest - there) < 2.0
    assert float(value.mean()) == pytest.approx(float(again.mean()), rel=0.1)
    # twice as tall and twice the reach is the same picture
    tall = lit.model_copy(deep=True)
    tall.piece.height_mm *= 2
    tall.lights = [glow.model_copy(update={"reach_mm": 3.0, "radius_mm": 2 * glow.radius_mm})]
    assert painter.studio.light_value(tall) == pytest.approx(value, abs=1e-3)


def test_angles_bring_the_light_coats_nearer_to_the_light(plan: Plan, painter: Painter) -> None:
    lit = plan.model_copy(deep=True)
    lit.lights = [
        KeyLight(azimuth_deg=-70, elevation_deg=15, softness_deg=14),
        SkyLight(strength=0.2),
    ]
    found = work_out(AnglesBody(plan=lit, stations=3), painter, going)
    assert [c.coat for c in found.coats] == ["mid", "light"]
    better = lit.model_copy(deep=True)
    for one in found.coats:
        assert 1 <= len(one.stations) <= 3
        assert one.residual is not None
        assert one.dense_residual is not None
        assert one.residual >= one.dense_residual - 1e-6
        next(c for c in better.coats if c.id == one.coat).stations = one.stations
    Plan.model_validate(better.model_dump())
    area = painter.piece.mesh.vertex_area * painter.piece.counted

    def off(p: Plan) -> float:
        return float(np.sqrt(np.average(painter.off_plan(p, 3) ** 2, weights=area)))

    assert off(better) < off(lit)


def test_angles_cover_a_share_and_refuse_what_cannot_be(plan: Plan, painter: Painter) -> None:
    found = work_out(AnglesBody(plan=plan, coats=["light"], cover_share=0.2), painter, going)
    assert found.coats[0].covered_share == pytest.approx(0.2, abs=0.06)
    with pytest.raises(HazeError, match="not in the plan"):
        work_out(AnglesBody(plan=plan, coats=["gold"]), painter, going)
    bare = plan.model_copy(update={"coats": plan.coats[:1]})
    with pytest.raises(HazeError, match="no light coat"):
        work_out(AnglesBody(plan=bare), painter, going)
    with pytest.raises(CancelledError):
        work_out(AnglesBody(plan=plan), painter, lambda *_: False)


AIMS = {
    "recesses": Aim(field="recesses"),
    "panels": Aim(field="panels", margin_mm=2),
    "edges": Aim(field="edges"),
    "ramp": Aim(field="ramp", start=[0, 0, 0], end=[0, 0, 30]),
    "glow": Aim(field="glow", light="glow"),
    "part": Aim(field="part", part="part-2", margin_mm=1),
}


@pytest.mark.parametrize("field", AIMS)
def test_aimed_coats_land_where_they_are_aimed(plan: Plan, painter: Painter, field: str) -> None:
    lit = plan.model_copy(update={"lights": [GlowLight(at=[0, -9, 10], reach_mm=8)]}, deep=True)
    coat = plans.draft(
        NewCoatBody(
            plan=lit,
            id="aimed",
            task="rung",
            paint=lit.coats[1].paint,
            thinner=lit.coats[1].thinner,
            over="#222222",
            aim=AIMS[field],
        )
    )
    assert coat.stations == []
    assert coat.aim is not None
    lit.coats.append(coat)
    film = painter.film(lit, coat)
    landed = painter.studio.aimed(lit, coat)
    assert landed.min() >= 0
    assert 0.05 < landed.max() <= 1.0
    assert np.corrcoef(film, landed)[0, 1] > 0.9
    told = workings(lit, painter)
    work = told.coats[-1]
    assert work.aim_words
    assert work.stations == []
    assert (work.panels is not None) == (field == "panels")
    assert any(s.coat == "aimed" and s.kind == "spray" for s in told.steps)
    assert work.cup.spray_ml > 0
    backwards = coat.model_copy(update={"aim": coat.aim.model_copy(update={"reversed": True})})
    other = painter.studio.aimed(lit, backwards)
    # the two together go over everything once, as far as spray reaches
    reached = painter.piece.counted & painter.studio.reachable(plan.piece.blocked)
    if field != "part":
        sees = painter.piece.table[painter.studio.free_rows(plan.piece.blocked)].max(axis=0) / 255
        assert (landed + other)[reached] == pytest.approx(sees[reached], abs=0.03)


def test_an_aimed_coat_must_be_whole(plan: Plan) -> None:
    with pytest.raises(ValidationError, match="needs its start"):
        Aim(field="ramp")
    with pytest.raises(ValidationError, match="needs its part"):
        Aim(field="part")
    document = plan.model_dump()
    document["coats"][0]["aim"] = {"field": "recesses"}
    with pytest.raises(ValidationError, match="an aim and no stations"):
        Plan.model_validate(document)
    document["coats"][0]["stations"] = []
    assert Plan.model_validate(document).coats[0].passes == 2
    document["coats"][0]["aim"] = {"field": "glow", "light": "none"}
    with pytest.raises(ValidationError, match="not in the plan"):
        Plan.model_validate(document)


def test_looks_answer_what_they_ask(plan: Plan, painter: Painter) -> None:
    reach = painter.colours(plan, after=4, look="reach")[:, 0]
    reached = painter.studio.reachable(plan.piece.blocked)
    assert reach[reached].min() > reach[~reached].max()
    bare = painter.colours(plan, after=0, look="still_bare")
    assert np.ptp(bare) == 0
    coated = painter.colours(plan, after=1, look="still_bare")[:, 0]
    film = painter.total_film(plan, 1)
    assert coated[film >= 1].min() > coated[film < 1].max()
    off = painter.off_plan(plan, 4)
    grey = painter.colours(plan, after=4, look="off_plan")[:, 0].astype(int)
    order = np.argsort(off)
    assert np.all(np.diff(grey[order]) >= 0)


def test_smoothing_is_asked_for_once_and_changes_only_what_is_coarse(
    bench: Bench, plan: Plan
) -> None:
    bench.pieces.make(plan.piece, going)
    painter = bench.painter(plan)
    wanted = painter.studio.coarse(plan)
    assert wanted
    before = painter.colours(plan, after=4, look="as_painted")
    job = bench.smooth(plan)
    assert job is not None
    end = time.monotonic() + 60
    while bench.jobs.get(job.id).state != "done":
        assert time.monotonic() < end
        threading.Event().wait(0.01)
    assert painter.studio.coarse(plan) == []
    assert bench.smooth(plan) is None
    after = painter.colours(plan, after=4, look="as_painted")
    assert not np.array_equal(before, after)
    moved = lightness_of_rgb((after.T / 255.0).astype(np.float32)) - lightness_of_rgb(
        (before.T / 255.0).astype(np.float32)
    )
    assert float(np.sqrt(np.mean(moved**2))) < 6


def test_light_pictures_are_pictures(plan: Plan, painter: Painter) -> None:
    data = light_picture(PresetBody(plan=plan, preset="noon"), painter)
    assert data.startswith(b"\x89PNG")
    assert data != light_picture(PresetBody(plan=plan, preset="low_sun"), painter)


def test_a_plan_of_the_first_schema_opens_with_its_light(plan: Plan) -> None:
    old = json.loads(plan.model_dump_json())
    old["schema_version"] = 1
    del old["lights"]
    old["light"] = {"azimuth_deg": 33, "elevation_deg": 44, "softness_deg": 5}
    for name in ("parts", "blocked"):
        del old["piece"][name]
    for coat in old["coats"]:
        del coat["aim"]
    opened = Plan.model_validate(old)
    assert opened.schema_version == 3
    assert opened.key_light.azimuth_deg == 33
    assert [c.stations for c in opened.coats] == [c.stations for c in plan.coats]


def test_an_older_database_keeps_its_meshes_and_takes_new_kinds(tmp_path: Path) -> None:
    (number, script), *_ = migrations()
    old = sqlite3.connect(tmp_path / FILE_NAME)
    for statement in statements(script):
        old.execute(statement)
    old.execute("INSERT INTO mesh VALUES (?, 'a', 'stl', 3, 1, x'010203', 'now')", ("a" * 64,))
    old.execute("INSERT INTO plan VALUES ('p', 1, 1, 'now', 'now', NULL)")
    old.execute("INSERT INTO revision VALUES ('p', 1, NULL, 'x', '{}', ?, 'now')", ("a" * 64,))
    old.execute(f"PRAGMA user_version = {number}")
    old.commit()
    old.close()
    db = Database(tmp_path)
    tx = db.connection()
    assert tx.execute("SELECT data FROM mesh").fetchone()[0] == b"\x01\x02\x03"
    assert tx.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    tx.execute("INSERT INTO mesh VALUES (?, 'b', 'glb', 1, 1, x'00', 'now')", ("b" * 64,))
    with pytest.raises(sqlite3.IntegrityError):
        tx.execute("DELETE FROM mesh WHERE id = ?", ("a" * 64,))
    assert list(tmp_path.glob("*before-0002*"))
    db.close()
