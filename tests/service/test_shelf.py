"""The shelf: chips, files in and out, bulk changes, the trash; nothing is half-done."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from haze.core.errors import HazeError
from haze.core.film.spectra import parse_hex
from haze.core.plan.document import AirbrushUsed, MixPart, Swatches
from haze.demo.shelf import paints
from haze.formats.palette import PaletteFile, Swatch, read_palette, write_palette
from haze.formats.shelf_csv import COLUMNS, read_lines, write_rows
from haze.service import shelf
from haze.service.bench import Bench
from haze.service.shelf import (
    BulkChange,
    Compressor,
    MixBody,
    MixLook,
    PaintOnShelf,
    PhotoPick,
    ThinnerOnShelf,
)
from haze.store import shelf as rows
from haze.store.connection import MissingError

words = st.text(
    st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=30
)
hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


@pytest.fixture
def stocked(bench: Bench) -> Bench:
    with bench.db.atomic() as tx:
        for row in paints():
            rows.put_paint(tx, row)
    return bench


def names(bench: Bench) -> list[str]:
    return [c.paint.name for c in shelf.screen(bench.db).chips]


def paint(**change: object) -> PaintOnShelf:
    given_fields: dict[str, object] = {
        "id": "mine",
        "maker": "Oddmere",
        "name": "Quay Stone",
        "kind": "airbrush_acrylic",
        "masstone": "#8a8478",
        "opacity": "opaque",
    }
    return PaintOnShelf.model_validate(given_fields | change)


def test_the_wall_runs_from_greys_through_the_hues(stocked: Bench) -> None:
    chips = shelf.screen(stocked.db).chips
    greys = [i for i, c in enumerate(chips) if c.chroma < shelf.GREY_CHROMA]
    assert greys == list(range(len(greys)))
    lights = [chips[i].lightness for i in greys]
    assert lights == sorted(lights, reverse=True)
    yellow = next(c for c in chips if c.paint.name == "Beacon Yellow")
    assert yellow.passes_dark is not None
    assert yellow.passes_light is not None
    assert yellow.passes_dark > yellow.passes_light
    dark, light = (parse_hex(getattr(yellow, f"over_{g}")) for g in ("dark", "light"))
    assert light.mean() > dark.mean()


def test_a_table_taken_out_and_in_again_changes_nothing(stocked: Bench) -> None:
    before = shelf.screen(stocked.db)
    data = shelf.export_csv(stocked.db)
    again = shelf.import_csv(stocked.db, data, apply=True)
    assert (again.new, again.changed, again.rejected) == (0, 0, [])
    assert again.same == len(before.chips)
    assert shelf.screen(stocked.db) == before


def test_a_shelf_travels_to_an_empty_one(stocked: Bench, tmp_path) -> None:  # type: ignore[no-untyped-def]
    swatched = paint(swatches=Swatches(over_dark="#302818", over_light="#d0b070", film_um=9))
    shelf.put_paint(stocked.db, swatched)
    data = shelf.export_csv(stocked.db)
    other = Bench(tmp_path / "other")
    with other.db.atomic() as tx:
        rows.set_paints_trashed(tx, [r.id for r in rows.paints(tx)], trashed=True)
        rows.empty_paint_trash(tx)
    done = shelf.import_csv(other.db, data, apply=True)
    assert done.new == len(names(stocked))

    def told(bench: Bench) -> list[dict[str, object]]:
        found = [c.paint.model_dump(exclude={"id"}) for c in shelf.screen(bench.db).chips]
        return sorted(found, key=lambda p: str(p["name"]))

    assert told(other) == told(stocked)
    other.close()


def test_an_import_is_looked_at_before_it_changes_anything(stocked: Bench) -> None:
    before = shelf.screen(stocked.db)
    table = (
        b"Name;Maker;Colour;Opacity;ml left\r\n"
        b"Slate;Oddmere;#123456;opaque;3,5\r\n"
        b"New Blue;Tolvane;2244aa;semi opaque;\r\n"
        b"Wrong;Tolvane;blue;opaque;\r\n"
        b"Milky;Tolvane;#112233;milky;\r\n"
        b";Tolvane;#112233;opaque;\r\n"
        b"New Blue;Tolvane;#000000;opaque;\r\n"
        b"Little;Tolvane;#445566;opaque;minus two\r\n"
    )
    seen = shelf.import_csv(stocked.db, table, apply=False)
    assert (seen.new, seen.changed, seen.same) == (1, 1, 0)
    assert not seen.applied
    assert [r.line for r in seen.rejected] == [4, 5, 6, 7, 8]
    reasons = [r.reason for r in seen.rejected]
    assert "colour '#blue'" in reasons[0]
    assert "opacity 'milky'" in reasons[1]
    assert "name" in reasons[2]
    assert "earlier line" in reasons[3]
    assert "ml_left 'minus two'" in reasons[4]
    assert set(seen.lines[0].fields) == {"masstone", "ml_left"}
    assert shelf.screen(stocked.db) == before
    done = shelf.import_csv(stocked.db, table, apply=True)
    assert (done.new, done.changed, len(done.rejected)) == (1, 1, 5)
    found = {c.paint.name: c.paint for c in shelf.screen(stocked.db).chips}
    assert found["Slate"].masstone == "#123456"
    assert found["Slate"].ml_left == 3.5
    assert found["Slate"].kind == "airbrush_acrylic", "what a line leaves out stays"
    assert found["New Blue"].opacity == "semi_opaque"


def test_an_import_that_breaks_off_leaves_nothing(
    stocked: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = names(stocked)
    put, count = rows.put_paint, 0

    def power_cut(tx, row) -> None:  # type: ignore[no-untyped-def]
        nonlocal count
        count += 1
        if count == 3:
            raise RuntimeError("power cut")
        put(tx, row)

    monkeypatch.setattr(rows, "put_paint", power_cut)
    lines = "".join(f"Paint {i},#0000{i:02d}\n" for i in range(10, 20))
    with pytest.raises(RuntimeError):
        shelf.import_csv(stocked.db, f"name,colour\n{lines}".encode(), apply=True)
    assert names(stocked) == before


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"maker,range\nOddmere,Tide\n", "name and colour are missing"),
        (b"name,colour,price\nSlate,#445566,3\n", "no column 'price'"),
        (b"\xfa\xfb\xfc", "not text in UTF-8"),
        (b"name,colour\n" + b"x,#000000\n" * 5001, "at most 5000"),
        (b"x" * (5 * 2**20), "over 4 MiB"),
    ],
)
def test_a_file_that_is_no_shelf_is_refused_by_name(bench: Bench, data: bytes, said: str) -> None:
    with pytest.raises(HazeError, match=said):
        shelf.import_csv(bench.db, data, apply=True)


def test_columns_are_written_as_they_are_read() -> None:
    row = {"name": 'Grey, "wet"', "colour": "#808080", "ml_left": 2.5, "maker": None}
    (line,) = read_lines(write_rows([row]))
    assert set(line.cells) == set(COLUMNS)
    assert line.cells["name"] == 'Grey, "wet"'
    assert line.cells["ml_left"] == "2.5"
    assert line.cells["maker"] == ""


@given(st.lists(st.tuples(words, hexes), max_size=20), words)
@settings(max_examples=60)
def test_a_palette_reads_as_it_was_written(entries: list[tuple[str, str]], name: str) -> None:
    made = PaletteFile(name, tuple(Swatch(n, h) for n, h in entries))
    assert read_palette(write_palette(made)) == made


def test_a_palette_comes_in_by_maker_and_name(stocked: Bench) -> None:
    before = names(stocked)
    out = shelf.export_palette(stocked.db)
    assert shelf.import_palette(stocked.db, out, apply=True).same == len(before)
    assert names(stocked) == before
    more = write_palette(PaletteFile("More", (Swatch("Tolvane Chart Red", "#c01020"),)))
    done = shelf.import_palette(stocked.db, more, apply=True)
    assert done.new == 1
    added = next(c.paint for c in shelf.screen(stocked.db).chips if c.paint.name == "Chart Red")
    assert added.maker == "Tolvane"


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"colours\n1 2 3 x\n", "first line must be"),
        (b"GIMP Palette\n1 2 x\n", "Line 2 is not three numbers"),
        (b"GIMP Palette\nName: x\n1 2 300 far\n", "Line 3 has a number outside"),
    ],
)
def test_a_palette_of_another_form_is_refused(data: bytes, said: str) -> None:
    with pytest.raises(HazeError, match=said):
        read_palette(data)


def test_the_same_change_to_many_is_all_or_none(stocked: Bench) -> None:
    ids = [c.paint.id for c in shelf.screen(stocked.db).chips[:4]]
    after = shelf.change_many(stocked.db, BulkChange(ids=ids, finish="gloss", ml_left=7))
    changed = [c.paint for c in after.chips if c.paint.id in ids]
    assert {(p.finish, p.ml_left) for p in changed} == {("gloss", 7)}
    with pytest.raises(HazeError, match="not on the shelf"):
        shelf.change_many(stocked.db, BulkChange(ids=[*ids, "nobody"], finish="matt"))
    same = [c.paint.finish for c in shelf.screen(stocked.db).chips if c.paint.id in ids]
    assert set(same) == {"gloss"}
    with pytest.raises(HazeError, match="at least one thing"):
        shelf.change_many(stocked.db, BulkChange(ids=ids))


def test_paints_go_to_the_trash_and_come_back(stocked: Bench) -> None:
    all_names = names(stocked)
    ids = [c.paint.id for c in shelf.screen(stocked.db).chips[:2]]
    gone = shelf.put_away(stocked.db, ids, trashed=True)
    assert len(gone.chips) == len(all_names) - 2
    assert {p.id for p in gone.trashed} == set(ids)
    back = shelf.put_away(stocked.db, ids, trashed=False)
    assert [c.paint.name for c in back.chips] == all_names
    shelf.put_away(stocked.db, ids, trashed=True)
    assert shelf.empty_trash(stocked.db).trashed == []
    with pytest.raises(MissingError):
        shelf.put_away(stocked.db, ids, trashed=False)


def test_a_paint_has_one_place_and_swatches_must_tell_something(stocked: Bench) -> None:
    chip = shelf.put_paint(stocked.db, paint())
    assert chip.own == "#8a8478"
    with pytest.raises(HazeError, match="on the shelf already"):
        shelf.put_paint(stocked.db, paint(id="other", name="quay stone "))
    same = Swatches(over_dark="#804020", over_light="#804020", film_um=30)
    with pytest.raises(HazeError, match="look alike"):
        shelf.put_paint(stocked.db, paint(swatches=same))
    kept = next(c.paint for c in shelf.screen(stocked.db).chips if c.paint.id == "mine")
    assert kept.swatches is None


def test_a_mix_is_shown_over_three_grounds_dry_and_wet(stocked: Bench) -> None:
    by_name = {p.name: p for p in shelf.shelf_of(stocked.db).paints}

    def look(pass_um: float = 3.0, **drops: int) -> MixLook:
        parts = [MixPart(paint=by_name[n.replace("_", " ")], drops=d) for n, d in drops.items()]
        return shelf.mix_look(MixBody(parts=parts, pass_um=pass_um))

    half = look(Wrack_Green=1, Lamp_Amber=1)
    assert [g.ground for g in half.grounds] == ["dark", "mid", "light"]
    light = {g.ground: parse_hex(g.dry).mean() for g in half.grounds}
    assert light["light"] > light["dark"]
    assert half.own not in (by_name["Wrack Green"].masstone, by_name["Lamp Amber"].masstone)
    opaque = look(Wrack_Green=1)
    assert all(p.passes is not None for p in opaque.grounds)
    assert (half.grounds[2].passes or 99) > (opaque.grounds[2].passes or 0)
    thin = look(pass_um=1.0, Wrack_Green=1)
    assert (thin.grounds[0].passes or 0) > (opaque.grounds[0].passes or 0)
    assert look(Quay_Matt=1, Quay_Gloss=1).finish == "satin"
    assert look(Quay_Gloss=1).finish == "gloss"


def test_gear_can_be_added_and_put_away_but_not_the_last(bench: Bench) -> None:
    shelf.put_airbrush(bench.db, AirbrushUsed(id="mine", name="Mine", needle_mm=0.4, cup_ml=5))
    shelf.put_thinner(bench.db, ThinnerOnShelf(id="mine", name="Mine", kind="water", ml_left=80))
    after = shelf.put_compressor(
        bench.db, Compressor(id="mine", name="Attic", most_psi=45, tank_l=2.5)
    )
    assert "Mine" in {a.name for a in after.airbrushes}
    assert next(t for t in after.thinners if t.id == "mine").ml_left == 80
    assert next(c for c in after.compressors if c.id == "mine").tank_l == 2.5
    for left in list(after.airbrushes)[1:]:
        shelf.drop_gear(bench.db, "airbrush", left.id)
    with pytest.raises(HazeError, match="last airbrush stays"):
        shelf.drop_gear(bench.db, "airbrush", after.airbrushes[0].id)
    for machine in after.compressors:
        last = shelf.drop_gear(bench.db, "compressor", machine.id)
    assert last.compressors == []
    with pytest.raises(MissingError):
        shelf.drop_gear(bench.db, "compressor", "mine")


def photo() -> bytes:
    """A warm photo: a grey card of L* 50 at the left, a green swatch at the right."""
    pixels = np.zeros((60, 120, 3))
    pixels[:, :60] = parse_hex("#777777")
    pixels[:, 60:] = parse_hex("#4b7a35")
    warm = np.clip((pixels**2.2 * [1.1, 0.95, 0.7]) ** (1 / 2.2), 0, 1)
    out = io.BytesIO()
    Image.fromarray(np.round(warm * 255).astype(np.uint8)).save(out, format="PNG")
    return out.getvalue()


def test_a_colour_is_picked_from_a_photo_against_its_grey() -> None:
    where = PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5)
    found = shelf.pick_from_photo(photo(), where)
    assert np.abs(parse_hex(found.hex) - parse_hex("#4b7a35")).max() * 255 <= 5
    assert found.warning is None
    with pytest.raises(HazeError, match="no photo"):
        shelf.pick_from_photo(b"not a picture", where)


@given(st.binary(max_size=300))
@settings(max_examples=80, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_bytes_are_refused_or_read_never_worse(data: bytes) -> None:
    for read in (read_lines, read_palette):
        try:
            read(data)
        except HazeError:
            continue
