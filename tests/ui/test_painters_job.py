"""The painter's job in a real browser, with pointer and keyboard."""

from __future__ import annotations

import urllib.request
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import FloatRect, Locator, Page, Playwright, expect

from haze.formats.meshes import write_stl

pytestmark = pytest.mark.browser
AXE = Path(__file__).parents[2] / "ui" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.fixture(autouse=True)
def _test_ids(playwright: Playwright) -> None:
    playwright.selectors.set_test_id_attribute("data-test")


def open_demo(page: Page, address: str, plan: str = "Wardens") -> None:
    page.goto(address)
    page.get_by_test_id("plan").filter(has_text=plan).click()
    drawn(page)


def drawn(page: Page) -> None:
    page.locator("[data-test=piece][data-drawn]").wait_for()
    page.locator("[data-test^='layer-']").first.wait_for()


def draws(page: Page) -> int:
    return int(page.get_by_test_id("piece").get_attribute("data-drawn") or 0)


def wait_for_draw(page: Page, before: int) -> None:
    expect(page.get_by_test_id("piece")).not_to_have_attribute(
        "data-drawn", str(before), timeout=60_000
    )


def picture(page: Page) -> bytes:
    """The piece as drawn, without the words above it."""
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    words = 40
    clip = FloatRect(
        x=box["x"], y=box["y"] + words, width=box["width"], height=box["height"] - words
    )
    return page.screenshot(clip=clip)


def drag(page: Page, what: Locator, dx: float, dy: float) -> None:
    box = what.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(1, 6):
        page.mouse.move(x + dx * i / 5, y + dy * i / 5)
    page.mouse.up()


def select_coat(page: Page, number: int) -> None:
    page.get_by_test_id(f"layer-{number}").click()
    page.get_by_text(f"after step {number} of").wait_for()


def test_the_demo_shows_the_warden_coat_by_coat(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    expect(page.get_by_role("heading", name="Wardens of the spring tide")).to_be_visible()
    page.keyboard.press("4")  # where no airbrush points at the piece
    seen = [picture(page)]
    for _ in range(12):
        before = draws(page)
        page.keyboard.press("[")
        wait_for_draw(page, before)
        seen.append(picture(page))
    assert len(set(seen)) == 12, "every step but the rest changes the piece"
    expect(page.get_by_text("bare piece", exact=True)).to_be_visible()
    page.keyboard.press("]")
    expect(page.get_by_text("after step 1 of 12")).to_be_visible()


def test_a_dragged_station_changes_the_piece_and_is_saved(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 2)
    azimuth = page.get_by_role("textbox", name="Azimuth")
    angle, before, count = azimuth.input_value(), picture(page), draws(page)
    drag(page, page.locator("[data-test^='station-'] .body").first, 40, 30)
    wait_for_draw(page, count)
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    expect(azimuth).not_to_have_value(angle)
    moved = azimuth.input_value()
    assert picture(page) != before
    for keys, value in (("Control+z", angle), ("Control+Shift+Z", moved), ("Control+z", angle)):
        page.keyboard.press(keys)
        expect(azimuth).to_have_value(value)


def test_a_station_moves_by_typing_and_by_arrow_keys(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 3)
    azimuth, elevation = (
        page.get_by_role("textbox", name="Azimuth"),
        page.get_by_role("textbox", name="Elevation"),
    )
    count = draws(page)
    azimuth.fill("120")
    azimuth.press("Enter")
    wait_for_draw(page, count)
    hold = page.get_by_label("Selected station").get_by_text("turn the show side 120°")
    expect(hold).to_be_visible()
    station = page.locator("[data-test^='station-']").first
    station.focus()
    before = float(elevation.input_value())
    page.keyboard.press("ArrowDown")
    expect(elevation).to_have_value(f"{before - 5:g}")
    page.keyboard.press("Shift+ArrowUp")
    expect(elevation).to_have_value(f"{before - 4:g}")
    azimuth.fill("4000")
    azimuth.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Azimuth takes -360 to 360 °. Kept at 120.")
    azimuth.fill("37,5")
    azimuth.press("Enter")
    expect(azimuth).to_have_value("37.5")
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_keys_lead_through_the_steps_and_looks(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    for key, heading in (
        ("1", "Harbour warden"),
        ("2", "Show side"),
        ("4", "Quay Satin"),
        ("5", "Run sheet"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_role("heading", name=heading).first).to_be_visible()
    page.keyboard.press("3")
    painted, count = picture(page), draws(page)
    page.keyboard.press("v")
    expect(page.get_by_role("radio", name="value")).to_have_attribute("aria-checked", "true")
    wait_for_draw(page, count)
    assert picture(page) != painted
    page.keyboard.press("l")
    expect(page.get_by_role("radio", name="this coat")).to_have_attribute("aria-checked", "true")
    turned = picture(page)
    page.keyboard.press("ArrowRight")
    page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => done(true)))")
    assert picture(page) != turned
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Help")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("dialog", name="Help")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Help")).to_be_hidden()


def test_the_cup_tells_drops_settings_and_cautions(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 5)
    page.keyboard.press("4")
    cup = page.get_by_role("img", name="Cup, in pouring order")
    words = cup.get_attribute("aria-label") or ""
    assert words.index("acrylic thinner") < words.index("Lamp Amber")
    for label in ("Pressure", "Thinner to paint", "Trigger stop", "Distance", "Speed of the hand"):
        expect(page.get_by_label(label, exact=True)).to_be_visible()
    expect(page.get_by_label("Cautions")).to_contain_text("particle filter mask")
    expect(page.get_by_text("19 psi")).to_be_visible()
    page.get_by_label("Pressure", exact=True).focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("20.5 psi")).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("20 psi")).to_be_visible()


def test_a_wild_setting_is_told_and_one_press_mends_it(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 2)
    page.keyboard.press("4")
    distance = page.get_by_label("Distance", exact=True)
    distance.focus()
    for _ in range(11):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("20 mm", exact=True)).to_be_visible()
    advice = page.get_by_label("What to change")
    expect(advice).to_be_visible()
    expect(page.get_by_text("1 to mind")).to_be_visible()
    advice.get_by_role("button", name="Do this").first.click()
    expect(advice).to_be_hidden()
    expect(page.get_by_text("1 to mind")).to_be_hidden()


def test_a_thinner_that_spoils_the_paint_is_told_and_undone(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 5)
    page.keyboard.press("4")
    page.get_by_label("Thinner", exact=True).select_option("white spirit")
    refused = page.get_by_test_id("refused")
    expect(refused).to_contain_text("spoils transparent; accepted are water")
    expect(page.get_by_role("heading", name="No cup")).to_be_visible()
    refused.get_by_role("button", name="Undo").click()
    expect(refused).to_be_hidden()
    expect(page.get_by_role("img", name="Cup, in pouring order")).to_be_visible()


def test_the_run_sheet_has_all_and_prints(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.keyboard.press("5")
    sheet = page.locator("article")
    expect(sheet).to_contain_text("particle filter mask")
    for coat in ("1. Bilge Black", "2. Slate", "4. Tern White", "5. Lamp Amber"):
        expect(sheet.get_by_role("heading", name=coat)).to_be_visible()
    expect(sheet).to_contain_text("drops acrylic thinner, then")
    expect(sheet).to_contain_text("tip the head")
    page.evaluate("window.print = () => (window.printed = true)")
    page.get_by_test_id("print").click()
    assert page.evaluate("window.printed")
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Haze")).to_be_hidden()
    expect(page.get_by_test_id("piece")).to_be_hidden()
    pages = page.pdf(format="A4").count(b"/Type /Page\n")
    assert 1 <= pages <= 7


def test_an_own_mesh_becomes_a_plan(page: Page, empty, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    solid = trimesh.creation.capsule(height=20, radius=8)
    good = tmp_path / "bollard with a rather long name that goes on and on.stl"
    good.write_bytes(write_stl(solid.vertices, solid.faces))
    page_file = tmp_path / "page.stl"
    page_file.write_text("<!doctype html><p>no such file</p>")
    page.goto(empty.address)
    expect(page.get_by_role("heading", name="Nothing planned yet")).to_be_visible()
    page.get_by_role("button", name="Start with a mesh").click()
    page.get_by_test_id("mesh-file").set_input_files(page_file)
    expect(page.get_by_role("alert")).to_contain_text("web page or XML, not a mesh")
    page.get_by_test_id("mesh-file").set_input_files(good)
    page.get_by_role("textbox", name="True height").fill("40")
    page.get_by_role("button", name="Start the plan").click()
    drawn_piece = page.locator("[data-test=piece][data-drawn]")
    drawn_piece.wait_for()
    expect(page.get_by_text("spray can reach")).to_be_visible()
    expect(page.get_by_role("textbox", name="True height")).to_have_value("40")
    page.keyboard.press("3")
    expect(page.get_by_test_id("layer-4")).to_be_visible()


def test_the_stand_in_brings_its_true_height(page: Page, empty) -> None:  # type: ignore[no-untyped-def]
    page.goto(empty.address)
    page.get_by_role("button", name="Start with a mesh").click()
    page.get_by_test_id("stand-in-warden").click()
    expect(page.get_by_role("textbox", name="True height")).to_have_value("46")
    page.get_by_role("textbox", name="Name of the plan").fill("")
    expect(page.get_by_role("button", name="Start the plan")).to_be_disabled()


def test_a_coat_is_added_moved_and_removed(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("dialog").get_by_label("Paint").click()
    page.get_by_role("option", name="Violet Hour Brindlecot").click()
    page.get_by_role("button", name="Add over Quay Satin").click()
    expect(page.get_by_test_id("layer-13")).to_contain_text("Violet Hour")
    page.get_by_role("button", name="Down").click()
    expect(page.get_by_test_id("layer-12")).to_contain_text("Violet Hour")
    page.get_by_role("button", name="Again").click()
    expect(page.get_by_test_id("layer-13")).to_contain_text("Violet Hour")
    page.get_by_test_id("switch").click()
    expect(page.get_by_test_id("layer-13")).to_contain_text("left out")
    page.get_by_role("button", name="Remove").first.click()
    page.get_by_role("button", name="Down").click()
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    page.get_by_test_id("layer-12").click()
    page.get_by_role("button", name="Remove").first.click()
    expect(page.get_by_test_id("layer-14")).to_be_hidden()
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_plan_changed_elsewhere_is_told_and_taken_over(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    other = page.context.new_page()
    open_demo(other, demo.address)
    for one in (other, page):
        one.get_by_role("textbox", name="Passes").fill("7" if one is other else "9")
        one.get_by_role("textbox", name="Passes").press("Enter")
    expect(page.get_by_test_id("saved")).to_have_text("changed elsewhere")
    page.get_by_role("button", name="Take the newer plan").click()
    expect(page.get_by_role("textbox", name="Passes")).to_have_value("7")
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_killed_server_loses_nothing_that_was_shown_as_saved(page: Page, empty) -> None:  # type: ignore[no-untyped-def]
    page.goto(empty.address)
    page.get_by_role("button", name="Open the demo plan").click()
    drawn(page)
    sweep = page.get_by_role("textbox", name="Sweep")
    sweep.fill("33")
    sweep.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    empty.kill()
    sweep.fill("44")
    sweep.press("Enter")
    expect(page.get_by_test_id("saved")).to_have_text("not saved")
    empty.start()
    with urllib.request.urlopen(f"{empty.address}api/plans") as answer:
        assert answer.status == 200
    page.get_by_role("button", name="Save again").click()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.reload()
    drawn(page)
    expect(page.get_by_role("textbox", name="Sweep")).to_have_value("44")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("textbox", name="Sweep")).to_have_value("33")


def test_the_light_moves_by_pointer_and_keyboard(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.keyboard.press("2")
    azimuth = page.get_by_role("textbox", name="Azimuth")
    shares = page.get_by_label("How much is lit")
    expect(shares).to_contain_text("in light")
    before, told = float(azimuth.input_value()), shares.inner_text()
    sun = page.get_by_test_id("sun-dawn")
    sun.focus()
    page.keyboard.press("ArrowLeft")
    expect(azimuth).to_have_value(f"{before + 5:g}")
    drag(page, sun.locator(".disc"), 30, -40)
    expect(azimuth).not_to_have_value(f"{before + 5:g}")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    expect(shares).not_to_have_text(told, use_inner_text=True)
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(azimuth).to_have_value(f"{before:g}")


def test_the_angles_are_worked_out_and_undone(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    select_coat(page, 3)
    page.get_by_label("What this coat does").wait_for()
    azimuth = page.get_by_role("textbox", name="Azimuth")
    before, count = azimuth.input_value(), draws(page)
    page.keyboard.press("a")
    expect(page.get_by_test_id("angles-found")).to_contain_text("of the wanted film off")
    wait_for_draw(page, count)
    page.get_by_test_id("angles-found").get_by_role("button", name="Undo").click()
    expect(azimuth).to_have_value(before)
    expect(page.get_by_test_id("angles-found")).to_be_hidden()
    page.get_by_label("What this coat does").select_option("covers a fifth")
    page.get_by_test_id("work-out").click()
    expect(page.get_by_test_id("angles-found")).to_contain_text("of the surface")
    page.keyboard.press("Control+z")
    expect(azimuth).to_have_value(before)


def test_lights_come_from_a_preset_are_compared_and_go(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Herald")
    page.keyboard.press("2")
    page.get_by_test_id("presets").select_option(label="Two sides: two colours from opposite sides")
    expect(page.locator("[data-test^='sun-']")).to_have_count(2)
    expect(page.get_by_label("How much is lit")).to_contain_text("gets neither")
    page.get_by_test_id("compare").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_alt_text("The light wanted on the piece")).to_have_count(3)
    dialog.get_by_role("button", name="Use this light").nth(1).click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(1)
    page.get_by_role("button", name="Opposite").click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(2)
    page.get_by_label("Opposite key", exact=True).get_by_role("button", name="Remove").click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(1)
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_glow_is_placed_by_the_keyboard_and_a_coat_aimed_round_it(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Herald")
    page.keyboard.press("2")
    page.get_by_test_id("add-glow").click()
    expect(page.get_by_text("Click on the piece where the glow sits.")).to_be_visible()
    page.get_by_test_id("piece").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Full light at")).to_be_visible()
    page.get_by_role("button", name="To the front").click()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("3")
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("dialog").get_by_text("Swept over the whole silhouette").click()
    page.get_by_role("option", name="Only round a glow").click()
    page.get_by_role("dialog").get_by_label("Paint").click()
    page.get_by_role("option", name="Pool Glow Brindlecot").click()
    page.get_by_role("button", name="Add over").click()
    expect(page.get_by_test_id("aim-field")).to_have_value("glow")
    count = draws(page)
    page.get_by_test_id("aim-field").select_option("edges")
    wait_for_draw(page, count)
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_part_is_held_off_named_and_put_back(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Herald")
    page.keyboard.press("1")
    parts = page.get_by_test_id("parts")
    expect(parts).to_contain_text("can be reached")
    count = draws(page)
    page.get_by_label("Plinth: how it stands").select_option("held_off")
    wait_for_draw(page, count)
    name = page.get_by_label("Name of Plinth")
    name.fill("Foot")
    name.press("Enter")
    expect(page.get_by_label("Foot: how it stands")).to_have_value("held_off")
    undo = page.get_by_role("button", name="Undo", exact=True).first
    undo.click()
    expect(page.get_by_label("Plinth: how it stands")).to_have_value("held_off")
    undo.click()
    expect(page.get_by_label("Plinth: how it stands")).to_have_value("attached")
    page.get_by_label("Choose Herald").check()
    page.get_by_role("button", name="Cut", exact=True).click()
    expect(page.get_by_label("Name of Herald, upper")).to_be_visible()
    page.get_by_label("Choose Plinth").check()
    expect(page.get_by_role("button", name="Merge")).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Name of Herald, upper")).to_be_hidden()


def test_every_look_draws_and_tells_what_it_shows(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address, "Lamp stair")
    seen = {picture(page)}
    for look in ("value", "this coat", "reach", "still bare", "light wanted", "off plan"):
        count = draws(page)
        page.get_by_role("radio", name=look, exact=True).click()
        wait_for_draw(page, count)
        seen.add(picture(page))
    assert len(seen) == 7
    expect(page.get_by_text("mid grey: as wanted")).to_be_visible()


def test_the_side_that_faces_the_painter_becomes_the_show_side(page: Page, demo) -> None:  # type: ignore[no-untyped-def]
    open_demo(page, demo.address)
    page.keyboard.press("1")
    for _ in range(9):
        page.keyboard.press("ArrowRight")
    count = draws(page)
    page.get_by_role("button", name="This side shows").click()
    expect(page.get_by_text("Working out which sides each point sees")).to_be_visible()
    wait_for_draw(page, count)
    expect(page.get_by_text("Working out which sides each point sees")).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("saved")).to_have_text("saved")


@pytest.mark.parametrize("theme", ["daylight", "lamp_off"])
@pytest.mark.parametrize("step", ["piece", "light", "coats", "cups", "day"])
def test_every_step_is_free_of_accessibility_faults(
    page: Page,
    demo,
    step: str,
    theme: str,  # type: ignore[no-untyped-def]
) -> None:
    open_demo(page, demo.address)
    page.evaluate("theme => (document.documentElement.dataset.theme = theme)", theme)
    page.get_by_role("link", name=step.capitalize()).click()
    page.wait_for_timeout(300)
    page.evaluate(AXE.read_text("utf-8"))
    found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
    told = [
        (v["id"], [n["target"] for n in v["nodes"]][:4])
        for v in found["violations"]
        if v["impact"] in ("serious", "critical")
    ]
    assert told == []
