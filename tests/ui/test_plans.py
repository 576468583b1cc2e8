"""Plans: meshes, stand-ins, and what is shown as saved, in a real browser."""

from __future__ import annotations

import json
import re
import sqlite3
import urllib.request
from contextlib import closing
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Locator, Page, Route, expect
from serving import Server

from haze.formats.meshes import write_stl
from ui.screens import choose, chosen, drawn, open_demo

pytestmark = pytest.mark.browser


def test_an_own_mesh_becomes_a_plan(page: Page, empty: Server, tmp_path: Path) -> None:
    solid = trimesh.creation.capsule(height=20, radius=8)
    good = tmp_path / "bollard with a rather long name that goes on and on.stl"
    good.write_bytes(write_stl(solid.vertices, solid.faces))
    page_file = tmp_path / "page.stl"
    page_file.write_text("<!doctype html><p>no such file</p>")
    page.goto(empty.address)
    expect(page.get_by_role("heading", name="Nothing planned yet")).to_be_visible()
    page.get_by_role("button", name="New plan").click()
    mesh_file(page).set_input_files(page_file)
    expect(page.get_by_role("alert")).to_contain_text("web page or XML, not a mesh")
    mesh_file(page).set_input_files(good)
    expect(page.get_by_test_id("guess")).to_contain_text("36 mm tall")
    expect(page.get_by_alt_text("The mesh with")).to_be_visible()
    page.get_by_role("textbox", name="Height").fill("40")
    page.get_by_text("Start bare").click()
    page.get_by_test_id("make").click()
    page.locator("[data-test=piece][data-drawn]").wait_for()
    expect(page.get_by_text("No steps yet")).to_be_visible()
    page.keyboard.press("1")
    expect(page.get_by_text("spray can reach")).to_be_visible()
    expect(page.get_by_role("textbox", name="Height")).to_have_value("40")


def test_a_figure_in_dark_red_is_laid_out_in_six_presses(page: Page, empty: Server) -> None:
    page.goto(empty.address)
    page.get_by_role("button", name="New plan").click()
    page.get_by_test_id("stand-in-warden").click()
    expect(page.get_by_test_id("guess")).to_contain_text("to its highest point this is 46 mm tall")
    page.get_by_role("radiogroup", name="Usual size").get_by_text("28 mm figure").click()
    expect(page.get_by_role("textbox", name="Height")).to_have_value("40.2")
    # nothing was ever put on this shelf: one press lays out made-up paints
    page.get_by_test_id("bare-shelf").get_by_test_id("example").click()
    expect(page.get_by_test_id("bare-shelf")).to_have_count(0)
    page.get_by_role("textbox", name="Colour").fill("#8e1f24")
    page.get_by_test_id("make").click()
    # the piece can be looked at while its coats are worked out, and then they are there
    page.locator("[data-test=piece][data-drawn]").wait_for()
    expect(page.get_by_test_id("layer-4")).to_be_visible()
    notes = page.get_by_test_id("scheme")
    expect(notes).to_contain_text("would not show under the colour")
    notes.get_by_role("button", name="Close").click()
    expect(notes).to_have_count(0)
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    # nobody asked for a wash, and what Haze laid out does not warn about itself
    steps = page.get_by_role("navigation", name="Steps in working order")
    expect(steps).to_be_visible()
    expect(steps).not_to_contain_text("issue")
    expect(page.locator("[data-test^=layer-]").get_by_text("Wash")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-1")).to_have_count(0)


def test_a_plan_needs_a_name_and_another_model_can_be_taken(page: Page, empty: Server) -> None:
    page.goto(empty.address)
    page.get_by_role("button", name="New plan").click()
    page.get_by_test_id("stand-in-warden").click()
    page.get_by_role("textbox", name="Name of the plan").fill("")
    expect(page.get_by_test_id("make")).to_be_disabled()
    page.get_by_role("button", name="Change model").click()
    page.get_by_test_id("stand-in-herald").click()
    expect(page.get_by_role("textbox", name="Name of the plan")).to_have_value("Herald")
    expect(page.get_by_test_id("make")).to_be_enabled()


def test_a_mesh_is_guessed_to_stand_on_its_foot_and_in_its_unit(
    page: Page, empty: Server, tmp_path: Path
) -> None:
    foot = trimesh.creation.cylinder(radius=1.2, height=0.3)
    body = trimesh.creation.cone(radius=0.7, height=4.0)
    solid = trimesh.util.concatenate([foot, body])
    solid.apply_transform(trimesh.geometry.align_vectors([0, 0, 1], [0, 1, 0]))
    path = tmp_path / "beacon.stl"
    path.write_bytes(write_stl(solid.vertices, solid.faces))
    page.goto(empty.address)
    page.get_by_role("button", name="New plan").click()
    mesh_file(page).set_input_files(path)
    expect(page.get_by_test_id("guess")).to_contain_text("the file in cm: 41.5 mm tall")
    expect(chosen(page, "Which way is up in the file")).to_contain_text("y up")
    expect(page.get_by_role("textbox", name="Height")).to_have_value("41.5")
    first = page.get_by_alt_text("The mesh with y up")
    expect(first).to_be_visible()
    choose(page, "Which way is up in the file", "z up")
    expect(page.get_by_alt_text("The mesh with z up")).to_be_visible()


def mesh_file(page: Page) -> Locator:
    """Where a mesh file is given."""
    return page.get_by_test_id("mesh-file").locator("input[type=file]")


def set_rounds(page: Page, to: str) -> None:
    rounds = page.get_by_role("textbox", name="Rounds")
    rounds.fill(to)
    rounds.press("Enter")


@pytest.mark.thorough
def test_a_plan_changed_in_another_window_is_told_at_once(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    other = page.context.new_page()
    open_demo(other, demo)
    set_rounds(other, "7")
    # nothing was done here, and nobody asked
    expect(page.get_by_test_id("saved")).to_have_text("changed elsewhere")
    expect(other.get_by_test_id("saved")).to_have_text("saved")
    page.get_by_role("button", name="Take the newer plan").click()
    expect(page.get_by_role("textbox", name="Rounds")).to_have_value("7")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    other.close()  # the window that listened for both; this one takes over
    third = page.context.new_page()
    open_demo(third, demo)
    set_rounds(third, "8")
    expect(page.get_by_test_id("saved")).to_have_text("changed elsewhere")
    set_rounds(page, "9")
    page.get_by_role("button", name="Keep mine as a copy").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(", copy")
    expect(page.get_by_role("textbox", name="Rounds")).to_have_value("9")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    expect(third.get_by_test_id("saved")).to_have_text("saved")


SPOIL = """
UPDATE revision SET document = '{"name": 3}'
WHERE (plan_id, number) IN (SELECT id, current FROM plan ORDER BY updated_at DESC LIMIT 1)
"""


def test_a_plan_that_cannot_be_read_is_named_and_goes_back(page: Page, empty: Server) -> None:
    plan = empty.ask("demo", {})
    plan["plan"]["name"] = "Wardens once more"
    body = {"version": plan["version"], "plan": plan["plan"], "what": "renamed"}
    empty.ask(f"plans/{plan['id']}", body, method="PUT")
    with sqlite3.connect(empty.folder / "haze.sqlite3", timeout=60) as db:
        db.execute(SPOIL)
    db.close()
    page.goto(empty.address)
    expect(page.get_by_test_id("plan")).to_have_count(3)
    expect(page.get_by_test_id("unreadable")).to_contain_text("could not be read")
    page.get_by_role("button", name="Go back to its last good revision").click()
    expect(page.get_by_test_id("plan")).to_have_count(4)
    expect(
        page.get_by_test_id("plan").filter(has_text="Wardens of the spring tide")
    ).to_be_visible()


def test_what_cannot_be_read_is_exported_or_deleted_and_takes_nothing_with_it(
    page: Page, own: Server
) -> None:
    with closing(sqlite3.connect(own.folder / "haze.sqlite3")) as db:
        db.execute("UPDATE revision SET document = '{}' WHERE plan_id = (SELECT min(id) FROM plan)")
        db.commit()
    page.goto(own.address)
    rows = page.get_by_test_id("unreadable")
    expect(rows).to_contain_text("A damaged plan could not be read")
    expect(page.get_by_test_id("plan")).to_have_count(3)
    with page.expect_download() as saved:
        rows.get_by_role("link", name="Export").click()
    assert len(json.loads(Path(saved.value.path()).read_text())["revision"]) >= 1
    rows.get_by_role("button", name="Delete").click()
    page.get_by_role("button", name="Cancel").click()
    expect(rows).to_be_visible()
    rows.get_by_role("button", name="Delete").click()
    page.get_by_role("button", name="Delete permanently").click()
    expect(rows).to_have_count(0)
    assert own.ask("unreadable") == {"records": []}


@pytest.mark.thorough
def test_a_long_list_of_plans_is_drawn_as_it_is_scrolled(page: Page, empty: Server) -> None:
    begun = empty.ask("demo", {})
    for n in range(16):
        plan = begun["plan"] | {"name": f"Wardens, watch {n}"}
        empty.ask("plans/copy", {"plan": plan})
    page.goto(empty.address)
    strips = page.get_by_test_id("plan")
    strips.first.wait_for()
    assert strips.count() < 20
    strips.last.hover()
    while strips.count() < 20:
        page.mouse.wheel(0, 600)
        page.wait_for_timeout(30)
    page.get_by_test_id("find").fill("watch 13")
    expect(strips).to_have_count(1)


@pytest.mark.thorough
def test_a_disk_that_is_full_stands_above_the_screen_until_there_is_room(
    page: Page, demo: Server
) -> None:
    open_demo(page, demo)
    full = {"code": "disk_full", "detail": "The disk is full. Make room, then try again."}
    saves = re.compile(r"/api/plans/[0-9a-f]+$")

    def refuse(route: Route) -> None:
        if route.request.method == "PUT":
            route.fulfill(status=507, json=full)
        else:
            route.continue_()

    page.route(saves, refuse)
    set_rounds(page, "6")
    expect(page.get_by_test_id("saved")).to_have_text("not saved")
    notice = page.locator(".el-alert")
    told = page.get_by_role("alert").filter(has_text="The disk is full")
    expect(told).to_have_count(1)
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("button", name="Stay").click()
    expect(page.get_by_role("textbox", name="Rounds")).to_have_value("6")
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("button", name="Leave and lose it").click()
    page.get_by_test_id("wall").get_by_role("button").first.wait_for()
    expect(notice).to_contain_text("The disk is full")
    page.go_back()
    drawn(page)
    expect(notice).to_contain_text("The disk is full")
    page.unroute(saves, refuse)
    set_rounds(page, "5")
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    expect(notice).to_have_count(0)


@pytest.mark.thorough
def test_a_killed_server_loses_nothing_that_was_shown_as_saved(page: Page, empty: Server) -> None:
    page.goto(empty.address)
    page.get_by_role("button", name="Open the demo plan").click()
    drawn(page)
    sweep = page.get_by_role("textbox", name="Sweep")
    sweep.fill("33")
    sweep.press("Enter")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    empty.kill()
    sweep.fill("44")
    sweep.press("Enter")
    expect(page.get_by_test_id("saved")).to_have_text("not saved")
    empty.start()
    with urllib.request.urlopen(f"{empty.address}api/plans") as answer:
        assert answer.status == 200
    page.get_by_role("button", name="Save again").click()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.reload()
    drawn(page)
    expect(page.get_by_role("textbox", name="Sweep")).to_have_value("44")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("textbox", name="Sweep")).to_have_value("33")
