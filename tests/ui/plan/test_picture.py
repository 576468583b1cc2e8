"""The picture of the piece: its colours, its texture, how near it is, coat by coat, two beside."""

from __future__ import annotations

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, expect
from serving import Server

from haze.core.film.difference import delta_e
from haze.core.film.srgb import decode_srgb, linear_of_hex
from ui.screens import after, choose, draws, open_demo, picture, select_coat, smooth, wait_for_draw

pytestmark = [pytest.mark.browser, pytest.mark.drawn]

CARD = 131
FRAMES = "() => new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"
# the browser itself may round a colour by one on its way to the screen
SAME = 3


def pixels(shot: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(int)


def piece_in(image: np.ndarray) -> np.ndarray:
    """Where something else than the card is."""
    return np.abs(image - CARD).max(axis=2) > SAME


def drawn_anew(page: Page) -> np.ndarray:
    page.evaluate(FRAMES)
    return pixels(picture(page))


def test_a_flat_lit_place_shows_the_colour_its_chip_shows(page: Page, demo: Server) -> None:
    plate = demo.ask("stand-ins/plate", {})
    body = {
        "mesh": plate["mesh"]["id"],
        "name": "Plate",
        "height_mm": plate["height_mm"],
        "copies": 1,
        "up": "z",
        "parts": plate["parts"],
        "lights": None,
    }
    plan = demo.ask("plans", body)
    page.goto(f"{demo.address}plan/{plan['id']}/coats")
    page.locator("[data-test=piece][data-drawn]").wait_for()
    smooth(page)
    for _ in range(9):
        page.keyboard.press("ArrowUp")
    shown = drawn_anew(page)
    place = shown[shown.shape[0] // 2 - 30 :: 1, shown.shape[1] // 2 + 40 :: 1][:20, :20]
    chip = linear_of_hex(plan["plan"]["piece"]["surface"])
    assert delta_e(decode_srgb(place.mean((0, 1)) / 255), chip) < 2
    assert np.ptp(place, axis=(0, 1)).max() <= SAME, "it is flat, and nothing speckles it"


def steep(image: np.ndarray) -> float:
    """Share of neighbouring pixels that differ by a lot."""
    grey = image.mean(axis=2)
    return float((np.abs(np.diff(grey, axis=1)) > 25).mean())


def test_chips_have_edges_finer_than_the_mesh(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Marrow")
    smooth(page)
    page.locator("[data-test=piece][data-grained]").wait_for()
    for _ in range(7):
        page.keyboard.press("+")
    chipped = drawn_anew(page)
    count = draws(page)
    select_coat(page, 12)  # streaks, no chips yet
    wait_for_draw(page, count)
    smooth_paint = drawn_anew(page)
    assert steep(chipped) > 1.5 * steep(smooth_paint)
    assert steep(chipped) > 0.004


def test_near_and_home_and_across(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.keyboard.press("1")
    smooth(page)
    page.locator("[data-test=piece][data-grained]").wait_for()
    home = drawn_anew(page)
    size = piece_in(home).sum()
    page.keyboard.press("+")
    page.keyboard.press("+")
    near = drawn_anew(page)
    assert piece_in(near).sum() > 1.25 * size
    page.keyboard.press("Shift+ArrowRight")
    moved = drawn_anew(page)
    rows = [np.nonzero(piece_in(i).any(axis=0))[0] for i in (near, moved)]
    assert rows[1].mean() > rows[0].mean() + 10
    page.keyboard.press("0")
    assert np.abs(drawn_anew(page) - home).max() <= SAME
    # what lies under the pointer stays there
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.8)
    page.mouse.wheel(0, -500)
    page.evaluate(FRAMES)
    wheeled = drawn_anew(page)
    assert piece_in(wheeled)[-40:].mean() > piece_in(home)[-40:].mean()
    page.get_by_test_id("piece").dblclick(position={"x": 20, "y": 60})
    assert np.abs(drawn_anew(page) - home).max() <= SAME


def test_two_fingers_bring_it_near(browser: Browser, demo: Server) -> None:
    tablet = browser.new_context(viewport={"width": 1024, "height": 768}, has_touch=True)
    page = tablet.new_page()
    page.goto(demo.address)
    page.get_by_test_id("plan").filter(has_text="Herald").click()
    page.locator("[data-test=piece][data-drawn]").wait_for()
    smooth(page)
    before = piece_in(drawn_anew(page)).sum()
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    touch = tablet.new_cdp_session(page)

    def fingers(kind: str, apart: float) -> None:
        points = [{"x": x + way * apart, "y": y, "id": i} for i, way in enumerate((-1, 1))]
        given = {"type": kind, "touchPoints": [] if kind == "touchEnd" else points}
        touch.send("Input.dispatchTouchEvent", given)

    fingers("touchStart", 40)
    for apart in (55, 70, 85):
        fingers("touchMove", apart)
    fingers("touchEnd", 85)
    assert piece_in(drawn_anew(page)).sum() > 1.5 * before
    tablet.close()


def test_a_held_key_shows_the_piece_before_the_last_change(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Herald")
    smooth(page)
    first = drawn_anew(page)
    page.get_by_test_id("layer-3").click()
    after(page, 3)
    page.get_by_role("button", name="Turn off").click()
    expect(page.get_by_text("saved", exact=True)).to_be_visible()
    count = draws(page)
    page.get_by_test_id("layer-8").click()
    after(page, 8)
    smooth(page)
    wait_for_draw(page, count)
    changed = drawn_anew(page)
    assert np.abs(changed - first).max() > 20
    count = draws(page)
    page.keyboard.down("b")
    expect(page.get_by_test_id("state")).to_have_text("before the last change")
    wait_for_draw(page, count)
    assert np.abs(drawn_anew(page) - first).max() <= SAME
    count = draws(page)
    page.keyboard.up("b")
    expect(page.get_by_test_id("state")).to_contain_text("8 of 8")
    wait_for_draw(page, count)
    assert np.abs(drawn_anew(page) - changed).max() <= SAME


@pytest.mark.thorough
def test_every_coat_beside_the_others_is_turned_gone_to_and_saved(
    page: Page, demo: Server, tmp_path: Path
) -> None:
    open_demo(page, demo)
    smooth(page)
    page.get_by_test_id("coat-by-coat").click()
    tiles = page.get_by_test_id("tiles")
    page.locator("[data-test=tiles][data-done]").wait_for()
    assert tiles.locator("canvas").count() == 12, "all but masks, rests and the like"
    one = tiles.locator("canvas").nth(4)
    before = one.screenshot()
    tiles.focus()
    page.keyboard.press("ArrowRight")
    page.evaluate(FRAMES)
    assert one.screenshot() != before
    with page.expect_download() as told:
        page.get_by_test_id("save-strip").click()
    told.value.save_as(tmp_path / "strip.png")
    assert told.value.suggested_filename == "Wardens of the spring tide, coat by coat.png"
    sheet = Image.open(tmp_path / "strip.png")
    assert sheet.width > 1000
    assert sheet.height > 800
    tiles.get_by_role("button", name=re.compile("Tern White")).first.click()
    after(page, 4)
    expect(tiles).to_be_hidden()


@pytest.mark.thorough
def test_two_versions_stand_side_by_side_and_turn_together(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.get_by_test_id("side-by-side").click()
    panes = page.locator("[data-test=pane][data-drawn]")
    expect(panes).to_have_count(2)
    left, right = (pixels(panes.nth(i).screenshot()) for i in (0, 1))
    wide = min(left.shape[1], right.shape[1])
    apart = np.abs(left[:, :wide] - right[:, :wide])
    assert apart.max() > 20, "the first draft, and the plan as it is now"
    panes.nth(0).focus()
    page.keyboard.press("ArrowRight")
    page.evaluate(FRAMES)
    for i, was in enumerate((left, right)):
        assert np.abs(pixels(panes.nth(i).screenshot()) - was).max() > 20
    dialog = page.get_by_role("dialog", name="Side by side")
    choose(dialog, "Left", "Herald in practice light")
    expect(page.locator("[data-test=pane]").nth(0)).to_have_attribute(
        "aria-label", re.compile("Herald")
    )


@pytest.mark.thorough
@pytest.mark.parametrize("plan", ["Wardens", "Marrow"])
def test_it_fills_its_card_and_stays_clear_of_the_words(
    page: Page, demo: Server, plan: str
) -> None:
    open_demo(page, demo, plan)
    page.keyboard.press("1")
    for width, height in ((1024, 800), (1280, 800), (1920, 1080)):
        page.set_viewport_size({"width": width, "height": height})
        smooth(page)
        shown = piece_in(drawn_anew(page))
        across, down = (np.nonzero(shown.any(axis=axis))[0] for axis in (0, 1))
        filled = max(np.ptp(across) / shown.shape[1], np.ptp(down) / shown.shape[0])
        assert 0.8 < filled <= 0.99
        assert across.min() > 0
        assert across.max() < shown.shape[1] - 1
        assert down.max() < shown.shape[0] - 1
