"""The first walk round, and what a reader may ask of every screen."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import clear_to_all, drawn, open_demo

pytestmark = pytest.mark.browser


@pytest.mark.thorough
def test_the_first_walk_round_is_shown_once_and_again_from_help(page: Page, fresh: Server) -> None:
    open_demo(page, fresh)
    title = page.locator(".el-tour__title")
    expect(title).to_have_text("Six words, in working order")
    # it does not follow to a screen that has none of its stops
    page.keyboard.press("6")
    expect(page.get_by_test_id("booth")).to_be_visible()
    expect(title).to_have_count(0)
    page.go_back()
    expect(title).to_have_text("Six words, in working order")
    for stop in ("The film", "The piece, as it stands", "Where it is sprayed from", "Looks"):
        page.get_by_role("button", name="Next").click()
        expect(title).to_have_text(re.compile(f"^{stop}"))
    page.get_by_role("button", name="Done").click()
    expect(title).to_have_count(0)
    page.reload()
    drawn(page)
    expect(title).to_have_count(0)
    page.keyboard.press("?")
    page.get_by_role("button", name="Take the tour").click()
    expect(title).to_have_text("Six words, in working order")
    page.keyboard.press("Escape")
    expect(title).to_have_count(0)


@pytest.mark.thorough
def test_more_contrast_is_given_to_who_asks_for_it(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    lines = "() => getComputedStyle(document.documentElement).getPropertyValue('--edge')"
    before = page.evaluate(lines)
    page.emulate_media(contrast="more")
    assert page.evaluate(lines) != before
    clear_to_all(page)
