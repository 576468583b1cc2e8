"""Mixes and ladders, in a real browser."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, expect
from serving import Server

from ui.screens import (
    draws,
    open_demo,
    open_shelf,
    select_coat,
    smooth,
    wait_for_draw,
)

pytestmark = pytest.mark.browser


def test_a_colour_is_mixed_and_taken_into_the_coat(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 2)
    page.get_by_test_id("mix").click()
    dialog = page.get_by_role("dialog", name="Match a colour")
    dialog.get_by_label("Wanted colour", exact=True).fill("#7a6f5c")
    dialog.get_by_test_id("look").click()
    mixes = dialog.get_by_test_id("mixes")
    expect(mixes).to_contain_text("plainest")
    count = draws(page)
    mixes.get_by_role("button", name="Use").first.click()
    wait_for_draw(page, count)
    expect(dialog).to_be_hidden()
    expect(page.get_by_role("button", name="Mix again")).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("4")
    words = page.get_by_role("img", name="Cup, in pouring order").get_attribute("aria-label") or ""
    assert words.count(",") >= 2
    page.keyboard.press("Control+z")
    page.keyboard.press("3")
    expect(page.get_by_role("button", name="Mix again")).to_be_hidden()


@pytest.mark.thorough
def test_a_colour_comes_from_a_photo(page: Page, demo: Server, tmp_path: Path) -> None:
    image = Image.new("RGB", (200, 100), "#777777")
    image.paste("#4b7a35", (100, 0, 200, 100))
    out = io.BytesIO()
    image.save(out, format="PNG")
    photo = tmp_path / "swatch.png"
    photo.write_bytes(out.getvalue())
    open_shelf(page, demo.address)
    page.get_by_test_id("shelf-mix").click()
    page.get_by_test_id("photo").first.locator("input[type=file]").set_input_files(photo)
    dialog = page.get_by_role("dialog", name="A colour from a photo")
    picture = dialog.get_by_alt_text("The photo that was chosen")
    picture.wait_for()
    # a click waits until the dialog stands still; the second until the first was taken
    for share, then in ((0.25, "Now click the swatch"), (0.75, "Click another place")):
        box = picture.bounding_box()
        assert box is not None
        at = {"x": box["width"] * share, "y": box["height"] / 2}
        picture.click(position=at)
        expect(dialog).to_contain_text(then)
    expect(dialog).to_contain_text("#4b7a35")
    dialog.get_by_role("button", name="Take this colour").click()
    mix = page.get_by_role("dialog", name="Match a colour")
    expect(mix.get_by_label("Wanted colour", exact=True)).to_have_value("#4b7a35")


@pytest.mark.thorough
def test_a_ladder_is_built_and_put_on_the_piece(page: Page, demo: Server) -> None:
    open_demo(page, demo)
    select_coat(page, 4)
    # the ground the ladder stands on is known exactly once the rays are traced
    smooth(page)
    page.get_by_test_id("ladder").click()
    drawer = page.get_by_test_id("ladder-drawer")
    drawer.get_by_label("Rungs", exact=True).first.fill("4")
    drawer.get_by_label("Rungs", exact=True).first.press("Enter")
    drawer.get_by_test_id("build").click()
    expect(drawer.get_by_role("img", name="The ladder")).to_be_visible()
    expect(drawer.get_by_test_id("rungs").get_by_role("row")).to_have_count(5)
    drawer.get_by_test_id("put-on").click()
    expect(drawer).to_be_hidden()
    expect(page.get_by_test_id("layer-16")).to_be_visible()
    expect(page.get_by_test_id("saved")).to_have_text("saved")
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("layer-16")).to_be_hidden()
