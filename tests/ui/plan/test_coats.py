"""Coats: stations, steps, findings, samples, schemes, in a real browser."""

from __future__ import annotations

import re
from collections import Counter

import pytest
from playwright.sync_api import Page, Request, expect
from serving import Server

from ui.screens import (
    after,
    choose,
    chosen,
    clear_to_all,
    drag,
    draws,
    open_demo,
    picture,
    select_coat,
    smooth,
    wait_for_draw,
)

pytestmark = pytest.mark.browser


@pytest.mark.drawn
def test_a_dragged_station_changes_the_piece_and_is_saved(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 6)
    smooth(page)
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


def test_one_release_is_one_computation(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 6)
    smooth(page)
    # findings and rounds come in above the sky: until then it moves away from under the pointer
    expect(page.get_by_test_id("rounds")).to_be_visible()
    page.wait_for_load_state("networkidle")
    asked: list[tuple[str, str]] = []

    def note(request: Request) -> None:
        path = request.url.removeprefix(demo.address)
        if path.startswith("api/"):  # parts of the page are fetched ahead
            asked.append((request.method, path))

    page.on("request", note)
    count = draws(page)
    body = page.locator("[data-test^='station-'] .body").first
    body.hover()
    box = body.bounding_box()
    assert box is not None
    page.mouse.down()
    # one move, so that nothing of the drag is still asked for when it is let go
    page.mouse.move(box["x"] + 30, box["y"] + 30)
    wait_for_draw(page, count)
    assert {path for _, path in asked} == {"api/colours"}, "nothing but colours while dragged"
    asked.clear()
    with (
        page.expect_response(f"{demo.address}api/workings"),
        page.expect_response(f"{demo.address}api/findings"),
    ):
        page.mouse.up()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    smooth(page)
    told = page.get_by_test_id("layer-6")
    expect(told).to_be_visible()
    page.wait_for_load_state("networkidle")
    times = Counter(f"{method} {path.split('?')[0]}" for method, path in asked)
    assert times["POST api/smooth"] == 1
    assert sum(n for name, n in times.items() if name.startswith("PUT api/plans/")) == 1
    assert not any(re.fullmatch(r"GET api/jobs/\w+", name) for name in times), "no asking again"
    # once when fresh rays are traced in time, coarse and fine when they take long
    assert 1 <= times["POST api/workings"] <= 2
    assert 1 <= times["POST api/findings"] <= 2
    assert times["POST api/colours"] <= 2


def test_a_station_moves_by_typing_and_by_arrow_keys(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 6)
    azimuth, elevation = (
        page.get_by_role("textbox", name="Azimuth"),
        page.get_by_role("textbox", name="Elevation"),
    )
    count = draws(page)
    azimuth.fill("120")
    azimuth.press("Enter")
    wait_for_draw(page, count)
    page.get_by_role("button", name="How to hold it").click()
    hold = page.get_by_text("turn the front 120°")
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


def test_a_coat_is_added_moved_and_removed(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("dialog").get_by_label("Paint").click()
    page.get_by_role("option", name="Violet Hour Brindlecot").click()
    page.get_by_role("button", name="Add over Quay Satin").click()
    expect(page.get_by_test_id("layer-15")).to_contain_text("Violet Hour")
    page.get_by_role("button", name="Down").click()
    expect(page.get_by_test_id("layer-14")).to_contain_text("Violet Hour")
    page.get_by_role("button", name="More for Violet Hour").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.get_by_test_id("layer-15")).to_contain_text("Violet Hour")
    page.get_by_test_id("switch").click()
    expect(page.get_by_test_id("layer-15")).to_contain_text("left out")
    page.get_by_role("button", name="More for Violet Hour").click()
    page.get_by_role("menuitem", name="Remove").click()
    page.get_by_role("button", name="Down").click()
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    # layers that move under the pointer would take its press in two halves
    expect(page.get_by_test_id("layer-16")).to_be_visible()
    expect(page.get_by_test_id("layer-15")).to_contain_text("left out")
    page.get_by_test_id("layer-14").click()
    page.get_by_role("button", name="More for Violet Hour").click()
    page.get_by_role("menuitem", name="Remove").click()
    expect(page.get_by_test_id("layer-16")).to_be_hidden()
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_finding_is_mended_by_one_press_or_quieted(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    for at in (3, 2):
        page.get_by_role("button", name="Down", exact=True).click()
        after(page, at)
    finding = page.get_by_test_id("white_over_black")
    expect(finding).to_contain_text("will speck")
    expect(page.get_by_test_id("layer-2")).to_contain_text("mind")
    finding.get_by_role("button", name="Quiet").click()
    finding.get_by_label("Why this is as it should be").fill("a night sky")
    finding.get_by_role("button", name="Dismiss").click()
    expect(finding).to_be_hidden()
    expect(page.get_by_text("“a night sky”")).to_be_visible()
    page.get_by_role("button", name="Show again").click()
    expect(finding).to_be_visible()
    finding.get_by_role("button", name="Add a mid tone under it").click()
    expect(page.get_by_test_id("layer-13")).to_be_visible()
    expect(finding).to_be_hidden()
    for _ in range(5):
        page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-4")).to_contain_text("Tern White")


def test_core_samples_are_taken_by_click_and_key_and_pinned(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.52)
    samples = page.get_by_test_id("samples")
    first = samples.get_by_role("table", name="Sample 1")
    expect(first).to_contain_text("Bilge Black")
    page.keyboard.press("c")
    expect(samples.get_by_role("table", name="Sample 2")).to_contain_text("bare surface")
    samples.get_by_role("button", name="Mix this colour").first.click()
    expect(page.get_by_role("dialog", name="Match a colour")).to_be_visible()
    page.keyboard.press("Escape")
    samples.get_by_role("button", name="Take away").first.click()
    expect(samples.get_by_role("table")).to_have_count(1)
    page.get_by_test_id("piece").focus()
    page.keyboard.press("Escape")
    expect(samples).to_be_hidden()


@pytest.mark.thorough
def test_a_step_by_hand_is_added_and_told_on_the_day(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.get_by_role("button", name="Step", exact=True).click()
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
    page.locator("[data-test=strands]").wait_for()
    page.get_by_role("radiogroup", name="How the day is shown").get_by_text("Run sheet").click()
    expect(page.locator("article")).to_contain_text("By hand")
    expect(page.locator("article")).to_contain_text("almost nothing")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")


@pytest.mark.thorough
def test_two_schools_are_laid_side_by_side_and_one_is_taken(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Herald")
    page.get_by_test_id("sequence").click()
    dialog = page.get_by_test_id("start-sequence")
    choose(dialog, "What is it?", "A bust")
    dialog.get_by_test_id("lay").click()
    pictures = dialog.get_by_alt_text("The piece painted by this school")
    expect(pictures).to_have_count(2)
    dialog.get_by_test_id("use-1").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_test_id("layer-1")).to_contain_text("ground")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-2")).to_contain_text("Tern White")


@pytest.mark.thorough
def test_all_orders_are_tried_and_the_look_tells_where_the_colour_is_missed(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo, "Herald")
    page.get_by_test_id("sequence").click()
    dialog = page.get_by_test_id("start-sequence")
    choose(dialog, "What is it?", "A bust")
    dialog.get_by_test_id("orders").click()
    tried = dialog.get_by_test_id("orders-tried")
    expect(tried).to_contain_text("suits this shelf best")
    expect(tried.get_by_role("button", name="Show")).to_have_count(4)
    clear_to_all(page)
    tried.get_by_role("button", name="Show Veil").click()
    expect(dialog.get_by_alt_text("The piece painted by this school")).to_be_visible()
    expect(chosen(dialog.get_by_label("School 1"), "Order")).to_contain_text("Veil")
    # another wish: what was tried for the old one goes
    dialog.get_by_text("A gradient").click()
    choose(dialog, "What the gradient follows", "The height: foot to top")
    expect(dialog.get_by_label("At the foot", exact=True)).to_be_visible()
    expect(tried).to_be_hidden()
    dialog.get_by_test_id("use-1").click()
    expect(dialog).to_be_hidden()
    told = page.get_by_test_id("off-colour")
    expect(told).to_contain_text("Close to what you asked on")
    told.get_by_role("button", name="Show where").click()
    expect(page.get_by_test_id("more-looks")).to_have_text("off colour")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-2")).to_contain_text("Tern White")
    # a plan that was asked for no colour has no such look
    page.get_by_test_id("more-looks").click()
    expect(page.get_by_role("menuitem", name="off target")).to_be_visible()
    expect(page.get_by_role("menuitem", name="off colour")).to_have_count(0)
    expect(page.get_by_role("radio", name="as painted", exact=True)).to_be_checked()


def test_three_ways_to_prime_are_compared(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.get_by_test_id("priming").click()
    ways = page.get_by_test_id("ways")
    expect(ways.get_by_alt_text("The values it leaves")).to_have_count(3)
    expect(ways).to_contain_text("outdoors or in a proper booth only")
    expect(ways).to_contain_text("vapour cartridge")


@pytest.mark.thorough
def test_a_plan_without_a_light_coat_is_primed_from_the_shelf(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Marrow")
    page.keyboard.press("3")
    page.get_by_test_id("priming").click()
    expect(page.get_by_test_id("assumed")).to_contain_text("no light coat")
    expect(page.get_by_alt_text("The values it leaves")).to_have_count(3)


@pytest.mark.thorough
def test_a_mask_over_everything_but_a_part_is_laid_and_taken_off_by_keys(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    select_coat(page, 5)
    before = page.locator("[data-test^='layer-']").count()
    page.get_by_test_id("add-step").click()
    dialog = page.get_by_role("dialog", name="Add a step")
    choose(dialog, "What it is for", "Mask on")
    dialog.get_by_label("What it is for").focus()
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    page.get_by_test_id("add-step").click()
    choose(dialog, "Which part", "Base")
    choose(dialog, "With what", "soft putty")
    dialog.get_by_text("Everything but that").click()
    dialog.get_by_role("button", name=re.compile("^Add over")).press("Enter")
    expect(dialog).to_be_hidden()
    expect(page.locator("[data-test^='layer-']")).to_have_count(before + 1)
    expect(page.get_by_role("heading", name="Mask over all but base")).to_be_visible()
    expect(chosen(page, "Over what")).to_contain_text("everything but base")
    expect(
        page.get_by_text("soft putty, which leaves an edge that fades over 1 mm")
    ).to_be_visible()
    choose(page, "With what", "torn foam")
    expect(page.get_by_text("torn foam, which leaves an edge that fades over 3 mm")).to_be_visible()
    page.get_by_test_id("add-step").click()
    choose(dialog, "What it is for", "Mask off")
    choose(dialog, "Which mask", "Mask over all but base")
    dialog.get_by_role("button", name=re.compile("^Add over")).click()
    expect(dialog).to_be_hidden()
    expect(chosen(page, "Over what")).to_contain_text("everything but base")


def test_how_a_coat_is_sprayed_stands_under_the_piece(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 2)
    recipe = page.get_by_test_id("recipe")
    expect(recipe).to_contain_text("thinner + paint")
    for unit in ("psi", "bar", "mm", "away", "round", "then wait"):
        expect(recipe).to_contain_text(unit)
    select_coat(page, 1)
    expect(recipe).to_contain_text("9 sides")
    select_coat(page, 7)
    expect(recipe).to_contain_text("By hand")
