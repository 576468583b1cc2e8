"""Refresh docs/screenshots from the demo data: `make shots`."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import Page
from serving import browsing, open_demo, served

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
SETTLE_MS = 900


def shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(SETTLE_MS)
    page.mouse.move(4, 4)
    page.screenshot(path=TARGET / f"{name}.png")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with served() as address, browsing() as page:
        open_demo(page, address)
        for key, name in (("1", "piece"), ("2", "light"), ("4", "cups"), ("5", "day")):
            page.keyboard.press(key)
            shoot(page, name)
        page.keyboard.press("3")
        shoot(page, "coats")
        page.get_by_test_id("layer-2").click()
        page.keyboard.press("v")
        shoot(page, "coats-value")
        page.keyboard.press("v")
        page.get_by_test_id("layer-4").click()
        page.evaluate("document.documentElement.dataset.theme = 'lamp_off'")
        shoot(page, "coats-lamp-off")
        page.evaluate("document.documentElement.dataset.theme = 'daylight'")
        page.goto(address)
        page.get_by_test_id("plan").first.locator("img").wait_for()
        shoot(page, "plans")
    with served(demo=False) as address, browsing() as page:
        page.goto(address)
        page.get_by_role("button", name="Open the demo plan").wait_for()
        shoot(page, "plans-empty")


if __name__ == "__main__":
    main()
