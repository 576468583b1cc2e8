"""Every screen by daylight and with the lamp off, without serious faults for anybody."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, Playwright, expect
from serving import Server

from ui.conftest import LIMIT_MS
from ui.screens import clear_to_all, drawn, faults, open_demo, open_shelf

pytestmark = pytest.mark.browser
SHOWN = {
    "piece": "Parts",
    "light": "Show side",
    "coats": "Film",
    "cups": "Quay Satin",
    "day": "I stop at",
}


@pytest.mark.parametrize("step", SHOWN)
def test_every_step_is_free_of_accessibility_faults(page: Page, demo: Server, step: str) -> None:
    open_demo(page, demo.address)
    page.get_by_role("link", name=step.capitalize()).click()
    expect(page.get_by_role("heading", name=SHOWN[step]).first).to_be_visible()
    if step == "cups":
        expect(page.get_by_test_id("sure")).to_be_visible()
    clear_to_all(page)


def test_the_shelf_is_free_of_accessibility_faults(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    clear_to_all(page)


DIALOGS = {
    "a step": ("Wardens", lambda page: page.get_by_role("button", name="Step", exact=True)),
    "scheme": ("Herald", lambda page: page.get_by_test_id("sequence")),
    "ladder": ("Herald", lambda page: page.get_by_test_id("ladder")),
    "mix": ("Wardens", lambda page: page.get_by_test_id("mix")),
    "settings": ("Wardens", lambda page: page.get_by_role("button", name="Settings")),
    "help": ("Wardens", lambda page: page.get_by_role("button", name="Help")),
    "room": ("Wardens", lambda page: page.get_by_role("button", name="% RH")),
}


@pytest.mark.parametrize("which", DIALOGS)
def test_every_dialog_of_a_plan_is_free_of_accessibility_faults(
    page: Page, demo: Server, which: str
) -> None:
    plan, button = DIALOGS[which]
    open_demo(page, demo.address, plan)
    button(page).click()
    expect(page.get_by_role("dialog").last).to_be_visible()
    clear_to_all(page)
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


@pytest.mark.parametrize("which", ["Add a paint", "Files in and out", "Gear and thinners"])
def test_every_dialog_of_the_shelf_is_free_of_accessibility_faults(
    page: Page, demo: Server, which: str
) -> None:
    open_shelf(page, demo.address)
    page.get_by_role("button", name=which).click()
    expect(page.get_by_role("dialog").last).to_be_visible()
    clear_to_all(page)


def test_the_plans_and_their_start_are_free_of_accessibility_faults(
    page: Page, demo: Server
) -> None:
    page.goto(demo.address)
    expect(page.get_by_test_id("plan").first).to_be_visible()
    assert faults(page, "daylight") == []
    page.get_by_role("button", name="Start with a mesh").click()
    page.get_by_test_id("stand-in-ball").click()
    page.get_by_test_id("take-stand-in").click()
    expect(page.get_by_alt_text("The mesh with z up")).to_be_visible()
    clear_to_all(page)


def test_the_first_walk_round_is_shown_once_and_again_from_help(page: Page, fresh: Server) -> None:
    open_demo(page, fresh.address)
    title = page.locator(".el-tour__title")
    expect(title).to_have_text("Five words, in working order")
    # it does not follow to a screen that has none of its stops
    page.keyboard.press("6")
    expect(page.get_by_test_id("booth")).to_be_visible()
    expect(title).to_have_count(0)
    page.go_back()
    expect(title).to_have_text("Five words, in working order")
    for stop in ("The film", "The piece, as it stands", "Where it is sprayed from", "Looks"):
        page.get_by_role("button", name="Next").click()
        expect(title).to_have_text(re.compile(f"^{stop}"))
    page.get_by_role("button", name="Done").click()
    expect(title).to_have_count(0)
    page.reload()
    drawn(page)
    expect(title).to_have_count(0)
    page.keyboard.press("?")
    page.get_by_role("button", name="Show me round").click()
    expect(title).to_have_text("Five words, in working order")
    page.keyboard.press("Escape")
    expect(title).to_have_count(0)


def test_more_contrast_is_given_to_who_asks_for_it(page: Page, demo: Server) -> None:
    open_demo(page, demo.address)
    lines = "() => getComputedStyle(document.documentElement).getPropertyValue('--edge')"
    before = page.evaluate(lines)
    page.emulate_media(contrast="more")
    assert page.evaluate(lines) != before
    clear_to_all(page)


SMALL = """least => [...document.querySelectorAll(
  'button, a, [role=button], [role=combobox], [role=radio], [role=switch], input'
)].map(one => {
  const held = one.closest('.el-select__wrapper, .el-input__wrapper, .el-color-picker, label');
  const box = (held ?? one).getBoundingClientRect();
  return [one.outerHTML.slice(0, 90), Math.round(box.width), Math.round(box.height), one];
}).filter(([, w, h, one]) => w > 0 && h > 0 && h < least && one.checkVisibility(
  {opacityProperty: true, visibilityProperty: true}) && !one.closest('svg')
).map(([words, w, h]) => `${w} x ${h}: ${words}`)"""


@pytest.mark.parametrize("step", SHOWN)
def test_what_a_finger_presses_is_large_enough(
    browser: Browser, playwright: Playwright, demo: Server, step: str
) -> None:
    tablet = browser.new_context(
        viewport={"width": 1024, "height": 768}, has_touch=True, is_mobile=True
    )
    playwright.selectors.set_test_id_attribute("data-test")
    page = tablet.new_page()
    page.set_default_timeout(LIMIT_MS)
    open_demo(page, demo.address)
    page.get_by_role("link", name=step.capitalize()).tap()
    expect(page.get_by_role("heading", name=SHOWN[step]).first).to_be_visible()
    if step == "cups":
        expect(page.get_by_test_id("sure")).to_be_visible()
    assert page.evaluate("() => matchMedia('(pointer: coarse)').matches")
    found = page.evaluate(SMALL, 43.5)
    assert found == [], "\n".join(found)
    tablet.close()
