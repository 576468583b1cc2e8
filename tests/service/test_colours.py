"""Mixes and ladders from the shelf, core samples, whole sequences."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.errors import CancelledError, HazeError
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.spectra import decode_srgb, parse_hex
from haze.core.plan.document import HandStep, KeyLight, Plan, Schools
from haze.formats.meshes import write_stl
from haze.service import plans
from haze.service.bench import Bench
from haze.service.colour_io import (
    FilmLater,
    LadderIn,
    MixIn,
    MixPaint,
    covers_of,
    hue_word,
    ladder,
    mix,
)
from haze.service.colours import (
    RungsBody,
    RungWish,
    ShelfLadder,
    ShelfMix,
    ladder_from,
    mix_from,
    put_on,
)
from haze.service.compare import (
    PictureBody,
    StartBody,
    plan_picture,
    started,
)
from haze.service.painter import Painter
from haze.service.plans import NewPlan
from haze.service.sample import SampleBody, take_sample
from haze.service.shelf import Shelf
from haze.service.workings import workings


def going(_: float, __: str) -> bool:
    return True


def stopping(_: float, __: str) -> bool:
    return False


@pytest.fixture(scope="module")
def plan(club: Bench) -> Plan:
    solid = trimesh.util.concatenate(
        [
            trimesh.creation.icosphere(subdivisions=3, radius=10).apply_translation([0, 0, 14]),
            trimesh.creation.box((26, 26, 4)),
        ]
    )
    mesh = plans.add_mesh(club.db, write_stl(solid.vertices, solid.faces), name="ball.stl")
    return plans.start(club.db, NewPlan(mesh=mesh.id, name="Ball", height_mm=28)).plan


@pytest.fixture(scope="module")
def painter(club: Bench, plan: Plan) -> Painter:
    club.pieces.make(plan.piece, going)
    return club.painter(plan)


def apart(one: str, other: str) -> float:
    labs = (lab_of(decode_srgb(parse_hex(c))) for c in (one, other))
    return float(ciede2000(*labs))


# mixes --------------------------------------------------------------------------------------------


def test_mixes_of_the_shelf_come_nearest_first_and_name_a_simple_one(shelf: Shelf) -> None:
    found = mix_from(ShelfMix(target="#7a8f5c"), shelf, going)
    offs = [m.delta_e for m in found.mixes]
    assert offs == sorted(offs)
    assert offs[0] < 1
    assert found.missing is None
    for m in found.mixes:
        assert apart(m.colour, "#7a8f5c") == pytest.approx(m.delta_e, abs=0.6)
        assert set(m.drops) <= {p.id for p in shelf.paints}
        assert sum(m.drops.values()) <= 8
    plainest = found.mixes[found.simplest]
    assert plainest.delta_e <= offs[0] + 1
    size = (len(plainest.drops), sum(plainest.drops.values()))
    assert size == min(
        (len(m.drops), sum(m.drops.values())) for m in found.mixes if m.delta_e <= offs[0] + 1
    )


def test_what_does_not_mix_is_left_out(shelf: Shelf) -> None:
    by_id = {p.id: p for p in shelf.paints}
    for target in ("#b4b8bb", "#f6f6f2", "#4a3f34"):
        for m in mix_from(ShelfMix(target=target), shelf, going).mixes:
            kinds = {by_id[i].kind for i in m.drops}
            assert not kinds & {"metallic", "varnish", "enamel_wash", "lacquer"}
    metal = next(p.id for p in shelf.paints if p.kind == "metallic")
    with pytest.raises(HazeError, match="No paint"):
        mix_from(ShelfMix(target="#808080", only=[metal]), shelf, going)
    with pytest.raises(CancelledError):
        mix_from(ShelfMix(target="#808080"), shelf, stopping)


def test_when_nothing_comes_close_the_missing_paint_is_described(shelf: Shelf) -> None:
    found = mix_from(ShelfMix(target="#00ff66"), shelf, going)
    assert found.missing is not None
    assert "green" in found.missing
    assert "too dull" in found.missing
    greys = [MixPaint(name=n, masstone=h) for n, h in (("Dark", "#202020"), ("Mid", "#707070"))]
    light = mix(MixIn(target="#f0f0f0", paints=greys))
    assert light.missing is not None
    assert "lighter" in light.missing


def test_a_mix_aims_past_what_comes_later(shelf: Shelf) -> None:
    amber = FilmLater(masstone="#f2a01c", finish="satin", dry_film_um=3)
    plain = mix_from(ShelfMix(target="#b98a2e"), shelf, going)
    past = mix_from(ShelfMix(target="#b98a2e", then=[amber]), shelf, going)
    assert plain.aim == "#b98a2e"
    assert apart(past.aim, "#b98a2e") > 3
    assert past.mixes[0].delta_e < 2


def test_names_in_the_command_line_must_differ() -> None:
    twice = [MixPaint(name="Grey", masstone=h) for h in ("#202020", "#707070")]
    with pytest.raises(HazeError, match="'Grey' twice"):
        mix(MixIn(target="#404040", paints=twice))


@pytest.mark.parametrize(
    ("hue", "word"), [(29, "red"), (108, "yellow"), (142, "green"), (262, "blue"), (350, "pink")]
)
def test_hues_have_names(hue: float, word: str) -> None:
    assert hue_word(hue) == word


# ladders ------------------------------------------------------------------------------------------

LADDER = [
    MixPaint(name=n, masstone=h)
    for n, h in (("Tar", "#3b2a20"), ("Buff", "#b79a68"), ("Sail", "#ece2c8"), ("Red", "#8f1f24"))
]


def test_a_ladder_climbs_evenly_in_whole_drops() -> None:
    found = ladder(LadderIn(colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=6, dry_film_um=20))
    lights = [r.lightness for r in found.rungs]
    assert lights == sorted(lights)
    assert found.even
    assert found.evenness <= 1.5
    assert [r.cover for r in found.rungs] == covers_of(6)
    assert found.rungs[0].cover > found.rungs[-1].cover


def test_descending_takes_transparent_paints_only(shelf: Shelf) -> None:
    wish = ShelfLadder(
        colours=["#7a4a24", "#e8c890"], rungs=4, order="descend", over="#f3f2ec", dry_film_um=4
    )
    found = ladder_from(wish, shelf, going)
    lights = [r.lightness for r in found.rungs]
    assert lights == sorted(lights, reverse=True)
    by_id = {p.id: p for p in shelf.paints}
    assert all("transparent" in by_id[i].opacity for r in found.rungs for i in r.drops)
    with pytest.raises(HazeError, match="transparent paints"):
        ladder(LadderIn(colours=["#3b2a20", "#ece2c8"], paints=LADDER, order="descend"))


def test_a_span_begins_in_the_middle_and_ends_in_the_dark() -> None:
    wish = LadderIn(
        colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=5, order="span", dry_film_um=14
    )
    lights = [r.lightness for r in ladder(wish).rungs]
    assert lights[0] == sorted(lights)[2]
    assert max(lights) == lights[2]
    assert min(lights) == lights[-1]


def test_a_hue_ground_and_a_veil_change_what_the_rungs_lie_on_or_under() -> None:
    base = {"colours": ["#3b2a20", "#b79a68"], "paints": LADDER, "rungs": 3, "dry_film_um": 3}
    over_black = ladder(LadderIn.model_validate(base | {"over": "#000000"}))
    hue = ladder(LadderIn.model_validate(base | {"over": "#000000", "order": "hue_ground"}))
    assert hue.rungs[0].lightness > over_black.rungs[0].lightness
    veil = {"masstone": "#f2a01c", "dry_film_um": 4, "finish": "satin"}
    veiled = ladder(LadderIn.model_validate(base | {"order": "veil", "then": [veil]}))
    assert all(r.after_all != r.colour for r in veiled.rungs)


def test_carrying_the_rest_says_what_to_add() -> None:
    wish = LadderIn(
        colours=["#3b2a20", "#ece2c8"], paints=LADDER, rungs=4, cup="carry", dry_film_um=14
    )
    found = ladder(wish)
    assert found.rungs[0].add == found.rungs[0].drops
    assert any(r.add != r.drops for r in found.rungs[1:])


def test_a_chalky_highlight_is_told_with_a_paint_that_is_not() -> None:
    paints_given = [
        MixPaint(name=n, masstone=h)
        for n, h in (("Deep", "#23408f"), ("White", "#f3f2ec"), ("Sky", "#8fb4f0"))
    ]
    found = ladder(
        LadderIn(
            colours=["#23408f", "#e4e8f0"],
            paints=paints_given,
            rungs=3,
            dry_film_um=14,
            use=["Deep", "White"],
        )
    )
    assert any("chalky" in n for r in found.rungs for n in r.notes)
    free = ladder(
        LadderIn(colours=["#23408f", "#e4e8f0"], paints=paints_given[:2], rungs=3, dry_film_um=14)
    )
    assert free.instead is not None


def test_one_colour_and_as_many_rungs_as_needed(shelf: Shelf) -> None:
    found = ladder_from(ShelfLadder(colours=["#4b7a35"], dry_film_um=12), shelf, going)
    assert 4 <= len(found.rungs) <= 12
    assert max(r.step for r in found.rungs) < 0.13


def test_a_ladder_is_put_on_the_piece_with_its_shares(
    plan: Plan, painter: Painter, shelf: Shelf
) -> None:
    wish = ShelfLadder(colours=["#3d4a2a", "#8aa24f"], rungs=3, dry_film_um=6)
    found = ladder_from(wish, shelf, going)
    rungs = [RungWish(drops=r.drops, cover=r.cover, note="add two") for r in found.rungs]
    body = RungsBody(plan=plan, after=4, rungs=rungs)
    out = put_on(body, painter, shelf, going)
    assert len(out.coats) == 3
    assert len({c.id for c in out.coats}) == 3
    assert out.covers == sorted(out.covers, reverse=True)
    for coat, rung in zip(out.coats, rungs, strict=True):
        drops = {coat.paint.id: coat.drops} | {m.paint.id: m.drops for m in coat.also}
        assert drops == rung.drops
        assert coat.note == "add two"
        assert coat.stations
    whole = plan.model_copy(update={"coats": [*plan.coats, *out.coats]})
    work = workings(Plan.model_validate(whole.model_dump()), painter)
    poured = next(w for w in work.coats if w.id == out.coats[0].id).cup.poured
    assert poured[0].role == "thinner"
    assert sum(p.role == "paint" for p in poured) == len(rungs[0].drops)
    with pytest.raises(HazeError, match="no longer on the shelf"):
        put_on(
            RungsBody(plan=plan, after=0, rungs=[RungWish(drops={"gone": 1}, cover=0.5)]),
            painter,
            shelf,
            going,
        )


# samples ------------------------------------------------------------------------------------------


def test_a_core_sample_tells_the_films_at_one_point(plan: Plan, painter: Painter) -> None:
    top = take_sample(SampleBody(plan=plan, at=[0, 0, 24]), painter)
    assert [layer.step for layer in top.layers] == [c.id for c in plan.coats]
    assert top.at[2] == pytest.approx(24, abs=0.6)
    at = int(
        np.argmin(
            np.linalg.norm(
                painter.piece.mesh.vertices - painter.piece.mesh.from_file(np.array([top.at]))[0],
                axis=1,
            )
        )
    )
    films = [film[at] for film, _ in painter.layers(plan, len(plan.coats))]
    assert [layer.film_um for layer in top.layers] == pytest.approx(films)
    assert top.total_um == pytest.approx(sum(films), rel=1e-5)
    colours = painter.colours(plan, after=len(plan.coats), look="as_painted")[at]
    last = parse_hex(top.layers[-1].colour) * 255
    assert np.abs(last - colours).max() <= 2
    low = take_sample(SampleBody(plan=plan, at=[0, 0, -2]), painter)
    assert low.light < top.light
    assert low.part


# sequences ----------------------------------------------------------------------------------------


@pytest.mark.parametrize("what", ["figure", "bust", "vehicle", "terrain"])
@pytest.mark.parametrize("order", ["climb", "descend", "veil", "span"])
def test_three_answers_give_a_whole_sequence(
    what: str, order: str, plan: Plan, painter: Painter, shelf: Shelf
) -> None:
    schools = Schools.model_validate({"order": order})
    body = StartBody.model_validate(
        {
            "plan": plan,
            "what": what,
            "colours": ["#4b7a35", "#33506e", "#e6d7ae"],
            "schools": schools,
        }
    )
    out = started(body, painter, shelf, going)
    tasks = [c.task if c.kind == "spray" else c.role for c in out.plan.coats]
    assert tasks[0] == "prime"
    assert tasks[-1] in ("matt", "satin")
    assert tasks.index("gloss") < tasks.index("wash")
    assert out.plan.schools == schools
    assert out.plan.piece == plan.piece
    assert out.cost.steps == len(tasks)
    assert out.cost.minutes > 10
    stops = [c for c in workings(out.plan, painter).coats if c.spray.verdict == "stop"]
    assert stops == []
    wanted = {"climb": "rung", "descend": "tint", "veil": "veil", "span": "rung"}[order]
    assert wanted in tasks
    if what == "vehicle":
        assert "chips" in tasks
    if what == "terrain":
        assert "dry_brush" in tasks


def test_soft_groundwork_is_sealed_first_and_the_ground_school_is_kept(
    plan: Plan, painter: Painter, shelf: Shelf
) -> None:
    soft = plan.model_copy(deep=True)
    soft.piece.groundwork = "plaster"
    counts = {}
    for ground in ("two_tone", "three_tone", "hue_ground"):
        body = StartBody(
            plan=soft,
            what="terrain",
            colours=["#6f757b"],
            schools=Schools.model_validate({"ground": ground}),
        )
        tasks = [getattr(c, "task", "") for c in started(body, painter, shelf, going).plan.coats]
        assert tasks[0] == "seal"
        counts[ground] = tasks.count("light")
    assert counts["three_tone"] == counts["two_tone"] + 1
    assert counts["hue_ground"] == 0


def test_an_empty_shelf_says_what_is_missing(plan: Plan, painter: Painter) -> None:
    with pytest.raises(HazeError, match="dark primer"):
        started(
            StartBody(plan=plan, what="figure", colours=["#4b7a35"]),
            painter,
            Shelf(paints=[], thinners=[], airbrushes=[]),
            going,
        )


def test_a_veil_of_another_hue_is_told(plan: Plan, painter: Painter, shelf: Shelf) -> None:
    def laid(owned: Shelf, colour: str) -> list[str]:
        schools = plan.schools.model_copy(update={"order": "veil"})
        body = StartBody(plan=plan, what="figure", colours=[colour], schools=schools)
        return started(body, painter, owned, going).notes

    few = [p for p in shelf.paints if p.kind != "transparent" or p.name == "Lamp Amber"]
    lacking = shelf.model_copy(update={"paints": few})
    assert laid(shelf, "#4b7a35") == []
    assert laid(lacking, "#c98a20") == []
    assert laid(lacking, "#808080") == []
    (note,) = laid(lacking, "#2f4fa0")
    assert "taken is" in note


def test_laying_a_sequence_can_be_stopped(plan: Plan, painter: Painter, shelf: Shelf) -> None:
    body = StartBody(plan=plan, what="figure", colours=["#4b7a35"])
    with pytest.raises(CancelledError):
        started(body, painter, shelf, stopping)


def test_pictures_are_png(plan: Plan, painter: Painter) -> None:
    one = plan_picture(PictureBody(plan=plan), painter)
    other = plan_picture(PictureBody(plan=plan, look="value", azimuth_deg=200), painter)
    assert one[:4] == other[:4] == b"\x89PNG"
    assert one != other


def test_one_changed_colour_keeps_every_film(plan: Plan, painter: Painter) -> None:
    films = [film for film, _ in painter.layers(plan, len(plan.coats))]
    other = plan.model_copy(deep=True)
    other.coats[1].paint.masstone = "#a8322c"  # type: ignore[union-attr]
    again = painter.layers(other, len(other.coats))
    assert all(a is b for a, (b, _) in zip(films, again, strict=True))
    assert other.key_light == plan.key_light
    assert isinstance(plan.lights[0], KeyLight)


def test_a_core_sample_leaves_out_what_leaves_no_paint(plan: Plan, painter: Painter) -> None:
    rested = plan.model_copy(deep=True)
    rested.coats.insert(1, HandStep(id="rest", name="Rest", role="rest", minutes=30))
    body = SampleBody(plan=rested, at=[0, 0, 24])
    assert "rest" not in {layer.step for layer in take_sample(body, painter).layers}
    with_rest = take_sample(body, painter)
    without = take_sample(SampleBody(plan=plan, at=[0, 0, 24]), painter)
    assert with_rest.layers[-1].colour == without.layers[-1].colour
    assert with_rest.total_um == pytest.approx(without.total_um)
