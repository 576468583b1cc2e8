"""The day as strands: several plans, what is asked, what is moved, and on paper."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import open_demo


def laid(page: Page) -> None:
    """Wait until a day is laid and nothing is being laid."""
    page.locator("[data-test=strands]").wait_for()
    expect(page.get_by_test_id("day")).to_have_attribute("data-busy", "false")


def open_day(page: Page, server: Server, plan: str = "Wardens") -> None:
    open_demo(page, server, plan)
    page.keyboard.press("5")
    laid(page)
    # an earlier test may have left a day of this plan as it was then
    if page.get_by_test_id("lay-again").count():
        page.get_by_test_id("lay-again").click()
        expect(page.get_by_test_id("stale")).to_have_count(0)
        laid(page)


def add_plan(page: Page, name: str) -> None:
    """Take a plan into the day and wait until it is laid with it."""
    page.get_by_test_id("add-plan").locator(".el-select__wrapper").click()
    page.get_by_role("option", name=re.compile(name)).click()
    expect(page.get_by_label("Plans of this day").get_by_role("listitem")).to_contain_text(
        ["Wardens", name]
    )
    expect(page.locator(".names .name").filter(has_text="Herald")).to_have_count(1)
    laid(page)


def test_a_day_of_two_plans_is_laid_and_drawn(page: Page, demo: Server) -> None:
    open_day(page, demo)
    figures = page.get_by_test_id("day-figures")
    expect(figures).to_contain_text("one by one")
    expect(page.get_by_test_id("bound")).to_contain_text("No order")
    add_plan(page, "Herald in practice light")
    expect(page.locator("[data-test^=row-]").filter(has_text="Herald").first).to_be_visible()
    expect(page.locator("[data-test^=row-]").filter(has_text="Bilge Black").first).to_be_visible()
    # out again, and back as it was by one press
    page.get_by_role("button", name="Remove Herald in practice light").click()
    expect(page.locator(".names .name").filter(has_text="Herald")).to_have_count(0)
    laid(page)
    page.get_by_test_id("take-back").click()
    expect(page.locator(".names .name").filter(has_text="Herald")).to_have_count(1)


def test_a_day_of_several_is_started_from_the_plans(page: Page, demo: Server) -> None:
    page.goto(demo.address)
    page.get_by_test_id("several").click()
    dialog = page.get_by_role("dialog", name="Plan a day")
    for name in ("Marrow", "Lamp stair"):
        dialog.get_by_text(name).first.click()
    dialog.get_by_test_id("start-day").click()
    laid(page)
    plans = page.get_by_label("Plans of this day").get_by_role("listitem")
    expect(plans).to_have_count(2)
    expect(plans.filter(has_text="Herald")).to_have_count(1)


@pytest.mark.thorough
def test_a_step_is_pinned_left_for_later_and_let_go(page: Page, demo: Server) -> None:
    open_day(page, demo)
    row = page.locator("[data-test^=row-]").filter(has_text="Tern White").first
    row.click()
    chosen = page.get_by_test_id("chosen")
    expect(chosen).to_contain_text("Tern White")
    page.get_by_test_id("pin").click()
    laid(page)
    pinned = page.locator("[data-test^=row-]").filter(has_text="pinned")
    expect(pinned.first).to_contain_text("Tern White")
    expect(page.get_by_test_id("moved")).to_be_visible()
    pinned.first.click()
    page.get_by_test_id("tomorrow").click()
    laid(page)
    later = page.locator("[data-test^=row-]").filter(has_text="left for later")
    expect(later.first).to_contain_text("Tern White")
    later.first.click()
    page.get_by_test_id("unpin").click()
    laid(page)
    expect(page.locator("[data-test^=row-]").filter(has_text="left for later")).to_have_count(0)


@pytest.mark.thorough
def test_the_day_is_asked_otherwise_by_keyboard_alone(page: Page, demo: Server) -> None:
    open_day(page, demo)
    six = page.get_by_test_id("stop").get_by_text("18:00")
    page.get_by_test_id("stop").get_by_role("radio").first.focus()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowRight")
    expect(six).to_be_visible()
    laid(page)
    first = page.locator("[data-test^=row-]").first
    first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("chosen")).to_be_visible()
    page.keyboard.press("ArrowDown")
    expect(page.locator("[data-test^=row-]").nth(1)).to_be_focused()
    page.get_by_test_id("add-break").press("Enter")
    expect(page.locator(".break").filter(has_text="a break").first).to_be_visible()


def test_the_day_as_a_table_as_files_and_on_paper(page: Page, demo: Server) -> None:
    open_day(page, demo)
    page.get_by_role("radiogroup", name="How the day is shown").get_by_text("Table").click()
    table = page.get_by_test_id("day-table")
    expect(table).to_contain_text("Cautions, mask, extraction on")
    expect(table).to_contain_text("Next from")
    page.get_by_test_id("day-files").click()
    with page.expect_download() as file:
        page.get_by_role("menuitem", name="Calendar file").click()
    assert "BEGIN:VEVENT" in file.value.path().read_text("utf-8")
    page.evaluate("() => { window.print = () => { window.printed = true; }; }")
    page.get_by_test_id("print").click()
    page.wait_for_function("() => window.printed")
    page.emulate_media(media="print")
    paper = page.get_by_test_id("day-print")
    expect(paper).to_contain_text("particle filter mask")
    expect(paper).to_contain_text("drops acrylic thinner, then")
    expect(paper).to_contain_text("tip the head")
    expect(page.get_by_role("navigation", name="Haze")).to_be_hidden()
    expect(page.get_by_test_id("strands")).to_be_hidden()
    pages = page.pdf(format="A4").count(b"/Type /Page\n")
    assert 1 <= pages <= 9


def test_a_changed_plan_is_told_and_the_day_laid_near_its_order(page: Page, demo: Server) -> None:
    open_day(page, demo, "Herald")
    page.keyboard.press("3")
    page.get_by_test_id("layer-2").click()
    page.get_by_role("button", name="Undo").wait_for()
    view = next(v for v in demo.plans() if v["plan"]["name"].startswith("Herald"))
    plan = view["plan"] | {"name": "Herald in evening light"}
    body = {"version": view["version"], "what": "Renamed", "plan": plan}
    demo.ask(f"plans/{view['id']}", body, method="PUT")
    page.goto(f"{demo.address}plan/{view['id']}/day")
    expect(page.get_by_test_id("stale")).to_contain_text("has changed since")
    page.get_by_test_id("lay-again").click()
    expect(page.get_by_test_id("stale")).to_have_count(0)
    laid(page)
