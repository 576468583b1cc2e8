"""Every screen by daylight and with the lamp off, without serious faults for anybody."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import faults, open_demo, open_shelf

pytestmark = pytest.mark.browser
SHOWN = {
    "piece": "Parts",
    "light": "Show side",
    "coats": "Film",
    "cups": "Quay Satin",
    "day": "Run sheet",
}


@pytest.mark.parametrize("step", SHOWN)
def test_every_step_is_free_of_accessibility_faults(page: Page, demo: Server, step: str) -> None:
    open_demo(page, demo.address)
    page.get_by_role("link", name=step.capitalize()).click()
    expect(page.get_by_role("heading", name=SHOWN[step]).first).to_be_visible()
    assert faults(page, "daylight") == []
    assert faults(page, "lamp_off") == []


def test_the_shelf_is_free_of_accessibility_faults(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    assert faults(page, "daylight") == []
    assert faults(page, "lamp_off") == []
