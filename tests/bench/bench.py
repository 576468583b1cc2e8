"""Speed, measured as ratios within one run: `make bench`. Nothing here is asserted.

Seconds on a shared machine drift; the ratios hold. Each figure is a median unless it says so.
"""

from __future__ import annotations

import json
import statistics
import sys
import time
from collections.abc import Callable
from importlib import resources
from pathlib import Path

import numpy as np
import trimesh

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))

from serving import browsing, open_demo, served

from haze.core.film.finish import outside_film
from haze.core.film.kubelka_munk import film as film64
from haze.core.film.paint import paint_optics
from haze.core.film.spectra import rgb_of
from haze.core.film.stack import add_coat, encode_bytes, linear_rgb, start_ground
from haze.core.light.directions import fibonacci_directions
from haze.core.light.mesh import prepare
from haze.core.light.stations import Station, deposit, direction_weights
from haze.core.light.visibility import OFFSET, visibility_table
from haze.core.spray.model import spray
from haze.core.spray.setting import make_setting
from haze.demo.saltgate import WARDEN_FILE
from haze.formats.meshes import read_mesh
from haze.service.painter import Painter
from haze.service.pieces import ready_piece

ROUNDS = 9
WAIT_FOR_DRAWING = """n => new Promise(done => {
  const look = () =>
    performance.getEntriesByName('haze:colours').length > n ? done() : setTimeout(look, 5);
  look();
})"""
DRAGS = 40


def median(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Median seconds of a piece of work."""
    taken = []
    for _ in range(rounds):
        begun = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begun)
    return statistics.median(taken)


def say(what: str, figure: str, reach: str) -> None:
    print(f"{what:<58} {figure:>22}   reach {reach}")


def light() -> Painter:
    data = (resources.files("haze.demo") / WARDEN_FILE).read_bytes()
    mesh = prepare(read_mesh(data, name=WARDEN_FILE)[1], up="z", show="-y")
    n = len(mesh.vertices)
    print(f"harbour warden: {n} vertices, {len(mesh.faces)} faces")
    begun = time.perf_counter()
    table = visibility_table(mesh)
    ours = time.perf_counter() - begun
    # the same rays through trimesh, a sample of the directions scaled up
    sample = fibonacci_directions()[::32]
    solid = trimesh.Trimesh(mesh.vertices, mesh.faces, process=False)
    solid.ray.intersects_any([[0, 0, 500]], [[0, 0, -1]])
    begun = time.perf_counter()
    for d in sample:
        facing = mesh.normals @ d > 0
        origins = mesh.vertices[facing] + OFFSET * mesh.normals[facing]
        solid.ray.intersects_any(origins, np.broadcast_to(d, origins.shape))
    theirs = (time.perf_counter() - begun) * len(fibonacci_directions()) / len(sample)
    say(
        "visibility, 512 directions, against intersects_any",
        f"{theirs / ours:.1f} x ({ours:.2f} s)",
        ">= 3 x",
    )
    station = Station(40, 45, 12, 1)
    moved = median(lambda: deposit(table, station), 31)
    rows, _ = direction_weights(40, 45, 12)
    begun = time.perf_counter()
    visibility_table(mesh, directions=fibonacci_directions()[rows])
    traced = time.perf_counter() - begun
    say(
        "deposit of a moved station, against tracing it again",
        f"{traced / moved:.0f} x ({moved * 1e3:.2f} ms)",
        ">= 50 x",
    )
    target = np.empty((len(rows), n), dtype=np.uint8)
    copied = median(lambda: np.copyto(target, table[rows]), 31)
    say("deposit of one station, against copying its bytes", f"{moved / copied:.1f} x", "<= 8 x")
    return Painter(ready_piece("bench", mesh, table))


def film(n: int) -> None:
    optics = [paint_optics(c, opacity="opaque") for c in ("#17181a", "#f3f2ec")] * 5
    rng = np.random.default_rng(5)
    um = rng.uniform(0, 6, n).astype(np.float32)

    def ours() -> None:
        inside = start_ground("#8d8e8c", n)
        for paint in optics:
            inside = add_coat(inside, paint, um)
        encode_bytes(linear_rgb(inside, "matt"))

    def plain() -> None:
        inside = np.full((n, 12), 0.2)
        for paint in optics:
            inside = film64(paint.absorb_per_um, paint.scatter_per_um, inside, um[:, None])
        rgb_of(outside_film(inside, "matt").T)

    fast, slow = median(ours, 5), median(plain, 3)
    say(
        "film, ten coats, against plain float64 by rows",
        f"{slow / fast:.1f} x ({fast * 1e3:.0f} ms)",
        ">= 8 x",
    )


def window() -> None:
    pressure, parts = np.meshgrid(np.linspace(3, 35, 40), np.linspace(0.1, 5, 40))
    fixed = {"needle_mm": 0.3, "trigger": 0.4, "distance_mm": 60.0, "speed_mm_s": 100.0}

    def many() -> None:
        spray(
            make_setting(
                "white", thinner="water", thinner_parts=parts, pressure_psi=pressure, **fixed
            )
        )

    def single() -> None:
        spray(make_setting("white", thinner="water", thinner_parts=1.0, pressure_psi=20.0, **fixed))

    together, alone = median(many), median(single, 31)
    say(
        "window of 40 x 40 settings, against one at a time",
        f"{1600 * alone / together:.0f} x ({together * 1e3:.0f} ms)",
        ">= 100 x, <= 100 ms",
    )
    rng = np.random.default_rng(1)
    n = 10_000
    knobs = {
        "thinner_parts": rng.uniform(0, 4, n),
        "trigger": rng.uniform(0.1, 0.8, n),
        "pressure_psi": rng.uniform(5, 35, n),
        "distance_mm": rng.uniform(30, 120, n),
        "speed_mm_s": rng.uniform(40, 300, n),
    }
    setting = make_setting("white", thinner="acrylic_thinner", needle_mm=0.3, **knobs)
    say("10,000 settings", f"{median(lambda: spray(setting)) * 1e3:.0f} ms", "<= 400 ms")


def ten_coats(painter: Painter) -> None:
    sys.path.insert(0, str(Path(__file__).parents[1]))
    from helpers import coat, plan

    coats = []
    for i in range(10):
        one = coat(f"c{i}")
        one.stations[0].spread_deg = 12
        coats.append(one)
    document = plan(*coats)
    painter.colours(document, after=10, look="as_painted")
    taken = []
    for i in range(30):
        document = document.model_copy(deep=True)
        document.coats[4].stations[0].azimuth_deg = (i * 5 + 2.5) % 360
        begun = time.perf_counter()
        painter.colours(document, after=10, look="as_painted")
        taken.append((time.perf_counter() - begun) * 1e3)
    worst = sorted(taken)[int(0.95 * len(taken))]
    say(
        "station moved in a ten-coat plan (coat 5), server",
        f"{statistics.median(taken):.0f} ms, p95 {worst:.0f} ms",
        "<= 60 ms",
    )


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


def main() -> None:
    painter = light()
    film(40_000)
    window()
    ten_coats(painter)
    browser(100, "ten a second")
    browser(0, "without pause")


if __name__ == "__main__":
    main()
