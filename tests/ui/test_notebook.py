"""The notebook in the browser: what was done comes into it, is found, and is done again."""

from __future__ import annotations

import re
from pathlib import Path

import made_up
import pytest
from PIL import Image
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import clear_to_all, drawn


@pytest.fixture
def done(own: Server) -> Server:
    """The demo after a day with the herald, and four cards of one paint."""
    own.prepare()
    herald = next(v for v in own.plans() if v["plan"]["name"].startswith("Herald"))
    made_up.painted(own.address, herald["id"], date="2026-11-12")
    made_up.tried(own.address, "Tern White", ["specks", "specks", "clean", "specks"])
    return own


def open_notebook(page: Page, server: Server) -> None:
    page.goto(f"{server.address}notebook")
    page.get_by_test_id("session-name").wait_for()


def test_an_empty_notebook_says_what_will_be_in_it(page: Page, empty: Server) -> None:
    page.goto(f"{empty.address}notebook")
    expect(page.get_by_test_id("empty")).to_contain_text("comes here by itself")
    clear_to_all(page)
    page.get_by_role("link", name="To the plans").click()
    page.wait_for_url(re.compile("/$"))


def test_a_session_is_looked_at_marked_found_and_put_away(
    page: Page, done: Server, tmp_path: Path
) -> None:
    open_notebook(page, done)
    rows = page.get_by_test_id("session")
    expect(rows).to_have_count(2)
    # by keyboard alone
    rows.first.focus()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_test_id("session-name")).to_have_text("Herald in practice light")
    table = page.get_by_test_id("planned-and-done")
    expect(table).to_contain_text("as planned")
    expect(table.locator("b").first).to_contain_text("psi")
    photo = tmp_path / "cheek.jpg"
    Image.linear_gradient("L").resize((900, 600)).save(photo)
    page.get_by_test_id("add-photo").locator("input[type=file]").set_input_files(photo)
    expect(page.get_by_test_id("photo")).to_have_count(1)
    page.get_by_test_id("photo").click()
    page.get_by_label("What it shows").fill("left cheek")
    page.keyboard.press("Escape")
    page.get_by_test_id("rating").locator(".el-rate__item").nth(3).click()
    page.get_by_test_id("note").fill("Chalky beside the lighthouse window")
    expect(rows.nth(1).get_by_label("rated 4 of 5")).to_be_visible()
    with page.expect_response(lambda answer: answer.request.method == "PUT"):
        page.get_by_test_id("note").press("Tab")
    page.reload()
    for find, count in (("lighth", 1), ("tern", 2), ("cheek", 1), ("nothing like it", 0)):
        page.get_by_test_id("find").fill(find)
        expect(rows).to_have_count(count)
    page.get_by_role("button", name="Show all").click()
    expect(rows).to_have_count(2)
    rows.nth(1).click()
    expect(page.get_by_test_id("session-name")).to_have_text("Herald in practice light")
    page.get_by_test_id("away").click()
    expect(rows).to_have_count(1)
    page.get_by_test_id("trash").click()
    page.get_by_role("button", name="Restore").click()
    expect(rows).to_have_count(2)


@pytest.mark.thorough
def test_what_cards_taught_is_taken_back_by_one_press(page: Page, done: Server) -> None:
    open_notebook(page, done)
    page.get_by_test_id("session").filter(has_text="Trial cards").click()
    taught = page.get_by_test_id("taught")
    expect(taught).to_contain_text("4 trials say so")
    page.get_by_test_id("take-back").click()
    expect(taught).to_contain_text("4 trials were taken back")
    page.get_by_test_id("take-back").click()
    expect(taught).to_contain_text("4 trials say so")
    page.get_by_role("link", name="all of Tern White").click()
    expect(page.get_by_test_id("known-page")).to_contain_text("Tern White")
    expect(page.get_by_test_id("known-page")).to_contain_text("Sessions with it")
    clear_to_all(page)


def test_a_plan_is_opened_as_it_was_and_done_again_with_other_gear(
    page: Page, done: Server
) -> None:
    open_notebook(page, done)
    page.get_by_test_id("session").filter(has_text="Herald").click()
    page.get_by_test_id("as-it-was").click()
    drawn(page)
    expect(page.get_by_test_id("then")).to_contain_text("as it was on that day")
    page.get_by_role("button", name="Turn off").click()
    expect(page.get_by_test_id("then")).to_contain_text("Keep it as a plan of its own")
    assert len(done.plans()) == 4
    page.get_by_role("link", name="Back to the notebook").click()
    page.get_by_test_id("again").click()
    page.get_by_test_id("again-airbrush").locator(".el-select__wrapper").click()
    page.get_by_role("option", name=re.compile("0.5 mm")).click()
    page.get_by_label("Copies").fill("3")
    page.get_by_label("Copies").press("Tab")
    page.get_by_test_id("work-out").click()
    found = page.get_by_test_id("differences")
    expect(found).to_contain_text("for the 0.5 mm needle")
    expect(found).to_contain_text("Copies")
    clear_to_all(page)
    page.get_by_test_id("keep-again").click()
    drawn(page)
    expect(page.get_by_role("heading", level=1)).to_have_text("Herald in practice light, again")
    plans = {v["plan"]["name"]: v["plan"] for v in done.plans()}
    again = plans["Herald in practice light, again"]
    assert again["piece"]["copies"] == 3
    assert again["airbrush"]["needle_mm"] == 0.5
