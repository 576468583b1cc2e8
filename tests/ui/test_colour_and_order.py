"""Shelf, mixes, ladders, findings, core samples and steps by hand, in a real browser."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, Playwright, expect

from ui.test_painters_job import AXE, draws, open_demo, select_coat, wait_for_draw

pytestmark = pytest.mark.browser


@pytest.fixture(autouse=True)
def _test_ids(playwright: Playwright) -> None:
    playwright.selectors.set_test_id_attribute("data-test")


def open_shelf(page: Page, address: str) -> None:
    page.goto(f"{address}shelf")
    page.get_by_test_id("wall").get_by_role("button").first.wait_for()


def test_a_paint_is_found_changed_put_away_and_taken_back(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    expect(page.get_by_text("90 paints")).to_be_visible()
    page.get_by_label("Find", exact=True).fill("heron")
    expect(page.get_by_text("1 of 90 paints")).to_be_visible()
    page.get_by_role("button", name="Heron Mauve Oddmere").click()
    editor = page.get_by_test_id("paint-editor")
    expect(editor).to_contain_text("over dark")
    editor.get_by_label("Colour", exact=True).fill("7a5a88")
    editor.get_by_label("Name", exact=True).click()
    editor.get_by_label("Finish", exact=True).select_option("satin")
    editor.get_by_role("button", name="Keep").click()
    expect(editor).to_be_hidden()
    page.get_by_role("button", name="Heron Mauve Oddmere").click()
    expect(editor.get_by_label("Colour", exact=True)).to_have_value("#7a5a88")
    editor.get_by_label("Colour", exact=True).fill("mauve")
    editor.get_by_label("Colour", exact=True).press("Enter")
    expect(editor.get_by_role("alert")).to_contain_text("six digits")
    editor.get_by_role("button", name="Put away").click()
    expect(page.get_by_text("0 of 89 paints")).to_be_visible()
    expect(page.get_by_text("No paint fits")).to_be_visible()
    page.get_by_role("button", name="Trash (").click()
    page.get_by_role("dialog").get_by_role("button", name="Take back").first.click()
    page.keyboard.press("Escape")
    expect(page.get_by_text("1 of 90 paints")).to_be_visible()


def test_many_paints_change_alike(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    page.get_by_label("Kind", exact=True).select_option("ink")
    page.get_by_role("button", name="Choose several").click()
    page.get_by_role("button", name="All shown").click()
    page.get_by_test_id("bulk").click()
    bulk = page.get_by_test_id("bulk-edit")
    bulk.get_by_label("Range").fill("Ink well")
    bulk.get_by_role("button", name="Change all 5").click()
    expect(bulk).to_be_hidden()
    page.get_by_role("button", name="Stop choosing").click()
    page.get_by_label("Find", exact=True).fill("ink well")
    expect(page.get_by_text("5 of 90 paints")).to_be_visible()


def test_a_change_on_the_shelf_is_undone_by_key_and_done_again_by_button(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    chip = page.get_by_role("button", name="Harbour Grey Oddmere")
    page.get_by_label("Find", exact=True).fill("harbour")
    chip.click()
    editor = page.get_by_test_id("paint-editor")
    editor.get_by_label("Name", exact=True).fill("Harbour Two")
    editor.get_by_role("button", name="Keep").click()
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


def test_strength_is_learned_from_one_mix_with_white(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    page.get_by_role("button", name="Ensign Red Tolvane").click()
    test = page.get_by_test_id("strength")
    expect(test).to_contain_text("1 × usual")
    test.locator("summary").click()
    test.get_by_label("White", exact=True).select_option(label="Tern White")
    colour = test.get_by_label("Colour of the dry mix", exact=True)
    colour.fill("#f3f2ec")
    colour.press("Enter")
    test.get_by_role("button", name="Learn from this mix").click()
    expect(test.get_by_role("alert")).to_contain_text("strength")
    colour.fill("#d87a78")
    colour.press("Enter")
    test.get_by_role("button", name="Learn from this mix").click()
    expect(test.get_by_role("status")).to_contain_text("One drop colours like")
    expect(test.locator("summary")).not_to_contain_text("1 × usual")


def test_a_table_is_looked_at_before_it_comes_in(page: Page, demo, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
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
    files.get_by_role("button", name="Bring 1 in").click()
    expect(preview).to_contain_text("Done.")
    page.keyboard.press("Escape")
    expect(page.get_by_text("91 paints")).to_be_visible()
    with page.expect_download() as got:
        page.get_by_test_id("files").click()
        files.get_by_role("link", name="The shelf as a table").click()
    assert "Chart Red" in Path(got.value.path()).read_text("utf-8")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Chart Red Tolvane").click()
    page.get_by_test_id("paint-editor").get_by_role("button", name="Put away").click()


def test_gear_is_added_and_used_in_a_plan(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    page.get_by_test_id("gear").click()
    gear = page.get_by_test_id("gear-list")
    gear.get_by_label("Airbrush name").fill("Broad, 0.6 mm")
    gear.get_by_label("Needle in mm").fill("6")
    gear.get_by_role("button", name="Add").first.click()
    expect(gear.get_by_role("alert")).to_contain_text("needle_mm")
    gear.get_by_label("Needle in mm").fill("0,6")
    gear.get_by_role("button", name="Add").first.click()
    expect(gear.get_by_text("0.6 mm needle")).to_be_visible()
    open_demo(page, demo.address)
    page.keyboard.press("4")
    page.get_by_label("Airbrush and needle").select_option("Broad, 0.6 mm")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")


def test_a_colour_is_mixed_and_taken_into_the_coat(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 2)
    page.get_by_test_id("mix").click()
    dialog = page.get_by_role("dialog", name="Mix toward a colour")
    dialog.get_by_label("Wanted colour", exact=True).fill("#7a6f5c")
    dialog.get_by_test_id("look").click()
    mixes = dialog.get_by_test_id("mixes")
    expect(mixes).to_contain_text("plainest")
    count = draws(page)
    mixes.get_by_role("button", name="Use").first.click()
    wait_for_draw(page, count)
    expect(dialog).to_be_hidden()
    expect(page.get_by_role("button", name="Mix anew")).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("4")
    words = page.get_by_role("img", name="Cup, in pouring order").get_attribute("aria-label") or ""
    assert words.count(",") >= 2
    page.keyboard.press("Control+z")
    page.keyboard.press("3")
    expect(page.get_by_role("button", name="Mix anew")).to_be_hidden()


def test_a_colour_comes_from_a_photo(page: Page, demo, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    image = Image.new("RGB", (200, 100), "#777777")
    image.paste("#4b7a35", (100, 0, 200, 100))
    out = io.BytesIO()
    image.save(out, format="PNG")
    photo = tmp_path / "swatch.png"
    photo.write_bytes(out.getvalue())
    open_shelf(page, demo.address)
    page.get_by_test_id("shelf-mix").click()
    page.locator("input[type=file]").first.set_input_files(photo)
    dialog = page.get_by_role("dialog", name="A colour from a photo")
    picture = dialog.get_by_alt_text("The photo that was chosen")
    picture.wait_for()
    box = picture.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * 0.25, box["y"] + box["height"] / 2)
    page.mouse.click(box["x"] + box["width"] * 0.75, box["y"] + box["height"] / 2)
    expect(dialog).to_contain_text("#4b7a35")
    dialog.get_by_role("button", name="Take this colour").click()
    mix = page.get_by_role("dialog", name="Mix toward a colour")
    expect(mix.get_by_label("Wanted colour", exact=True)).to_have_value("#4b7a35")


def test_a_ladder_is_built_and_put_on_the_piece(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 4)
    page.get_by_test_id("ladder").click()
    drawer = page.get_by_test_id("ladder-drawer")
    drawer.get_by_label("Rungs", exact=True).first.fill("4")
    drawer.get_by_label("Rungs", exact=True).first.press("Enter")
    drawer.get_by_test_id("build").click()
    expect(drawer.get_by_role("img", name="The ladder")).to_be_visible()
    expect(drawer.get_by_role("table", name="Rungs").get_by_role("row")).to_have_count(5)
    drawer.get_by_test_id("put-on").click()
    expect(drawer).to_be_hidden()
    expect(page.get_by_test_id("layer-16")).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-16")).to_be_hidden()


def test_a_finding_is_mended_by_one_press_or_quieted(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 4)
    for at in (3, 2):
        page.get_by_role("button", name="Down", exact=True).click()
        page.get_by_text(f"after step {at} of").wait_for()
    finding = page.get_by_test_id("white_over_black")
    expect(finding).to_contain_text("will speck")
    expect(page.get_by_test_id("layer-2")).to_contain_text("mind")
    finding.get_by_role("button", name="Quiet").click()
    finding.get_by_label("Why this is as it should be").fill("a night sky")
    finding.get_by_role("button", name="Quiet it here").click()
    expect(finding).to_be_hidden()
    expect(page.get_by_text("“a night sky”")).to_be_visible()
    page.get_by_role("button", name="Hear it again").click()
    expect(finding).to_be_visible()
    finding.get_by_role("button", name="Add a mid tone under it").click()
    expect(page.get_by_test_id("layer-13")).to_be_visible()
    expect(finding).to_be_hidden()
    for _ in range(5):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-4")).to_contain_text("Tern White")


def test_core_samples_are_taken_by_click_and_key_and_pinned(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.52)
    samples = page.get_by_test_id("samples")
    first = samples.get_by_role("table", name="Sample 1")
    expect(first).to_contain_text("Bilge Black", timeout=30_000)  # a first plan is worked out
    page.keyboard.press("c")
    expect(samples.get_by_role("table", name="Sample 2")).to_contain_text("bare surface")
    samples.get_by_role("button", name="Mix this colour").first.click()
    expect(page.get_by_role("dialog", name="Mix toward a colour")).to_be_visible()
    page.keyboard.press("Escape")
    samples.get_by_role("button", name="Take away").first.click()
    expect(samples.get_by_role("table")).to_have_count(1)
    page.get_by_test_id("piece").focus()
    page.keyboard.press("Escape")
    expect(samples).to_be_hidden()


def test_a_step_by_hand_is_added_and_told_on_the_day(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("dialog").get_by_text("Light: a lighter coat from the light").click()
    page.get_by_role("option", name="Dry brush", exact=True).click()
    page.get_by_role("dialog").get_by_label("Paint").click()
    page.get_by_role("option", name="Gull Wing Oddmere").click()
    page.get_by_role("button", name="Add over").click()
    expect(page.get_by_role("heading", name="Gull Wing")).to_be_visible()
    expect(page.get_by_test_id("dry_brush_early")).to_contain_text("Let it rest")
    count = draws(page)
    page.get_by_role("textbox", name="How strong").fill("100")
    page.get_by_role("textbox", name="How strong").press("Enter")
    wait_for_draw(page, count)
    page.get_by_role("link", name="Day").click()
    expect(page.locator("article")).to_contain_text("By hand")
    expect(page.locator("article")).to_contain_text("almost nothing")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")


def test_two_schools_are_laid_side_by_side_and_one_is_taken(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Herald")
    page.get_by_test_id("sequence").click()
    dialog = page.get_by_test_id("start-sequence")
    dialog.get_by_label("What is it?").select_option("A bust")
    dialog.get_by_test_id("lay").click()
    pictures = dialog.get_by_alt_text("The piece painted by this school")
    expect(pictures).to_have_count(2, timeout=60_000)
    dialog.get_by_test_id("use-1").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_test_id("layer-1")).to_contain_text("ground")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-2")).to_contain_text("Tern White")


def test_three_ways_to_prime_are_compared(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.get_by_test_id("priming").click()
    ways = page.get_by_test_id("ways")
    expect(ways.get_by_alt_text("The values it leaves")).to_have_count(3, timeout=60_000)
    expect(ways).to_contain_text("outdoors or in a proper booth only")
    expect(ways).to_contain_text("vapour cartridge")


def test_a_plan_without_a_light_coat_is_primed_from_the_shelf(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Marrow")
    page.keyboard.press("3")
    page.get_by_test_id("priming").click()
    expect(page.get_by_test_id("assumed")).to_contain_text("no light coat", timeout=60_000)
    expect(page.get_by_alt_text("The values it leaves")).to_have_count(3, timeout=60_000)


@pytest.mark.parametrize("theme", ["daylight", "lamp_off"])
def test_the_shelf_is_free_of_accessibility_faults(page: Page, demo, theme: str) -> None:  # type: ignore[no-untyped-def]
    open_shelf(page, demo.address)
    page.evaluate("theme => (document.documentElement.dataset.theme = theme)", theme)
    page.evaluate(AXE.read_text("utf-8"))
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    told = [
        (v["id"], [n["target"] for n in v["nodes"]][:4])
        for v in found["violations"]
        if v["impact"] in ("serious", "critical")
    ]
    assert told == []
