"""Plans: meshes, stand-ins, and what is shown as saved, in a real browser."""

from __future__ import annotations

import urllib.request
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Page, expect
from serving import Server

from haze.formats.meshes import write_stl
from ui.screens import drawn, open_demo

pytestmark = pytest.mark.browser


def test_an_own_mesh_becomes_a_plan(page: Page, empty: Server, tmp_path: Path) -> None:
    solid = trimesh.creation.capsule(height=20, radius=8)
    good = tmp_path / "bollard with a rather long name that goes on and on.stl"
    good.write_bytes(write_stl(solid.vertices, solid.faces))
    page_file = tmp_path / "page.stl"
    page_file.write_text("<!doctype html><p>no such file</p>")
    page.goto(empty.address)
    expect(page.get_by_role("heading", name="Nothing planned yet")).to_be_visible()
    page.get_by_role("button", name="Start with a mesh").click()
    page.get_by_test_id("mesh-file").set_input_files(page_file)
    expect(page.get_by_role("alert")).to_contain_text("web page or XML, not a mesh")
    page.get_by_test_id("mesh-file").set_input_files(good)
    page.get_by_role("textbox", name="True height").fill("40")
    page.get_by_role("button", name="Start the plan").click()
    drawn_piece = page.locator("[data-test=piece][data-drawn]")
    drawn_piece.wait_for()
    expect(page.get_by_text("spray can reach")).to_be_visible()
    expect(page.get_by_role("textbox", name="True height")).to_have_value("40")
    page.keyboard.press("3")
    expect(page.get_by_test_id("layer-4")).to_be_visible()


def test_the_stand_in_brings_its_true_height(page: Page, empty: Server) -> None:
    page.goto(empty.address)
    page.get_by_role("button", name="Start with a mesh").click()
    page.get_by_test_id("stand-in-warden").click()
    expect(page.get_by_role("textbox", name="True height")).to_have_value("46")
    page.get_by_role("textbox", name="Name of the plan").fill("")
    expect(page.get_by_role("button", name="Start the plan")).to_be_disabled()


def test_a_plan_changed_elsewhere_is_told_and_taken_over(page: Page, demo: Server) -> None:
    open_demo(page, demo.address)
    other = page.context.new_page()
    open_demo(other, demo.address)
    for one in (other, page):
        one.get_by_role("textbox", name="Passes").fill("7" if one is other else "9")
        one.get_by_role("textbox", name="Passes").press("Enter")
    expect(page.get_by_test_id("saved")).to_have_text("changed elsewhere")
    page.get_by_role("button", name="Take the newer plan").click()
    expect(page.get_by_role("textbox", name="Passes")).to_have_value("7")
    expect(page.get_by_test_id("saved")).to_have_text("saved")


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
