"""A painted piece compared with its plan in the browser: marked by pointer and by keys, told."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, Page, expect
from serving import Server

from ui.conftest import LIMIT_MS
from ui.screens import choose, clear_to_all, open_shelf

pytestmark = pytest.mark.browser
# places on the wardens as they are planned, in shares of the picture; and how the stand-in's photo
# shows what lies there
PLACES = ((0.685, 0.36), (0.29, 0.93), (0.739, 0.871), (0.36, 0.562), (0.49, 0.784))
CLOSER, RATIO = 0.864, 4 / 3
PAPER = (0.11, 0.14)
# around the wardens on the stand-in's photo, and one place too many
RING = (
    *((0.3, 0.06), (0.5, 0.04), (0.72, 0.06), (0.74, 0.6), (0.72, 0.95), (0.5, 0.97), (0.28, 0.9)),
    (0.3, 0.1),
)


def press(picture: Locator, x: float, y: float) -> None:
    box = picture.bounding_box()
    assert box is not None
    picture.click(position={"x": x * box["width"], "y": y * box["height"]})


def open_compare(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    page.request.put(f"{demo.address}api/settings", data={"name": "devices", "value": "simulated"})
    page.goto(f"{demo.address}cards")
    page.get_by_test_id("cards-tabs").get_by_text("Compare").click()
    choose(page, "Plan", "Wardens of the spring tide")


def by_points(page: Page) -> None:
    page.get_by_test_id("mark-way").get_by_text("Points").click()


def compared(page: Page, photo: Locator) -> Locator:
    page.get_by_test_id("mark-paper").click()
    press(photo, *PAPER)
    page.get_by_test_id("compare").click()
    return page.get_by_test_id("compared")


def test_a_piece_is_marked_compared_and_stays_so(page: Page, demo: Server) -> None:
    open_compare(page, demo)
    expect(page.get_by_text("No photo of this piece yet")).to_be_visible()
    page.get_by_test_id("piece-stand-in").click()
    todo = page.get_by_test_id("compare-todo")
    expect(todo).to_contain_text("5 more are needed")
    by_points(page)
    expect(todo).to_contain_text("4 more are needed")
    clear_to_all(page)
    plan = page.get_by_test_id("plan-side").get_by_role("application")
    photo = page.get_by_test_id("piece-photo").get_by_role("application")
    for n, (x, y) in enumerate(PLACES, 1):
        press(plan, x, y)
        expect(todo).to_contain_text(f"point {n}")
        press(photo, 0.5 + (x - 0.5) * CLOSER / RATIO, 0.5 + (y - 0.5) * CLOSER)
    expect(page.get_by_test_id("marked")).to_contain_text("5 points")
    expect(page.get_by_test_id("compare")).to_be_disabled()
    told = compared(page, photo)
    expect(told).to_contain_text("Warden")
    expect(told).to_contain_text("planned")
    expect(told).to_contain_text("5 points leave little check")
    # the plan can be laid over, and all of it is there again later
    page.get_by_text("Half", exact=True).click()
    page.reload()
    choose(page, "Plan", "Wardens of the spring tide")
    expect(page.get_by_test_id("compared")).to_contain_text("Warden")
    expect(page.get_by_test_id("marked")).to_contain_text("5 points")


@pytest.mark.thorough
def test_a_ring_around_the_piece_is_enough(page: Page, demo: Server) -> None:
    open_compare(page, demo)
    page.get_by_label("Azimuth").fill("5")
    page.keyboard.press("Tab")
    page.get_by_test_id("piece-stand-in").click()
    todo = page.get_by_test_id("compare-todo")
    expect(page.get_by_test_id("mark-paper")).to_have_text("Mark the paper")  # a new photo
    page.get_by_test_id("mark-way").get_by_text("Outline").click()
    expect(todo).to_contain_text("5 more are needed")
    page.get_by_label("Azimuth").fill("-10")
    page.keyboard.press("Tab")
    photo = page.get_by_test_id("piece-photo").get_by_role("application")
    for x, y in RING:
        press(photo, x, y)
    expect(page.get_by_test_id("marked")).to_contain_text("8 places")
    page.get_by_test_id("mark-back").click()
    expect(page.get_by_test_id("marked")).to_contain_text("7 places")
    expect(todo).to_contain_text("Mark the paper")
    told = compared(page, photo)
    expect(told).to_contain_text("taken from 5° round", timeout=LIMIT_MS)
    expect(told).to_contain_text("Warden")
    page.get_by_text("Half", exact=True).click()
    page.reload()
    choose(page, "Plan", "Wardens of the spring tide")
    expect(page.get_by_test_id("marked")).to_contain_text("7 places")
    expect(page.get_by_test_id("compared")).to_contain_text("taken from 5° round")


def test_marks_are_set_by_keys_and_taken_back(page: Page, demo: Server) -> None:
    open_compare(page, demo)
    page.get_by_test_id("piece-stand-in").click()
    todo = page.get_by_test_id("compare-todo")
    expect(todo).to_be_visible()
    by_points(page)
    while page.get_by_test_id("mark-back").is_enabled():
        page.get_by_test_id("mark-back").click()
    expect(page.get_by_test_id("marked")).to_contain_text("0 points")
    plan = page.get_by_test_id("plan-side").get_by_role("application")
    plan.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(todo).to_contain_text("on the photo: point 1")
    page.get_by_test_id("piece-photo").get_by_role("application").focus()
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("marked")).to_contain_text("1 point")
    page.get_by_test_id("mark-back").click()
    expect(page.get_by_test_id("marked")).to_contain_text("0 points")
    page.get_by_test_id("put-away").click()
    page.get_by_test_id("cards-trash").click()
    trash = page.get_by_role("dialog", name="Trash of the cards")
    trash.get_by_role("button", name="Restore Wardens of the spring tide").click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("piece-photo")).to_be_visible()
    expect(page.get_by_test_id("cards-trash")).to_have_count(0)
