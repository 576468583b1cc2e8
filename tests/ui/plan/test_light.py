"""The light and the angles that follow from it, in a real browser."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import choose, drag, draws, open_demo, select_coat, wait_for_draw

pytestmark = pytest.mark.browser


def test_the_light_moves_by_pointer_and_keyboard(page: Page, demo: Server) -> None:
    open_demo(page, demo)
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


def test_the_angles_are_worked_out_and_undone(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 3)
    page.get_by_test_id("work-out").wait_for()
    azimuth = page.get_by_role("textbox", name="Azimuth")
    before, count = azimuth.input_value(), draws(page)
    page.keyboard.press("a")
    expect(page.get_by_test_id("angles-found")).to_contain_text("of the light you drew on")
    wait_for_draw(page, count)
    page.get_by_test_id("angles-found").get_by_role("button", name="Undo").click()
    expect(azimuth).to_have_value(before)
    expect(page.get_by_test_id("angles-found")).to_be_hidden()
    page.get_by_test_id("how").click()
    choose(page, "What this coat does", "covers a fifth")
    page.get_by_test_id("work-out").click()
    expect(page.get_by_test_id("angles-found")).to_contain_text("of the surface")
    page.keyboard.press("Control+z")
    expect(azimuth).to_have_value(before)


def test_lights_come_from_a_preset_are_compared_and_go(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Herald")
    page.keyboard.press("2")
    choose(page, "Light plan to start from", "Two sides")
    expect(page.locator("[data-test^='sun-']")).to_have_count(2)
    expect(page.get_by_label("How much is lit")).to_contain_text("gets neither")
    page.get_by_test_id("compare").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_alt_text("The target light on the piece")).to_have_count(3)
    dialog.get_by_role("button", name="Use this light").nth(1).click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(1)
    page.get_by_role("button", name="Opposite").click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(2)
    page.get_by_label("Opposite key", exact=True).get_by_role("button", name="Remove").click()
    expect(page.locator("[data-test^='sun-']")).to_have_count(1)
    expect(page.get_by_test_id("saved")).to_have_text("saved")


def test_a_glow_is_placed_by_keyboard_and_a_coat_aimed_round_it(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Herald")
    page.keyboard.press("2")
    page.get_by_test_id("add-glow").click()
    expect(page.get_by_text("Click on the piece where the glow sits.")).to_be_visible()
    page.get_by_test_id("piece").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("textbox", name="Full light at")).to_be_visible()
    page.get_by_role("button", name="To the front").click()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("3")
    page.get_by_role("button", name="Step", exact=True).click()
    page.get_by_role("dialog").get_by_text("Swept over the whole silhouette").click()
    page.get_by_role("option", name="Round the glow, nearest parts most").click()
    page.get_by_role("dialog").get_by_label("Paint").click()
    page.get_by_role("option", name="Pool Glow Brindlecot").click()
    page.get_by_role("button", name="Add over").click()
    expect(page.get_by_test_id("aim-field")).to_contain_text("the glow")
    count = draws(page)
    choose(page, "Aimed", "along the edges that face up")
    wait_for_draw(page, count)
    expect(page.get_by_test_id("saved")).to_have_text("saved")
