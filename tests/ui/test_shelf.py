"""The shelf, in a real browser."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import choose, open_demo, open_shelf

pytestmark = pytest.mark.browser


@pytest.mark.thorough
def test_a_paint_is_found_changed_put_away_and_taken_back(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    expect(page.get_by_text("90 paints")).to_be_visible()
    page.get_by_label("Find", exact=True).fill("heron")
    expect(page.get_by_text("1 of 90 paints")).to_be_visible()
    page.get_by_role("button", name="Heron Mauve Oddmere").click()
    editor = page.get_by_test_id("paint-editor")
    expect(editor).to_contain_text("over dark")
    editor.get_by_label("Colour", exact=True).fill("7a5a88")
    editor.get_by_label("Name", exact=True).click()
    choose(editor, "Finish", "satin")
    editor.get_by_role("button", name="Save").click()
    expect(editor).to_be_hidden()
    page.get_by_role("button", name="Heron Mauve Oddmere").click()
    expect(editor.get_by_label("Colour", exact=True)).to_have_value("#7a5a88")
    editor.get_by_label("Colour", exact=True).fill("mauve")
    editor.get_by_label("Colour", exact=True).press("Enter")
    expect(editor.get_by_role("alert")).to_contain_text("six digits")
    editor.get_by_role("button", name="Delete").click()
    expect(page.get_by_text("0 of 89 paints")).to_be_visible()
    expect(page.get_by_text("No paint fits")).to_be_visible()
    page.get_by_role("button", name="Trash (").click()
    expect(page.get_by_role("dialog", name="Trash")).to_be_visible()
    page.get_by_role("dialog").get_by_role("button", name="Restore").first.click()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 of 90 paints")).to_be_visible()


def test_many_paints_change_alike(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    choose(page, "Kind", "ink")
    page.get_by_role("button", name="Select").click()
    page.get_by_role("button", name="All shown").click()
    page.get_by_test_id("bulk").click()
    bulk = page.get_by_test_id("bulk-edit")
    bulk.get_by_label("Range").fill("Ink well")
    bulk.get_by_role("button", name="Change all 5").click()
    expect(bulk).to_be_hidden()
    page.get_by_role("button", name="Done").click()
    page.get_by_label("Find", exact=True).fill("ink well")
    expect(page.get_by_text("5 of 90 paints")).to_be_visible()


def test_a_change_is_undone_by_key_and_done_again_by_button(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    chip = page.get_by_role("button", name="Harbour Grey Oddmere")
    page.get_by_label("Find", exact=True).fill("harbour")
    chip.click()
    editor = page.get_by_test_id("paint-editor")
    editor.get_by_label("Name", exact=True).fill("Harbour Two")
    editor.get_by_role("button", name="Save").click()
    changed = page.get_by_role("button", name="Harbour Two Oddmere")
    expect(changed).to_be_visible()
    page.get_by_role("heading", name="Shelf").click()
    page.keyboard.press("Control+z")
    expect(chip).to_be_visible()
    expect(changed).to_be_hidden()
    page.get_by_role("button", name="Redo").click()
    expect(changed).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(chip).to_be_visible()


def test_strength_is_learned_from_one_mix_with_white(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    page.get_by_role("button", name="Ensign Red Tolvane").click()
    test = page.get_by_test_id("strength")
    expect(test).to_contain_text("1 × usual")
    test.get_by_role("button", name="How strongly it colours").click()
    choose(test, "White", "Tern White")
    colour = test.get_by_label("Colour of the dry mix", exact=True)
    colour.fill("#f3f2ec")
    colour.press("Enter")
    test.get_by_role("button", name="Learn from this mix").click()
    expect(test.get_by_role("alert")).to_contain_text("strength")
    colour.fill("#d87a78")
    colour.press("Enter")
    test.get_by_role("button", name="Learn from this mix").click()
    expect(test.get_by_role("status")).to_contain_text("One drop colours like")
    expect(test.get_by_role("button", name="How strongly it colours")).not_to_contain_text(
        "1 × usual"
    )


def test_a_table_is_looked_at_before_it_comes_in(page: Page, demo: Server, tmp_path: Path) -> None:
    table = tmp_path / "more.csv"
    table.write_text("name,maker,colour\nChart Red,Tolvane,#c01020\nBad,Tolvane,reddish\n")
    open_shelf(page, demo.address)
    page.get_by_test_id("files").click()
    files = page.get_by_test_id("shelf-files")
    files.locator("input[type=file]").set_input_files(table)
    preview = files.get_by_test_id("preview")
    expect(preview).to_contain_text("1 new, 0 changed, 0 as they are, 1 line not understood")
    expect(preview).to_contain_text("Nothing is changed yet")
    expect(files.get_by_label("Lines not understood")).to_contain_text("line 3")
    files.get_by_role("button", name="Import 1").click()
    expect(preview).to_contain_text("Done.")
    page.keyboard.press("Escape")
    expect(page.get_by_text("91 paints")).to_be_visible()
    with page.expect_download() as got:
        page.get_by_test_id("files").click()
        files.get_by_role("link", name="The shelf as a table").click()
    assert "Chart Red" in Path(got.value.path()).read_text("utf-8")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Chart Red Tolvane").click()
    page.get_by_test_id("paint-editor").get_by_role("button", name="Delete").click()


@pytest.mark.thorough
def test_gear_is_added_and_used_in_a_plan(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    page.get_by_test_id("gear").click()
    gear = page.get_by_test_id("gear-list")
    gear.get_by_label("Airbrush name").fill("Broad, 0.6 mm")
    gear.get_by_label("Needle", exact=True).fill("6")
    gear.get_by_role("button", name="Add").first.click()
    expect(gear.get_by_role("alert")).to_contain_text("needle_mm")
    gear.get_by_label("Needle", exact=True).fill("0,6")
    gear.get_by_role("button", name="Add").first.click()
    expect(gear.get_by_text("0.6 mm needle")).to_be_visible()
    open_demo(page, demo)
    page.keyboard.press("4")
    page.get_by_role("button", name="Airbrush, thinner, cleaning").click()
    choose(page, "Airbrush and needle", "Broad, 0.6 mm")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")


@pytest.mark.thorough
def test_an_empty_shelf_offers_a_list_or_made_up_paints(page: Page, empty: Server) -> None:
    page.goto(f"{empty.address}shelf")
    first = page.get_by_test_id("first-shelf")
    first.get_by_role("button", name="Import a file").click()
    expect(page.get_by_role("dialog", name="Import / export")).to_be_visible()
    page.keyboard.press("Escape")
    first.get_by_test_id("example").click()
    expect(first).to_have_count(0)
    expect(page.get_by_role("button", name="Bilge Black")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(first).to_be_visible()


LISTED = [
    "Rust",
    "Kelp Green",
    "Tern White",
    "Bilge Black",
    "Harbour Blue Grey",
    "Rope Buff",
    "Brass Rail",
    "Hull Grey Primer",
    "Quay Matt Varnish",
    "Lamp Amber Clear",
]
SHADES = ("Dark", "Pale", "Dull")


def test_ten_paints_are_typed_with_a_press_each(page: Page, empty: Server) -> None:
    """Of a new shelf: the name tells colour and kind, the maker is remembered."""
    page.goto(f"{empty.address}shelf")
    page.get_by_role("button", name="Add a paint").click()
    editor = page.get_by_test_id("paint-editor")
    expect(editor.get_by_label("Name", exact=True)).to_be_focused()
    another = editor.get_by_test_id("another")
    expect(another).to_be_disabled()
    page.keyboard.type("Moonlit")
    expect(editor.get_by_test_id("colour-from")).to_contain_text("says no colour")
    expect(another).to_be_disabled()
    editor.get_by_label("Maker").fill("Oddmere")
    for name in LISTED:
        editor.get_by_label("Name", exact=True).fill(name)
        expect(another).to_be_enabled()
        another.click()
        expect(editor.get_by_role("status")).to_have_text(f"{name} is on the shelf.")
        expect(editor.get_by_label("Name", exact=True)).to_be_focused()
        expect(editor.get_by_label("Name", exact=True)).to_have_value("")
        expect(editor.get_by_label("Maker")).to_have_value("Oddmere")
    page.keyboard.press("Escape")
    expect(page.get_by_text("10 paints")).to_be_visible()
    page.get_by_text("colour guessed (10)").click()
    page.get_by_role("button", name="Rust Oddmere").click()
    editor.get_by_label("Colour", exact=True).fill("#7a3a1c")
    editor.get_by_label("Name", exact=True).click()
    editor.get_by_role("button", name="Save").click()
    expect(page.get_by_text("colour guessed (9)")).to_be_visible()
    expect(page.get_by_text("9 of 10 paints")).to_be_visible()


def test_sixty_paints_are_pasted(page: Page, empty: Server) -> None:
    """A list out of somebody's notes, three presses; a line not understood is named by number."""
    lines = [f"{n}. {w} {name}, Oddmere" for n, w in enumerate(SHADES, 1) for name in LISTED]
    lines += [f"Sea glass {n} #{n:02x}{n:02x}60, Tolvane, ink" for n in range(16, 46)]
    page.goto(f"{empty.address}shelf")
    page.get_by_test_id("paste-list").click()
    paste = page.get_by_test_id("paste")
    expect(paste.get_by_label("Paints, one a line")).to_be_focused()
    page.keyboard.insert_text("\n".join([*lines, "Moonlit"]))
    expect(paste.get_by_test_id("preview")).to_contain_text("60 new, 0 changed, 0 as they are")
    expect(paste.get_by_label("Lines not understood")).to_contain_text("line 61")
    paste.get_by_role("button", name="Add 60 paints").click()
    expect(paste).to_be_hidden()
    expect(page.get_by_text("60 paints", exact=True)).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_test_id("first-shelf")).to_be_visible()
