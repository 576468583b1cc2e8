"""The cup, its settings and the run sheet, in a real browser."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import choose, open_demo, select_coat

pytestmark = pytest.mark.browser


def test_the_cup_tells_drops_settings_and_cautions(page: Page, demo: Server) -> None:
    open_demo(page, demo.address)
    select_coat(page, 5)
    page.keyboard.press("4")
    cup = page.get_by_role("img", name="Cup, in pouring order")
    words = cup.get_attribute("aria-label") or ""
    assert words.index("acrylic thinner") < words.index("Lamp Amber")
    for label in ("Pressure", "Thinner to paint", "Trigger stop", "Distance", "Speed of the hand"):
        expect(page.get_by_label(label, exact=True)).to_be_visible()
    expect(page.get_by_label("Cautions").first).to_contain_text("particle filter mask")
    expect(page.get_by_text("18.5 psi")).to_be_visible()
    page.get_by_label("Pressure", exact=True).focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text(re.compile("^20 psi"))).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_text("19.5 psi")).to_be_visible()


def test_a_wild_setting_is_told_and_one_press_mends_it(page: Page, demo: Server) -> None:
    open_demo(page, demo.address)
    select_coat(page, 2)
    page.keyboard.press("4")
    distance = page.get_by_label("Distance", exact=True)
    distance.focus()
    for _ in range(9):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_text("20 mm", exact=True)).to_be_visible()
    advice = page.get_by_label("What to change")
    expect(advice).to_be_visible()
    expect(page.get_by_text("1 to mind")).to_be_visible()
    advice.get_by_role("button", name="Do this").first.click()
    expect(advice).to_be_hidden()
    expect(page.get_by_text("1 to mind")).to_be_hidden()


def test_a_thinner_that_spoils_the_paint_is_told_and_undone(page: Page, demo: Server) -> None:
    open_demo(page, demo.address)
    select_coat(page, 5)
    page.keyboard.press("4")
    choose(page, "Thinner", "white spirit")
    refused = page.get_by_test_id("refused")
    expect(refused).to_contain_text("spoils transparent; accepted are water")
    expect(page.get_by_role("heading", name="No cup")).to_be_visible()
    refused.get_by_role("button", name="Undo").click()
    expect(refused).to_be_hidden()
    expect(page.get_by_role("img", name="Cup, in pouring order")).to_be_visible()


def test_the_run_sheet_has_all_and_prints(page: Page, demo: Server) -> None:
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
