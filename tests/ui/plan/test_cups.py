"""The cup, its settings and the run sheet, in a real browser."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect
from serving import Server

from ui.screens import choose, chosen, clear_to_all, open_demo, select_coat

pytestmark = pytest.mark.browser


def test_the_cup_tells_drops_settings_and_cautions(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 5)
    page.keyboard.press("4")
    cup = page.get_by_role("img", name="Cup, in pouring order")
    words = cup.get_attribute("aria-label") or ""
    assert words.index("acrylic thinner") < words.index("Lamp Amber")
    for label in ("Pressure", "Thinner to paint", "Trigger stop", "Distance", "Speed of the hand"):
        expect(page.get_by_label(label, exact=True)).to_be_visible()
    expect(page.get_by_label("Cautions").first).to_contain_text("particle filter mask")
    typed = page.get_by_label("Pressure, typed")
    expect(typed).to_have_value("18.5")
    page.get_by_label("Pressure", exact=True).focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(typed).to_have_value("20")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(typed).to_have_value("19.5")
    typed.fill("21,5")
    typed.press("Enter")
    expect(page.get_by_label("Pressure", exact=True)).to_have_attribute(
        "aria-valuetext", re.compile("^21.5 psi")
    )
    typed.fill("400")
    typed.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("takes 1 to 60 psi. Kept at 21.5.")


@pytest.mark.thorough
def test_a_wild_setting_is_told_and_one_press_mends_it(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 2)
    page.keyboard.press("4")
    distance = page.get_by_label("Distance", exact=True)
    distance.focus()
    for _ in range(9):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Distance, typed")).to_have_value("20")
    advice = page.get_by_label("What to change")
    expect(advice).to_be_visible()
    expect(page.get_by_text("1 issue")).to_be_visible()
    advice.get_by_role("button", name="Do that").click()
    expect(advice).to_be_hidden()
    expect(page.get_by_text("1 issue")).to_be_hidden()


@pytest.mark.thorough
def test_a_thinner_that_spoils_the_paint_is_told_and_undone(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 5)
    page.keyboard.press("4")
    page.get_by_role("button", name="Airbrush, thinner, cleaning").click()
    expect(page.get_by_test_id("cleaning")).to_contain_text("Afterwards")
    choose(page, "Thinner", "white spirit")
    refused = page.get_by_test_id("refused")
    expect(refused).to_contain_text("spoils transparent; accepted are water")
    expect(page.get_by_role("heading", name="No cup")).to_be_visible()
    refused.get_by_role("button", name="Undo").click()
    expect(refused).to_be_hidden()
    expect(page.get_by_role("img", name="Cup, in pouring order")).to_be_visible()


def test_the_run_sheet_has_all(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.keyboard.press("5")
    page.locator("[data-test=strands]").wait_for()
    page.get_by_role("radiogroup", name="How the day is shown").get_by_text("Run sheet").click()
    sheet = page.locator("article")
    expect(sheet).to_contain_text("particle filter mask")
    for coat in ("1. Bilge Black", "2. Slate", "4. Tern White", "5. Lamp Amber"):
        expect(sheet.get_by_role("heading", name=coat)).to_be_visible()
    expect(sheet).to_contain_text("drops acrylic thinner, then")
    expect(sheet).to_contain_text("tip the head")


def window(page: Page) -> Locator:
    """The window, once it is drawn."""
    page.locator("[data-test=window][data-drawn]").first.wait_for()
    return page.get_by_test_id("window").first


@pytest.mark.thorough
def test_the_point_is_moved_on_the_window_by_pointer_and_by_arrows(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    page.keyboard.press("4")
    field = window(page).locator(".catch").bounding_box()
    assert field is not None
    at = (field["x"] + field["width"] * 0.9, field["y"] + field["height"] * 0.1)
    pressure = page.get_by_label("Pressure, typed")
    expect(pressure).to_have_value("18.5")
    page.mouse.move(field["x"] + field["width"] * 0.3, field["y"] + field["height"] * 0.5)
    page.mouse.down()
    page.mouse.move(*at, steps=4)
    # everything follows before it is let go
    expect(pressure).to_have_value("32.5")
    expect(page.get_by_test_id("sure")).to_contain_text("stop, it spiders or runs")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.mouse.up()
    expect(page.get_by_test_id("cup-4")).to_contain_text("stop")
    page.keyboard.press("Control+z")
    expect(pressure).to_have_value("18.5")
    expect(page.get_by_test_id("cup-4")).to_contain_text("clean")
    point = page.get_by_test_id("window-point")
    point.focus()
    page.keyboard.press("ArrowDown")
    expect(pressure).to_have_value("18")
    expect(point).to_have_attribute("aria-valuetext", re.compile("18 psi: clean"))
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_one_press_teaches_and_another_takes_it_back(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    page.keyboard.press("4")
    window(page)
    sure = page.get_by_test_id("sure")
    expect(sure).to_contain_text("untried")
    page.get_by_test_id("look-spiders").click()
    taught = page.get_by_test_id("taught")
    expect(taught).to_contain_text("after 1 trial")
    expect(sure).to_contain_text("after 1 trial")
    expect(page.get_by_test_id("cup-4")).to_contain_text("mind")
    clear_to_all(page)
    page.reload()
    page.get_by_test_id("cup-4").click()
    expect(page.get_by_test_id("trials")).to_have_text("1 trial so far")
    page.get_by_test_id("trials").click()
    page.get_by_role("tooltip").get_by_role("button", name="Undo").click()
    expect(sure).to_contain_text("untried")
    expect(page.get_by_test_id("cup-4")).to_contain_text("clean")
    expect(page.get_by_role("button", name="Count again")).to_be_visible()


def test_trouble_names_a_cause_and_turns_its_knob(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    page.keyboard.press("4")
    window(page)
    page.get_by_test_id("trouble").click()
    dialog = page.get_by_role("dialog")
    choose(dialog, "What you see", "Spiders or runs")
    expect(dialog.get_by_test_id("repair")).to_contain_text("Wick the wet legs off")
    first = dialog.get_by_test_id("causes").get_by_role("listitem").first
    expect(first).to_contain_text("→")
    first.get_by_role("button", name="Do that").click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.get_by_test_id("trouble").click()
    choose(dialog, "What you see", "The wash dries cloudy")
    expect(dialog.get_by_test_id("causes")).to_contain_text("gloss before the wash")


def test_other_schools_are_told_and_one_is_taken_and_kept_as_ones_own(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    page.keyboard.press("4")
    window(page)
    more = page.get_by_role("button", name="More for this cup")
    more.click()
    page.get_by_role("menuitem", name="Keep this as my way for this paint").click()
    more.click()
    page.get_by_role("menuitem", name="What other schools would set").click()
    schools = page.get_by_test_id("schools")
    brisk = schools.get_by_role("row").filter(has_text="Brisk")
    expect(brisk).to_contain_text("of 10")
    brisk.get_by_role("button", name="Use").click()
    expect(page.get_by_label("Pressure, typed")).not_to_have_value("18.5")
    page.get_by_role("button", name="Use it").click()
    expect(page.get_by_label("Pressure, typed")).to_have_value("18.5")
    more.click()
    page.get_by_role("menuitem", name="Forget my way").click()
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_without_a_plan_a_paint_and_a_needle_say_what_to_do(page: Page, demo: Server) -> None:
    page.goto(demo.address)
    page.get_by_role("link", name="Window").click()
    choose(page, "Paint", "Tern White")
    choose(page, "Airbrush", "All-round")
    window(page)
    expect(page.get_by_test_id("sure")).to_contain_text("airbrushes like yours")
    page.get_by_test_id("as-table").click()
    expect(page.get_by_test_id("window-table")).to_contain_text("spiders")
    page.get_by_test_id("as-table").click()
    choose(page, "Up", "Distance")
    expect(page.get_by_test_id("window-point")).to_have_attribute(
        "aria-valuetext", re.compile("distance .* mm")
    )
    page.get_by_text("two side by side").click()
    second = page.get_by_test_id("bench-second")
    second.locator("[data-test=window][data-drawn]").wait_for()
    page.get_by_test_id("bench-first").get_by_test_id("look-clean").click()
    expect(page.get_by_test_id("bench-first").get_by_test_id("taught")).to_contain_text("1 trial")
    expect(second.get_by_test_id("taught")).to_be_hidden()
    page.get_by_test_id("bench-first").get_by_role("button", name="Undo").click()
    page.reload()
    expect(chosen(page, "Paint")).to_contain_text("Tern White")


def test_a_bench_keeps_its_point_and_is_chosen_by_keys(page: Page, demo: Server) -> None:
    page.goto(f"{demo.address}window")
    window(page)
    point = page.get_by_test_id("window-point")
    expect(point).to_have_attribute("aria-valuetext", re.compile("psi: clean"))
    begun = point.get_attribute("aria-valuetext") or ""
    point.focus()
    page.keyboard.press("ArrowUp")
    expect(point).to_have_attribute("aria-valuetext", re.compile(f"^(?!{begun}).*psi: clean"))
    moved = point.get_attribute("aria-valuetext") or ""
    page.get_by_role("link", name="Shelf").click()
    page.get_by_test_id("wall").get_by_role("button").first.wait_for()
    page.get_by_role("link", name="Window").click()
    expect(point).to_have_attribute("aria-valuetext", moved)
    page.get_by_test_id("to-recipe").click()
    expect(point).to_have_attribute("aria-valuetext", begun)
    page.get_by_role("combobox", name="Paint").focus()
    page.keyboard.type("Tern")
    page.get_by_role("option", name="Tern White").wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(chosen(page, "Paint")).to_contain_text("Tern White")


def test_amounts_tell_what_to_buy_and_a_bottle_has_its_label(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    page.keyboard.press("4")
    page.get_by_test_id("amounts").click()
    dialog = page.get_by_test_id("amounts-dialog")
    expect(dialog.get_by_test_id("shopping")).to_contain_text("To buy")
    white = dialog.get_by_role("row").filter(has_text="Tern White")
    alone = white.inner_text()
    dialog.get_by_text("Herald in practice light").click()
    expect(white).not_to_have_text(alone)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="More for this cup").click()
    page.get_by_role("menuitem", name="A bottle of this mix, label").click()
    label = page.get_by_label("Label", exact=True)
    expect(label).to_contain_text("to spray: thin 1.25 : 1 with acrylic thinner")
    page.get_by_text("thinned, ready to spray").click()
    expect(label).to_contain_text("ready to spray")
    page.evaluate("window.print = () => (window.printed = document.documentElement.dataset.print)")
    page.get_by_test_id("print-label").click()
    assert page.evaluate("window.printed") == "label"


def test_a_coat_for_one_part_says_how_far_it_shows_and_that_the_next_part_is_masked(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    page.get_by_test_id("layer-8").click()
    page.keyboard.press("4")
    expect(page.get_by_test_id("overspray")).to_contain_text(
        re.compile(r"shows to \d+ mm; warden touches it and masked")
    )
    page.get_by_test_id("trouble").click()
    choose(page, "What you see", "A bare spot")
    expect(page.get_by_test_id("causes")).to_contain_text("of what stays bare")
    expect(page.get_by_test_id("causes")).to_contain_text("%")


def test_retarder_goes_into_the_cup_and_lengthens_the_life_of_the_tip(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    select_coat(page, 2)
    page.keyboard.press("4")
    window(page)
    tip = page.locator(".deciding").get_by_text("until the tip dries").locator("..")
    before = tip.inner_text()
    page.get_by_role("button", name="Airbrush, thinner, cleaning").click()
    parts = page.get_by_label("Retarder, parts to one of paint")
    parts.fill("0,1")
    parts.press("Enter")
    poured = page.get_by_label("Pour in this order")
    expect(poured).to_contain_text("retarder")
    expect(tip).not_to_have_text(before)
    parts.fill("3")
    parts.press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("0 to 0.5")


def test_a_setting_is_seen_before_it_is_sprayed(page: Page, demo: Server) -> None:
    page.goto(f"{demo.address}window")
    shown = page.get_by_test_id("swatch")
    shown.wait_for()
    page.wait_for_function("() => performance.getEntriesByName('haze:swatch').length > 0")
    first = shown.get_attribute("src")
    pressure = page.get_by_label("Pressure, typed")
    pressure.fill("30")
    pressure.press("Enter")
    expect(shown).not_to_have_attribute("src", first or "")
    expect(shown).to_have_js_property("complete", True)
    page.get_by_role("button", name="Something wrong?").click()
    expect(page.get_by_role("dialog").get_by_test_id("swatch")).to_be_visible()
    page.keyboard.press("Escape")
    choose(page, "Paint", "Quay Satin")
    expect(page.get_by_test_id("swatch")).to_have_count(0)  # a clear coat leaves nothing to see
