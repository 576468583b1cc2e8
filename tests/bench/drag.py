"""A drag in the browser: from pointer to frame, and what a release costs."""

from __future__ import annotations

import json
import statistics
from collections import Counter

import numpy as np
from figures import say
from playwright.sync_api import Page, Request
from serving import browsing, open_demo, served

DRAGS = 40
WAIT_FOR_DRAWING = """n => new Promise(done => {
  const look = () =>
    performance.getEntriesByName('haze:colours').length > n ? done() : setTimeout(look, 5);
  look();
})"""
RELEASES = 6
QUIET_MS = 1500  # nothing asked for so long: the release is worked out


def browser(pause_ms: int, what: str) -> None:
    """From the pointer event to the frame drawn in its colours, on the four-coat demo."""
    with served() as address, browsing() as page:
        open_demo(page, address)
        page.get_by_test_id("layer-2").click()
        page.wait_for_timeout(1500)
        server: list[float] = []

        def told(response: object) -> None:
            timing = response.headers.get("server-timing", "")  # type: ignore[attr-defined]
            if "dur=" in timing:
                server.append(float(timing.split("dur=")[1]))

        page.on("response", told)
        body = page.locator("[data-test^='station-'] .body").first.bounding_box()
        assert body is not None
        x, y = body["x"] + body["width"] / 2, body["y"] + body["height"] / 2
        page.evaluate("performance.clearMeasures()")
        page.mouse.move(x, y)
        page.mouse.down()
        for i in range(DRAGS):
            before = page.evaluate("performance.getEntriesByName('haze:colours').length")
            turn = 2 * np.pi * i / DRAGS
            # on the sky 5° are about 3.8 px of a 272 px disc
            page.mouse.move(x + 24 * np.sin(turn), y + 24 * np.cos(turn))
            page.evaluate(WAIT_FOR_DRAWING, before)
            if pause_ms:
                page.wait_for_timeout(pause_ms)
        page.mouse.up()
        text = page.evaluate(
            "JSON.stringify(performance.getEntriesByName('haze:colours').map(e => e.duration))"
        )
        drawn = sorted(json.loads(text))
        p95 = drawn[int(0.95 * len(drawn))]
        say(
            f"pointer to drawn frame, {len(drawn)} moves, {what}",
            f"{statistics.median(drawn):.0f} ms, p95 {p95:.0f} ms",
            "p95 <= 150 ms",
        )
        server.sort()
        say(
            "of that the server",
            f"{statistics.median(server):.0f} ms, p95 {server[int(0.95 * len(server))]:.0f} ms",
            "<= 60 ms",
        )


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
