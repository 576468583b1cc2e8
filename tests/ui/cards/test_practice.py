"""Practice in the browser: a card is named, judged, and the next comes; by keyboard alone."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import open_shelf

pytestmark = pytest.mark.browser


def test_a_card_is_named_judged_and_followed_by_another(page: Page, demo: Server) -> None:
    open_shelf(page, demo.address)
    page.get_by_role("link", name="Cards").click()
    page.get_by_test_id("cards-tabs").get_by_text("Practise").click()
    card = page.get_by_test_id("practice-card")
    expect(card).to_be_visible()
    first = card.get_attribute("src")
    answer = page.get_by_test_id("practice-answer")
    expect(answer).to_be_disabled()
    page.get_by_test_id("practice-look").get_by_text("Specks").click()
    expect(answer).to_be_disabled()
    # the changes by keyboard
    page.get_by_role("radio", name="Nearer").focus()
    page.keyboard.press("Space")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("radio", name="Farther")).to_be_checked()
    answer.click()
    judged = page.get_by_test_id("practice-judged")
    expect(judged).to_contain_text("Farther")
    expect(page.get_by_test_id("practice-change-judged")).to_contain_text("Farther:")
    # it stays answered, and the next is another
    page.get_by_test_id("practice-next").click()
    expect(page.get_by_test_id("practice-answer")).to_be_disabled()
    expect(card).to_be_visible()
    assert card.get_attribute("src") != first
    page.reload()
    expect(page.get_by_test_id("practice-card")).to_be_visible()
    assert page.get_by_test_id("practice-card").get_attribute("src") != first
    expect(page.get_by_text("1 answered so far")).to_be_visible()
