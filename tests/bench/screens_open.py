"""How soon every screen stands in a browser after two years of use, from press to frame."""

from __future__ import annotations

import statistics
import time
from pathlib import Path

from figures import say
from playwright.sync_api import Page
from serving import ask, browsing, served

OPENED = """([name, content]) => new Promise(done => {
  const link = [...document.querySelectorAll('a, button')]
    .find(one => one.textContent.trim().startsWith(name));
  const pressed = performance.now();
  link.click();
  const look = () => document.querySelector(content)
    ? requestAnimationFrame(() => setTimeout(() => done(performance.now() - pressed)))
    : setTimeout(look, 4);
  setTimeout(look, 20);
})"""
PIECE = "[data-test=piece][data-drawn]"
SCREENS = {
    "Notebook": "[data-test=session]",
    "Shelf": "[data-test=wall] button",
    "Window": "[data-test=window][data-drawn]",
    "Cards": "[aria-label='What to do with cards']",
    "Plans": "[data-test=plan]",
}
STEPS = {
    "Light": PIECE,
    "Piece": PIECE,
    "Coats": PIECE,
    "Cups": "[data-test=window][data-drawn]",
    "Day": "[data-test=day]",
}
TIMES, SETTLE_MS, READY_MS = 3, 1500, 10_000


def screens_open(folder: Path) -> None:
    """Print how long each screen takes inside the application.

    Parameters
    ----------
    folder : a data folder with two years of use, no server on it
    """
    with served(demo=False, folder=folder) as address, browsing() as page:
        while not all(p["pictured"] and p["stands"] for p in ask(address, "plans")["plans"]):
            time.sleep(1)
        page.goto(address)
        page.get_by_test_id("plan").first.wait_for()
        page.wait_for_timeout(READY_MS)  # the rest of what is made ready at start
        _say(page, SCREENS)
        page.get_by_test_id("plan").first.click()
        page.locator(PIECE).wait_for()
        _say(page, STEPS)


def _say(page: Page, screens: dict[str, str]) -> None:
    took: dict[str, list[float]] = {name: [] for name in screens}
    for _ in range(TIMES):
        for name, content in screens.items():
            took[name].append(page.evaluate(OPENED, [name, content]))
            page.wait_for_timeout(SETTLE_MS)
    for name, found in took.items():
        first, again = found[0], statistics.median(found[1:])
        say(f"  {name}, in the browser", f"{again:.0f} ms, first {first:.0f} ms", "500 ms")
