"""A demo server and a browser for the scripts that measure and picture Haze."""

from __future__ import annotations

import re
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ARGUMENTS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader"]


@contextmanager
def served(*, demo: bool = True, folder: Path | None = None) -> Iterator[str]:
    """Address of a fresh server on a data folder of its own."""
    with tempfile.TemporaryDirectory() as fresh:
        way = ["demo", "--no-browser"] if demo else ["serve"]
        child = subprocess.Popen(
            [sys.executable, "-m", "haze.cli", *way, "--port", "0", "--data", str(folder or fresh)],
            stdout=subprocess.PIPE,
            text=True,
        )
        try:
            assert child.stdout is not None
            found = re.search(r"http://\S+", child.stdout.readline())
            assert found is not None
            yield found.group()
        finally:
            child.terminate()
            child.wait()


@contextmanager
def browsing(*, width: int = 1280, height: int = 800) -> Iterator[Page]:
    """A page in Debian's Chromium with software WebGL."""
    with sync_playwright() as playwright:
        playwright.selectors.set_test_id_attribute("data-test")
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": width, "height": height}, locale="en-GB")
        page.set_default_timeout(60_000)
        yield page
        browser.close()


def open_demo(page: Page, address: str, plan: str = "Wardens") -> None:
    """Open a demo plan and wait until the piece is drawn in its colours, shadows smooth."""
    page.goto(address)
    page.get_by_test_id("plan").filter(has_text=plan).click()
    page.locator("[data-test=piece][data-drawn]").wait_for()
    page.get_by_text("clean", exact=True).first.wait_for()
    page.locator("[data-test=piece][data-smooth=done]").wait_for()
