"""The piece: its parts, its front, its looks, in a real browser."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import after, choose, chosen, draws, open_demo, picture, show, wait_for_draw

pytestmark = [pytest.mark.browser, pytest.mark.drawn]


@pytest.mark.thorough
def test_the_demo_shows_the_warden_coat_by_coat(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    expect(page.get_by_role("heading", name="Wardens of the spring tide")).to_be_visible()
    page.keyboard.press("1")  # where no airbrush points at the piece
    seen = [picture(page)]
    for _ in range(14):
        before = draws(page)
        page.keyboard.press("[")
        wait_for_draw(page, before)
        seen.append(picture(page))
    assert len(set(seen)) == 12, "every step but the rest and the mask changes the piece"
    expect(page.get_by_text("bare piece", exact=True)).to_be_visible()
    page.keyboard.press("]")
    after(page, 1)


def test_keys_lead_through_the_steps_and_looks(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    for key, heading in (
        ("1", "Harbour warden"),
        ("2", "Front"),
        ("4", "Quay Satin"),
        ("5", "Finish by"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_role("heading", name=heading).first).to_be_visible()
    page.keyboard.press("3")
    painted, count = picture(page), draws(page)
    page.keyboard.press("v")
    expect(page.get_by_role("radio", name="value")).to_be_checked()
    wait_for_draw(page, count)
    assert picture(page) != painted
    page.keyboard.press("l")
    expect(page.get_by_role("radio", name="this coat")).to_be_checked()
    turned = picture(page)
    page.keyboard.press("ArrowRight")
    page.wait_for_function("() => new Promise(done => requestAnimationFrame(() => done(true)))")
    assert picture(page) != turned
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Help")).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_role("dialog", name="Help")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Help")).to_be_hidden()


@pytest.mark.thorough
def test_a_part_is_held_off_named_and_put_back(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Herald")
    page.keyboard.press("1")
    parts = page.get_by_test_id("parts")
    expect(parts).to_contain_text("can be reached")
    count = draws(page)
    choose(page, "Plinth: attached or off", "painted on its own")
    wait_for_draw(page, count)
    name = page.get_by_label("Name of Plinth")
    name.fill("Foot")
    name.press("Enter")
    expect(chosen(page, "Foot: attached or off")).to_contain_text("off")
    undo = page.get_by_role("button", name="Undo", exact=True).first
    undo.click()
    expect(chosen(page, "Plinth: attached or off")).to_contain_text("off")
    undo.click()
    expect(chosen(page, "Plinth: attached or off")).to_contain_text("attached")
    page.get_by_label("Choose Herald").check(force=True)
    page.get_by_role("button", name="Cut", exact=True).click()
    expect(page.get_by_label("Name of Herald, upper")).to_be_visible()
    page.get_by_label("Choose Plinth").check(force=True)
    expect(page.get_by_role("button", name="Merge")).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Name of Herald, upper")).to_be_hidden()


@pytest.mark.thorough
def test_every_look_draws_and_tells_what_it_shows(page: Page, demo: Server) -> None:
    open_demo(page, demo, "Lamp stair")
    seen = {picture(page)}
    for look in ("value", "this coat", "reach", "uncovered", "target light", "off target"):
        count = draws(page)
        show(page, look)
        wait_for_draw(page, count)
        seen.add(picture(page))
    assert len(seen) == 7
    expect(page.get_by_text("mid grey: as wanted")).to_be_visible()


@pytest.mark.thorough
def test_the_side_that_faces_the_painter_becomes_the_show_side(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    page.keyboard.press("1")
    for _ in range(9):
        page.keyboard.press("ArrowRight")
    count = draws(page)
    page.get_by_role("button", name="Set as front").click()
    expect(page.get_by_text("Working out which sides each point sees")).to_be_visible()
    wait_for_draw(page, count)
    expect(page.get_by_text("Working out which sides each point sees")).to_be_hidden()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
