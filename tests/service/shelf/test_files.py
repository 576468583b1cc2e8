"""Shelf files: looked at before anything changes, in whole or not at all, and back again."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from haze.core.errors import HazeError
from haze.core.plan.paint import Swatches
from haze.formats.palette import PaletteFile, Swatch, read_palette, write_palette
from haze.formats.shelf_csv import COLUMNS, read_lines, write_rows
from haze.service.bench import Bench
from haze.service.shelf import files as shelf_files
from haze.service.shelf import shelf
from haze.service.shelf.paints import PaintOnShelf
from haze.store import shelf as rows
from helpers import coarse

words = st.text(
    st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=30
)
hexes = st.integers(0, 0xFFFFFF).map(lambda n: f"#{n:06x}")


def names(bench: Bench) -> list[str]:
    return [c.paint.name for c in shelf.screen(bench.db).chips]


def test_a_table_taken_out_and_in_again_changes_nothing(stocked: Bench) -> None:
    before = shelf.screen(stocked.db)
    data = shelf_files.export_csv(stocked.db)
    again = shelf_files.import_csv(stocked.db, data, apply=True)
    assert (again.new, again.changed, again.rejected) == (0, 0, [])
    assert again.same == len(before.chips)
    assert shelf.screen(stocked.db) == before


def test_a_shelf_travels_to_an_empty_one(stocked: Bench, tmp_path) -> None:  # type: ignore[no-untyped-def]
    swatched = PaintOnShelf(
        id="mine",
        maker="Oddmere",
        name="Quay Stone",
        kind="airbrush_acrylic",
        masstone="#8a8478",
        opacity="opaque",
        swatches=Swatches(over_dark="#302818", over_light="#d0b070", film_um=9),
    )
    shelf.put_paint(stocked.db, swatched)
    data = shelf_files.export_csv(stocked.db)
    other = coarse(tmp_path / "other")
    with other.db.atomic() as tx:
        rows.set_paints_trashed(tx, [r.id for r in rows.paints(tx)], trashed=True)
        rows.empty_paint_trash(tx)
    done = shelf_files.import_csv(other.db, data, apply=True)
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
    seen = shelf_files.import_csv(stocked.db, table, apply=False)
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
    done = shelf_files.import_csv(stocked.db, table, apply=True)
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
        shelf_files.import_csv(stocked.db, f"name,colour\n{lines}".encode(), apply=True)
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
        (b"name,colour\n" + b"y" * 200_000, "Line 2 of the file is no line of a table"),
    ],
)
def test_a_file_that_is_no_shelf_is_refused_by_name(bench: Bench, data: bytes, said: str) -> None:
    with pytest.raises(HazeError, match=said):
        shelf_files.import_csv(bench.db, data, apply=True)


def test_columns_are_written_as_they_are_read() -> None:
    row = {"name": 'Grey, "wet"', "colour": "#808080", "ml_left": 2.5, "maker": None}
    (line,) = read_lines(write_rows([row]))
    assert set(line.cells) == set(COLUMNS)
    assert line.cells["name"] == 'Grey, "wet"'
    assert line.cells["ml_left"] == "2.5"
    assert line.cells["maker"] == ""


@pytest.mark.parametrize("ending", ["\n", "\r\n", "\r"])
def test_lines_may_end_as_any_program_ends_them(ending: str) -> None:
    text = ending.join(["name,colour", "Slate,#445566", '"Grey, wet",#808080', ""])
    found = read_lines(text.encode())
    assert [line.cells["name"] for line in found] == ["Slate", "Grey, wet"]
    assert [line.number for line in found] == [2, 3]


TABLE_LIKE = st.lists(
    st.sampled_from([b"name", b"colour", b",", b";", b'"', b"\r", b"\n", b"\0", b"#8080", b" "])
).map(b"".join)


@given(st.lists(st.tuples(words, hexes), max_size=20), words)
@settings(max_examples=60)
def test_a_palette_reads_as_it_was_written(entries: list[tuple[str, str]], name: str) -> None:
    made = PaletteFile(name, tuple(Swatch(n, h) for n, h in entries))
    assert read_palette(write_palette(made)) == made


def test_a_palette_comes_in_by_maker_and_name(stocked: Bench) -> None:
    before = names(stocked)
    out = shelf_files.export_palette(stocked.db)
    assert shelf_files.import_palette(stocked.db, out, apply=True).same == len(before)
    assert names(stocked) == before
    more = write_palette(PaletteFile("More", (Swatch("Tolvane Chart Red", "#c01020"),)))
    done = shelf_files.import_palette(stocked.db, more, apply=True)
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


@given(st.one_of(st.binary(max_size=300), TABLE_LIKE, TABLE_LIKE.map(b"name,colour\n".__add__)))
@settings(max_examples=200, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_any_bytes_are_refused_or_read_never_worse(data: bytes) -> None:
    for read in (read_lines, read_palette):
        try:
            read(data)
        except HazeError:
            continue


def test_an_id_is_made_of_plain_letters() -> None:
    assert shelf_files.slug("Oddmere", "Gannet Yellow") == "oddmere-gannet-yellow"
    assert shelf_files.slug("", "Crème № 5") == "creme-no-5"
    assert shelf_files.slug("", "—") == "paint"


def test_cells_a_spreadsheet_would_run_are_text_and_come_back_equal(bench: Bench) -> None:
    wild = ["=1+1", "+A1", "-2", "@now", "'quoted", "''twice", "\t=x", "plain"]
    data = write_rows([{"maker": w, "name": f"{w} paint", "colour": "#102030"} for w in wild])
    for line in data.decode().splitlines()[1:]:
        assert not line.lstrip('"').startswith(("=", "+", "-", "@", "\t"))
    back = [(line.cells["maker"], line.cells["name"]) for line in read_lines(data)]
    assert back == [(w, f"{w} paint") for w in wild]


def test_a_look_at_a_table_holds_nobody_up(stocked: Bench) -> None:
    rows_in = [{"name": f"Chart {n}", "colour": f"#{n:06x}"} for n in range(300)]
    other = coarse(stocked.folder)
    with other.db.atomic():  # somebody is in the middle of a save
        seen = shelf_files.import_csv(stocked.db, write_rows(rows_in), apply=False)
    assert (seen.new, seen.applied) == (300, False)
    other.close()


def test_a_shelf_changed_while_a_table_is_looked_at_is_looked_at_again(
    stocked: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    table = write_rows([{"name": "Chart Red", "colour": "#c01020"}])
    looked, look = [], shelf_files._looked_at

    def meanwhile(db, lines, usual):  # type: ignore[no-untyped-def]
        looked.append(len(looked))
        found = look(db, lines, usual)
        if len(looked) == 1:
            red = PaintOnShelf(
                id="red", name="Chart Red", masstone="#000000", kind="ink", opacity="opaque"
            )
            shelf.put_paint(db, red)
        return found

    monkeypatch.setattr(shelf_files, "_looked_at", meanwhile)
    done = shelf_files.import_csv(stocked.db, table, apply=True)
    assert (done.new, done.changed, done.applied) == (0, 1, True)
    assert looked == [0, 1]
    assert names(stocked).count("Chart Red") == 1


def pasted(bench: Bench, text: str, *, apply: bool = True) -> shelf_files.ImportPreview:
    return shelf_files.import_list(
        bench.db, text, maker="Oddmere", kind="brush_acrylic", apply=apply
    )


def by_name(bench: Bench) -> dict[str, PaintOnShelf]:
    return {c.paint.name: c.paint for c in shelf.screen(bench.db).chips}


def test_a_pasted_list_is_looked_at_and_comes_in_as_one_step(stocked: Bench) -> None:
    before = names(stocked)
    text = "Dark Rust\nFresh Kelp #2f5a3c, Tolvane\nKelp Ink Green, 20 ml\nMoonlit\nDark rust\n"
    look = pasted(stocked, text, apply=False)
    assert (look.new, look.applied, names(stocked)) == (3, False, before)
    assert [r.line for r in look.rejected] == [4, 5]
    assert "no colour" in look.rejected[0].reason
    pasted(stocked, text)
    found = by_name(stocked)
    assert (found["Dark Rust"].maker, found["Dark Rust"].kind) == ("Oddmere", "brush_acrylic")
    assert found["Dark Rust"].colour_from == "guessed"
    assert (found["Fresh Kelp"].maker, found["Fresh Kelp"].colour_from) == ("Tolvane", "given")
    ink = found["Kelp Ink Green"]
    assert (ink.kind, ink.opacity, ink.ml_left) == ("ink", "semi_transparent", 20)
    shelf.undo(stocked.db)
    assert names(stocked) == before


def test_a_guess_never_replaces_a_colour_and_one_that_was_set_is_no_guess(stocked: Bench) -> None:
    pasted(stocked, "Wrack Rust #884422\nDark Rust")
    before = by_name(stocked)
    assert pasted(stocked, "Wrack Rust\nDark Rust").same == 2
    assert by_name(stocked) == before
    guess = before["Dark Rust"]
    shelf.put_paint(stocked.db, guess.model_copy(update={"name": "Darker Rust"}))
    assert by_name(stocked)["Darker Rust"].colour_from == "guessed"
    shelf.put_paint(stocked.db, guess.model_copy(update={"masstone": "#5a2a18"}))
    assert by_name(stocked)["Dark Rust"].colour_from == "given"
    pasted(stocked, "Pale Rust")
    pasted(stocked, "Pale Rust #cc9977")
    assert by_name(stocked)["Pale Rust"].colour_from == "given"


def test_a_guess_stays_one_in_a_table(stocked: Bench) -> None:
    pasted(stocked, "Dark Rust")
    again = shelf_files.import_csv(stocked.db, shelf_files.export_csv(stocked.db), apply=True)
    assert again.changed == 0
    assert by_name(stocked)["Dark Rust"].colour_from == "guessed"
