"""The rules of order: each has a plan that breaks it, and a fix that mends it and nothing else."""

from __future__ import annotations

from collections.abc import Callable

import pytest
import trimesh

from begun import begun
from haze.core.drafting.coats import GROUND
from haze.core.drafting.stock import Stock
from haze.core.errors import HazeError, UnknownNameError
from haze.core.light.stations import Station
from haze.core.plan.coat import Aim
from haze.core.plan.document import Plan, Silenced
from haze.core.plan.lights import GlowLight
from haze.core.rules.findings import BY_ID, RULES
from haze.core.rules.shows import switch_off
from haze.demo.plans import NamedBuilder as Builder
from haze.formats.meshes import write_stl
from haze.service.bench import Bench
from haze.service.piece.meshes import add_mesh
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import FixBody, fixed, look_over
from haze.service.plan.start import NewPlan
from haze.service.shelf.shelf import shelf_of
from helpers import with_spray

KEY = [Station(30, 50, 15)]
ALL = GROUND


@pytest.fixture(scope="module")
def empty(club: Bench) -> Plan:
    """A post on a table, lit from the front, with a glow beside it and no steps."""
    parts = [
        trimesh.creation.box((30, 30, 3)).apply_translation([0, 0, 12]),
        trimesh.creation.cylinder(radius=4, height=20, sections=32).apply_translation([0, 0, 24]),
        trimesh.creation.cylinder(radius=3, height=11, sections=32).apply_translation([0, 0, 5]),
    ]
    solid = trimesh.util.concatenate(parts)
    mesh = add_mesh(club.db, write_stl(solid.vertices, solid.faces), name="table.stl")
    started = begun(club.db, NewPlan(mesh=mesh.id, name="Table", height_mm=34)).plan
    glow = GlowLight(id="pool", name="Pool", at=(0, -14, 18), radius_mm=2, reach_mm=10)
    return started.model_copy(update={"coats": [], "lights": [*started.lights, glow]})


@pytest.fixture(scope="module")
def on(club: Bench, empty: Plan) -> OnPiece:
    club.cache.make(empty.piece, lambda *_: True)
    return club.on(empty)


def ground(b: Builder) -> None:
    b.spray("prime", b.paint("Bilge Black"), ALL)


def white_over_black(b: Builder) -> None:
    ground(b)
    b.spray("light", b.paint("Tern White"), KEY, film_um=6)


def colour_turns(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Beacon Yellow"), KEY, film_um=4)


def step_too_high(b: Builder) -> None:
    ground(b)
    b.spray("rung", b.paint("Wrack Green"), KEY, film_um=8)
    b.spray("rung", b.paint("Spring Moss"), KEY, film_um=8)


def chalky(b: Builder) -> None:
    ground(b)
    b.spray("rung", b.paint("Buoy Red"), KEY, film_um=8)
    b.spray("rung", b.paint("Gull Wing"), KEY, film_um=12)


def transparent_light(b: Builder) -> None:
    ground(b)
    b.spray("rung", b.paint("Pool Glow"), KEY, film_um=6)


def metal_late(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=9)
    b.spray("metal", b.paint("Brass Rail"), KEY)


def wash_on_matt(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=9)
    b.hand("wash", b.paint("Cuttle Ink"))


def spirit_unprotected(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=9)
    b.hand("streaks", b.paint("Rust Streak"))


def ink_unsealed(b: Builder) -> None:
    b.spray("prime", b.paint("Chalk Ground"), ALL)
    b.spray("tint", b.paint("Kelp Ink"), KEY, film_um=3)
    b.spray("tint", b.paint("Lamp Amber"), KEY, film_um=4)


def groundwork_unsealed(b: Builder) -> None:
    b.plan.piece.groundwork = "plaster"
    ground(b)


def dry_brush_early(b: Builder) -> None:
    ground(b)
    b.hand("dry_brush", b.paint("Gull Wing"))


def matt_before_wash(b: Builder) -> None:
    ground(b)
    b.spray("matt", b.paint("Quay Matt"), ALL)
    b.spray("gloss", b.paint("Quay Gloss"), ALL)
    b.hand("wash", b.paint("Cuttle Ink"))


def nobody_sees(b: Builder) -> None:
    ground(b)
    b.spray("light", b.paint("Slate"), KEY, film_um=3)
    around = [Station(a, 30, 30) for a in (0, 90, 180, 270)]
    b.spray("cover", b.paint("Wrack Green"), around, film_um=60)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=60)


def highlight_sinks(b: Builder) -> None:
    ground(b)
    b.spray("light", b.paint("Harbour Grey"), KEY, film_um=8)
    b.spray("light", b.paint("Tern White"), KEY, film_um=20)
    b.spray("veil", b.paint("Night Water"), [Station(a, 40, 30) for a in (0, 120, 240)], film_um=20)


def glow_too_dark(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=10)
    b.spray("glow", b.paint("Pool Glow"), [], aim=Aim(field="glow", light="pool"), film_um=6)


def underside_bare(b: Builder) -> None:
    b.spray("prime", b.paint("Bilge Black"), [Station(a, 40, 12) for a in (0, 120, 240)])


def thinner_spoils(b: Builder) -> None:
    ground(b)
    spirit = next(t for t in b.stock.thinners if t.kind == "spirit")
    b.plan.coats[0] = b.plan.coats[0].model_copy(update={"thinner": spirit})


def needle_too_fine(b: Builder) -> None:
    fine = next(a for a in b.stock.airbrushes if a.needle_mm == 0.2)
    b.plan.airbrush = fine
    ground(b)
    b.spray("metal", b.paint("Bright Steel"), ALL)
    b.plan.coats[1] = with_spray(b.plan, 1, trigger=0.12, thinner_parts=0.3).coats[1]


def _post() -> Aim:
    """Aimed at the post that stands on the table, sprayed while it stands there."""
    return Aim(field="part", part="part-2", margin_mm=0)


def overspray(b: Builder) -> None:
    ground(b)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=9)
    b.spray("cover", b.paint("Buoy Red"), [], aim=_post(), film_um=9)


def over_finished(b: Builder) -> None:
    ground(b)
    b.spray("metal", b.paint("Bright Steel"), [], aim=_post(), film_um=6)
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=12)
    b.spray("matt", b.paint("Quay Matt"), ALL)


def mask_left(b: Builder) -> None:
    ground(b)
    b.rest(3000, "Cures")
    b.hand("mask_on", aim=_post())
    b.spray("cover", b.paint("Wrack Green"), ALL, film_um=9)
    b.spray("matt", b.paint("Quay Matt"), ALL)


CASES: dict[str, Callable[[Builder], None]] = {
    f.__name__: f
    for f in (
        white_over_black,
        colour_turns,
        step_too_high,
        chalky,
        transparent_light,
        metal_late,
        wash_on_matt,
        spirit_unprotected,
        ink_unsealed,
        groundwork_unsealed,
        dry_brush_early,
        matt_before_wash,
        nobody_sees,
        highlight_sinks,
        glow_too_dark,
        underside_bare,
        thinner_spoils,
        needle_too_fine,
        overspray,
        over_finished,
        mask_left,
    )
}
ADDS = {"overspray": 2, "over_finished": 2}  # a mask goes on, and comes off
# what a fix may do besides putting one step in: the steps it changes, or the order, or the airbrush
CHANGES = {
    "chalky",
    "transparent_light",
    "nobody_sees",
    "highlight_sinks",
    "underside_bare",
    "thinner_spoils",
}
MOVES = {"metal_late", "matt_before_wash"}


def laid(name: str, empty: Plan, stock: Stock) -> Plan:
    builder = Builder(empty, stock)
    CASES[name](builder)
    return builder.plan


def test_every_rule_has_a_case() -> None:
    assert {r.id for r in RULES} == set(CASES)


def rest_of(plan: Plan, step: str) -> dict[str, str]:
    return {s.id: s.model_dump_json() for s in plan.coats if s.id != step}


@pytest.mark.parametrize("name", CASES)
def test_a_plan_that_breaks_a_rule_is_told_and_mended(
    name: str, club: Bench, empty: Plan, stock: Stock, on: OnPiece
) -> None:
    plan = laid(name, empty, stock)
    before = plan.model_dump_json()
    found = [f for f in look_over(plan, on).findings if f.rule == name]
    assert found, [f.rule for f in look_over(plan, on).findings]
    finding = found[0]
    assert any(c.isdigit() for c in finding.what) or name in (
        "thinner_spoils",
        "wash_on_matt",
        "ink_unsealed",
        "groundwork_unsealed",
        "matt_before_wash",
        "mask_left",
    )
    assert finding.fix
    body = FixBody(plan=plan, rule=name, step=finding.step)
    mended = fixed(body, shelf_of(club.db))
    for _ in range(3):  # laying a tint thinner may take more than one press
        again = [f for f in look_over(mended, on).findings if f.rule == name]
        left = [f for f in again if f.step == finding.step]
        if not left or name != "highlight_sinks":
            break
        mended = fixed(FixBody(plan=mended, rule=name, step=finding.step), shelf_of(club.db))
    assert not left
    assert plan.model_dump_json() == before, "the plan given is left alone"
    # nothing else changed
    assert mended.piece == plan.piece
    assert mended.lights == plan.lights
    kept, now = rest_of(plan, finding.step), rest_of(mended, finding.step)
    if name == "needle_too_fine":
        assert mended.airbrush.needle_mm > plan.airbrush.needle_mm
        assert mended.coats == plan.coats
    elif name in MOVES:
        assert sorted(s.id for s in mended.coats) == sorted(s.id for s in plan.coats)
        assert kept == now
    elif name in CHANGES:
        assert [s.id for s in mended.coats] == [s.id for s in plan.coats]
        assert kept == now
    else:
        assert len(mended.coats) == len(plan.coats) + ADDS.get(name, 1)
        assert {k: v for k, v in now.items() if k in kept} == kept
        same = next(s for s in mended.coats if s.id == finding.step)
        assert same == next(s for s in plan.coats if s.id == finding.step)
    assert Plan.model_validate_json(mended.model_dump_json()) == mended


def test_a_quieted_finding_stays_quiet_on_its_step_only(
    empty: Plan, stock: Stock, on: OnPiece
) -> None:
    plan = laid("wash_on_matt", empty, stock)
    quiet = plan.model_copy(
        update={
            "silenced": [
                Silenced(rule="wash_on_matt", step=plan.coats[-1].id, note="stain is wanted")
            ]
        }
    )
    assert "wash_on_matt" not in {f.rule for f in look_over(quiet, on).findings}
    other = plan.model_copy(
        update={"silenced": [Silenced(rule="wash_on_matt", step=plan.coats[0].id)]}
    )
    assert "wash_on_matt" in {f.rule for f in look_over(other, on).findings}


def test_steps_that_are_left_out_break_no_rule(empty: Plan, stock: Stock, on: OnPiece) -> None:
    plan = laid("spirit_unprotected", empty, stock)
    off = switch_off(plan, plan.coats[-1].id, stock)
    assert look_over(plan, on).findings
    assert not [f for f in look_over(off, on).findings if f.rule == "spirit_unprotected"]


def test_a_sound_plan_has_nothing_to_mind(empty: Plan, stock: Stock, on: OnPiece) -> None:
    b = Builder(empty, stock)
    ground(b)
    b.spray("light", b.paint("Slate"), KEY, film_um=6)
    b.spray("light", b.paint("Pewter Rain"), [Station(30, 60, 12)], film_um=5)
    b.spray("matt", b.paint("Quay Matt"), ALL)
    assert look_over(b.plan, on).findings == []
    assert look_over(empty, on).findings == []


def test_the_gravest_comes_first(empty: Plan, stock: Stock, on: OnPiece) -> None:
    b = Builder(empty, stock)
    white_over_black(b)
    b.hand("streaks", b.paint("Rust Streak"))
    signs = [f.sign for f in look_over(b.plan, on).findings]
    assert signs[0] == "stop"
    assert signs == sorted(signs, key=lambda s: s != "stop")


def test_a_fix_without_its_paint_says_what_is_missing(
    club: Bench, empty: Plan, stock: Stock
) -> None:
    plan = laid("wash_on_matt", empty, stock)
    bare = Stock(tuple(p for p in stock.paints if p.kind != "varnish"), stock.thinners)
    fix = BY_ID["wash_on_matt"].fix
    with pytest.raises(HazeError, match="gloss or satin varnish"):
        fix(plan, plan.coats[-1].id, bare)
    with pytest.raises(UnknownNameError, match="no rule 'luck'"):
        fixed(FixBody(plan=plan, rule="luck", step="x"), shelf_of(club.db))
    with pytest.raises(HazeError, match="no step 'nobody'"):
        fixed(FixBody(plan=plan, rule="wash_on_matt", step="nobody"), shelf_of(club.db))


def test_masks_keep_paint_off_their_part(empty: Plan, stock: Stock, on: OnPiece) -> None:
    part = on.piece.parts_in(empty)[0].id
    b = Builder(empty, stock)
    ground(b)
    b.hand("mask_on", part=part)
    b.spray("cover", b.paint("Buoy Red"), ALL, film_um=9)
    b.hand("mask_off", part=part)
    b.spray("cover", b.paint("Shoal Blue"), KEY, film_um=3)
    films = [layer.film_um for layer in on.layers(b.plan, len(b.plan.coats))]
    on_part = on.piece.part == 0
    assert films[2][on_part].max() == 0
    assert films[2][~on_part].max() > 1
    assert films[4][on_part].max() > 0.5
    assert films[1].max() == films[3].max() == 0
