"""Cards in the browser: printed, photographed by the stand-in, read, agreed with, taken back."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, expect
from serving import Server

from ui.conftest import LIMIT_MS
from ui.screens import choose, chosen, clear_to_all, open_shelf

pytestmark = pytest.mark.browser


def open_cards(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    page.request.put(f"{demo.address}api/settings", data={"name": "devices", "value": "simulated"})
    page.goto(f"{demo.address}cards")
    expect(page.get_by_test_id("print-card")).to_be_visible()


def print_card(page: Page, paint: str) -> None:
    page.get_by_test_id("print-card").click()
    dialog = page.get_by_role("dialog", name="Print a card")
    choose(dialog, "Paint", paint)
    expect(page.get_by_test_id("card-setting")).to_contain_text("psi")
    page.get_by_test_id("make-card").click()
    expect(dialog.get_by_role("img", name="Trial card")).to_be_visible()
    sheet = re.compile(r"/api/cards/\d+/card\.pdf\?paper=a4")
    expect(page.get_by_test_id("card-pdf")).to_have_attribute("href", sheet)
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)


def shoot(page: Page, taken: str = "a careful photo") -> None:
    page.get_by_test_id("stand-in").click()
    choose(page.get_by_role("dialog", name="Simulated photo"), "Taken", taken)
    page.get_by_test_id("shoot").click()
    expect(page.get_by_role("dialog", name="Simulated photo")).to_have_count(0)


def test_a_card_is_printed_read_agreed_with_and_taken_back(page: Page, demo: Server) -> None:
    open_cards(page, demo)
    print_card(page, "Wrack Green")
    shoot(page)
    expect(page.get_by_test_id("card-photo")).to_be_visible()
    expect(page.get_by_test_id("quality")).to_contain_text("8 of 8 marks")
    expect(page.get_by_test_id("measure-pass_film_um")).to_contain_text("foreseen")
    expect(page.get_by_test_id("would-1")).to_contain_text("Would teach: clean here")
    page.get_by_test_id("agree-1").click()
    expect(page.get_by_test_id("card-taught")).to_contain_text("Clean here")
    expect(page.get_by_test_id("agree-1")).to_be_disabled()
    page.get_by_test_id("take-back").click()
    expect(page.get_by_test_id("card-taught")).to_have_count(0)
    expect(page.get_by_test_id("agree-1")).to_be_enabled()
    # something else than the two
    page.get_by_test_id("something-else").click()
    page.get_by_role("menuitem", name="Tip dry").click()
    expect(page.get_by_test_id("card-taught")).to_be_visible()
    # kept, whoever opens it next
    page.reload()
    expect(page.get_by_test_id("card-taught")).to_be_visible()


@pytest.mark.thorough
def test_a_bad_photo_says_what_to_do(page: Page, demo: Server) -> None:
    open_cards(page, demo)
    print_card(page, "Wrack Green")
    shoot(page, "out of focus")
    expect(page.get_by_test_id("refused")).to_contain_text("tap on the card to focus")
    clear_to_all(page)
    # taken again; the bad one can still be looked at
    shoot(page)
    expect(page.get_by_test_id("refused")).to_have_count(0)
    expect(chosen(page, "Photo")).to_contain_text("Wrack Green")
    choose(page, "Photo", "not read")
    expect(page.get_by_test_id("refused")).to_be_visible()


def test_what_is_no_photo_is_refused_and_the_screen_stays(
    page: Page, demo: Server, tmp_path: Path
) -> None:
    open_cards(page, demo)
    wrong = tmp_path / "card.jpg"
    wrong.write_bytes(b"no photo at all")
    page.locator("input[type=file]").set_input_files(wrong)
    expect(page.get_by_role("alert")).to_contain_text("no photo that can be read")
    expect(page.get_by_test_id("print-card")).to_be_enabled()


def test_a_setting_of_the_window_goes_on_a_card(page: Page, demo: Server) -> None:
    open_cards(page, demo)
    page.get_by_role("link", name="Window").click()
    page.get_by_test_id("bench-first").get_by_test_id("print-card").click()
    page.get_by_test_id("make-card").click()
    expect(page.get_by_role("img", name="Trial card")).to_be_visible()


def test_five_cards_that_map_the_window_are_printed_at_once(page: Page, demo: Server) -> None:
    open_cards(page, demo)
    page.get_by_test_id("print-card").click()
    choose(page.get_by_role("dialog", name="Print a card"), "Paint", "Wrack Green")
    page.get_by_test_id("make-drill").click()
    expect(page.get_by_test_id("drill-cards").get_by_role("listitem")).to_have_count(5)
    sheets = re.compile(r"/api/cards/sheets\.pdf\?numbers=\d+(&numbers=\d+){4}&paper=a4")
    expect(page.get_by_test_id("card-pdf")).to_have_attribute("href", sheets)
    link = page.get_by_test_id("card-pdf").get_attribute("href")
    got = page.request.get(f"{demo.address.rstrip('/')}{link}")
    assert got.ok
    assert got.body().startswith(b"%PDF")


@pytest.mark.thorough
def test_a_photo_taken_on_a_tablet_stands_at_the_desk(
    page: Page, empty: Server, browser: Browser
) -> None:
    out = io.BytesIO()
    Image.new("RGB", (1600, 1200), "white").save(out, "JPEG")
    with page.expect_request("**/api/news"):
        page.goto(f"{empty.address}cards")
    expect(page.get_by_test_id("no-photo")).to_be_visible()
    expect(page.get_by_test_id("read-photo-camera")).to_have_count(0)
    held = browser.new_context(has_touch=True, is_mobile=True)
    tablet = held.new_page()
    tablet.set_default_timeout(LIMIT_MS)
    tablet.goto(f"{empty.address}cards")
    camera = tablet.get_by_test_id("read-photo-camera").locator("input[type=file]")
    expect(camera).to_have_attribute("capture", "environment")
    camera.set_input_files({"name": "c.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()})
    expect(page.get_by_test_id("refused")).to_contain_text("Too few of the card's black marks")
    held.close()
    # put away at the desk it comes back; deleted permanently it does not
    page.get_by_test_id("put-away").click()
    expect(page.get_by_test_id("no-photo")).to_be_visible()
    page.get_by_test_id("cards-trash").click()
    trash = page.get_by_role("dialog", name="Trash of the cards")
    expect(trash.get_by_test_id("in-trash")).to_contain_text("Another card")
    trash.get_by_role("button", name="Restore Another card").click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("refused")).to_be_visible()
    expect(page.get_by_test_id("cards-trash")).to_have_count(0)
    page.get_by_test_id("put-away").click()
    page.get_by_test_id("cards-trash").click()
    page.get_by_test_id("empty-trash").click()
    sure = page.get_by_role("dialog", name="Empty the trash")
    sure.get_by_role("button", name="Cancel").click()
    expect(page.get_by_test_id("in-trash").get_by_role("listitem")).to_have_count(1)
    page.get_by_test_id("empty-trash").click()
    sure.get_by_role("button", name="Delete permanently").click()
    expect(page.get_by_test_id("cards-trash")).to_have_count(0)
    page.reload()
    expect(page.get_by_test_id("no-photo")).to_be_visible()
