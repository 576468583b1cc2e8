"""Files in the browser: a plan goes out and comes in; groups, search; data, units."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import drawn


def rows(page: Page) -> None:
    page.get_by_test_id("plan").first.wait_for()


def more_of(page: Page, plan: str, item: str) -> None:
    page.get_by_role("button", name=f"More for {plan}").click()
    page.locator(".el-dropdown-menu:visible").get_by_text(item, exact=True).click()


def test_a_plan_goes_out_as_a_file_and_comes_in_as_a_copy_after_it_changed(
    page: Page, own: Server, tmp_path: Path
) -> None:
    page.goto(own.address)
    rows(page)
    with page.expect_download() as download:
        more_of(page, "Herald in practice light", "Export")
    file = tmp_path / download.value.suggested_filename
    assert file.name == "herald-in-practice-light.haze"
    download.value.save_as(file)
    chooser = page.get_by_test_id("file-in").locator("input[type=file]")
    chooser.set_input_files(file)
    look = page.get_by_test_id("file-look")
    expect(look).to_contain_text("here already, stays as it is")
    page.get_by_role("button", name="Close", exact=True).click()
    herald = next(v for v in own.plans() if v["plan"]["name"].startswith("Herald"))
    plan = herald["plan"] | {"coats": herald["plan"]["coats"][:3]}
    body = {"version": herald["version"], "plan": plan, "what": "Shorter"}
    own.ask(f"plans/{herald['id']}", body, method="PUT")
    chooser.set_input_files(file.rename(tmp_path / "again.haze"))
    expect(look).to_contain_text("comes in as a copy")
    page.get_by_test_id("take-in").click()
    expect(page.get_by_test_id("plan")).to_have_count(5)
    copy = page.get_by_test_id("plan").filter(has_text="light, from a file")
    copy.click()
    drawn(page)
    assert len(own.plans()) == 5


@pytest.mark.thorough
def test_what_is_no_file_is_told_in_one_sentence(page: Page, own: Server, tmp_path: Path) -> None:
    herald = own.plans()[0]["id"]
    from urllib.request import urlopen

    with urlopen(f"{own.address}api/plans/{herald}/plan.haze") as answer:
        whole = answer.read()
    page.goto(own.address)
    rows(page)
    dialog = page.get_by_role("dialog")
    for name, what in {"empty": b"", "text": b"hello", "cut": whole[: len(whole) // 2]}.items():
        file = tmp_path / f"{name}.haze"
        file.write_bytes(what)
        page.get_by_test_id("file-in").locator("input[type=file]").set_input_files(file)
        expect(dialog.get_by_role("alert")).to_contain_text("no file of Haze")
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
    assert len(own.plans()) == 4


@pytest.mark.thorough
def test_plans_are_found_grouped_and_duplicated(page: Page, own: Server) -> None:
    page.goto(own.address)
    rows(page)
    more_of(page, "Herald in practice light", "Duplicate")
    expect(page.get_by_test_id("plan")).to_have_count(5)
    more_of(page, "Lamp stair at low tide", "Move to group …")
    page.locator(".el-message-box__input input").fill("Spring tide display")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_test_id("group")).to_have_text("Spring tide display")
    page.get_by_test_id("find").fill("display")
    expect(page.get_by_test_id("plan")).to_have_count(1)
    page.get_by_test_id("find").fill("herald light")
    expect(page.get_by_test_id("plan")).to_have_count(2)
    page.get_by_test_id("find").fill("nothing like it")
    expect(page.get_by_role("button", name="Show all")).to_be_visible()


@pytest.mark.thorough
def test_settings_back_up_check_and_change_units(page: Page, own: Server, tmp_path: Path) -> None:
    page.goto(own.address)
    rows(page)
    page.get_by_test_id("plan").filter(has_text="Wardens").click()
    drawn(page)
    room = page.locator(".room")
    expect(room).to_contain_text("20 °C")
    page.get_by_role("button", name="Settings").click()
    with page.expect_download() as download:
        page.get_by_test_id("backup").click()
    target = tmp_path / "backup.sqlite3"
    download.value.save_as(target)
    assert target.read_bytes().startswith(b"SQLite format 3\0")
    expect(page.get_by_test_id("data")).to_contain_text("Last backup")
    page.get_by_test_id("check").click()
    expect(page.get_by_test_id("checked")).to_contain_text("All is well: 4 plans")
    for name, choice in (
        ("length_unit", "inch"),
        ("temperature_unit", "°F"),
        ("decimal_sign", "1,5"),
        ("volume_unit", "ml"),
        ("trade_words", "explained"),
    ):
        page.get_by_test_id(name).get_by_text(choice, exact=True).click()
    page.keyboard.press("Escape")
    expect(room).to_contain_text("68 °F")
    page.get_by_test_id("trade-word").filter(has_text="lands on").focus()
    expect(page.locator(".el-popper").filter(has_text="this coat gets to")).to_be_visible()
    page.get_by_role("link", name="Cups").click()
    expect(page.get_by_label("Distance, typed")).to_have_value(re.compile(r"^\d,\d+$"))
    expect(page.get_by_label("Pour in this order")).to_contain_text("0,")
    page.get_by_role("link", name="Piece").click()
    height = page.get_by_label("Height")
    height.fill("2")
    with page.expect_response(lambda r: r.request.method == "PUT" and "/api/plans/" in r.url):
        height.press("Enter")
    expect(height).to_have_value("2")
    wardens = next(v for v in own.plans() if v["plan"]["name"].startswith("Wardens"))
    assert wardens["plan"]["piece"]["height_mm"] == pytest.approx(50.8)
