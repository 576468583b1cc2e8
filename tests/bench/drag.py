"""A drag in the browser: from pointer to frame, and what a release costs."""

from __future__ import annotations

import json
import statistics
from collections import Counter

import numpy as np
from figures import say
from playwright.sync_api import Page, Request, Response
from serving import browsing, open_demo, served

DRAGS = 40
WAIT_FOR_DRAWING = """([what, n]) => new Promise(done => {
  const look = () =>
    performance.getEntriesByName(what).length > n ? done() : setTimeout(look, 5);
  look();
})"""
REQUESTS = """path => performance.getEntriesByType('resource')
  .filter(e => e.name.endsWith(path)).map(e => e.duration)"""
RELEASES = 6
QUIET_MS = 1500  # nothing asked for so long: the release is worked out


def browser(pause_ms: int, what: str) -> None:
    """From the pointer event to the frame drawn in its colours, on the four-coat demo."""
    with served() as address, browsing() as page:
        open_demo(page, address)
        page.get_by_test_id("layer-2").click()
        page.wait_for_timeout(1500)
        body = page.locator("[data-test^='station-'] .body").first.bounding_box()
        assert body is not None
        at = body["x"] + body["width"] / 2, body["y"] + body["height"] / 2
        # on the sky 5° are about 3.8 px of a 272 px disc
        drawn, server = _circled(page, at, 24, "haze:colours", pause_ms)
        _say(f"pointer to drawn frame, {len(drawn)} moves, {what}", drawn, "p95 <= 150 ms")
        _say("of that the server", server, "<= 60 ms")


def point() -> None:
    """From the pointer event to the frame in which all Cups say what the dragged point does."""
    with served() as address, browsing() as page:
        open_demo(page, address)
        page.get_by_test_id("layer-2").click()
        page.keyboard.press("4")
        page.locator("[data-test=window][data-drawn]").wait_for()
        page.wait_for_timeout(1500)
        body = page.get_by_test_id("window-point").bounding_box()
        assert body is not None
        at = body["x"] + body["width"] / 2, body["y"] + body["height"] / 2
        told, _ = _circled(page, at, 60, "haze:told", 30)
        _say(f"point of the window to Cups, {len(told)} moves", told, "p95 <= 100 ms")
        _say("of that the request", page.evaluate(REQUESTS, "/api/setting"), "-")
        looked = page.evaluate(
            "() => performance.getEntriesByName('haze:swatch').map(e => e.duration)"
        )
        _say(f"what it would look like, {len(looked)} swatches", looked, "<= 200 ms")


def _circled(
    page: Page, at: tuple[float, float], radius: float, measure: str, pause_ms: int
) -> tuple[list[float], list[float]]:
    """Something dragged once round: milliseconds of each measured move, and of the server."""
    server: list[float] = []

    def told(response: Response) -> None:
        timing = response.headers.get("server-timing", "")
        if "dur=" in timing:
            server.append(float(timing.split("dur=")[1]))

    x, y = at
    page.evaluate("performance.clearMeasures()")
    page.mouse.move(x, y)
    page.mouse.down()
    page.on("response", told)
    for i in range(DRAGS):
        before = page.evaluate(f"performance.getEntriesByName('{measure}').length")
        turn = 2 * np.pi * i / DRAGS
        page.mouse.move(x + radius * np.sin(turn), y + radius * np.cos(turn))
        page.evaluate(WAIT_FOR_DRAWING, [measure, before])
        if pause_ms:
            page.wait_for_timeout(pause_ms)
    page.remove_listener("response", told)
    found = f"JSON.stringify(performance.getEntriesByName('{measure}').map(e => e.duration))"
    moved = json.loads(page.evaluate(found))
    page.mouse.up()
    return moved, server


def _say(what: str, found: list[float], wanted: str) -> None:
    ordered = sorted(found)
    p95 = ordered[int(0.95 * len(ordered))]
    say(what, f"{statistics.median(ordered):.0f} ms, p95 {p95:.0f} ms", wanted)


def release() -> None:
    """What is asked after a drag ends, until nothing more is."""
    with served() as address, browsing() as page:
        open_demo(page, address)
        page.get_by_test_id("layer-3").click()
        asked: list[str] = []
        page.on("request", lambda request: asked.append(_named(request, address)))
        quiet(page, asked)
        counts, busy = [], []
        for i in range(RELEASES):
            box = page.locator("[data-test^='station-'] .body").first.bounding_box()
            assert box is not None
            x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
            page.mouse.move(x, y)
            page.mouse.down()
            page.mouse.move(x + (14 if i % 2 else -14), y + 6, steps=3)
            page.wait_for_timeout(600)
            asked.clear()
            page.mouse.up()
            quiet(page, asked)
            counts.append(Counter(asked))
            busy.append(len(asked))
        middle = counts[busy.index(sorted(busy)[len(busy) // 2])]
        told = ", ".join(f"{n} {name}" for name, n in sorted(middle.items()))
        say("requests after one release", f"{statistics.median(busy):.0f}", told)


def _named(request: Request, address: str) -> str:
    path = request.url.removeprefix(address).split("?")[0].split("/")
    return path[1] + ("/events" if path[-1] == "events" else "") if len(path) > 1 else path[0]


def quiet(page: Page, asked: list[str]) -> None:
    """Wait until nothing was asked for a while."""
    before = -1
    while before != len(asked):
        before = len(asked)
        page.wait_for_timeout(QUIET_MS)
