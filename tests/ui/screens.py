"""Ways to a screen of the demo and to what is drawn on it."""

from __future__ import annotations

from pathlib import Path

from playwright.sync_api import FloatRect, Locator, Page, expect
from serving import Server

# what lies behind a modal dialog is out of reach for everybody
LOOKED_THROUGH = """asked => {
  const modal = [...document.querySelectorAll('[aria-modal=true]')].filter(
    (one) => one.checkVisibility());
  if (!modal.length) return axe.run(document, asked);
  const rules = { 'landmark-no-duplicate-banner': { enabled: false } };  // two dialogs, one open
  return axe.run(modal.at(-1), { ...asked, rules });
}"""
HINDERS = ("moderate", "serious", "critical")
AXE = Path(__file__).parents[2] / "ui" / "node_modules" / "axe-core" / "axe.min.js"


def open_demo(page: Page, server: Server, plan: str = "Wardens") -> None:
    """Open a plan of the demo, by how its name begins, and wait until its piece is drawn."""
    found = next(key for key, name in server.names().items() if name.startswith(plan))
    page.goto(f"{server.address}plan/{found}/coats")
    drawn(page)


def open_shelf(page: Page, address: str) -> None:
    """Open the shelf and wait for its chips."""
    page.goto(f"{address}shelf")
    page.get_by_test_id("wall").get_by_role("button").first.wait_for()


def drawn(page: Page) -> None:
    """Wait until the piece is drawn and the film of the plan shown."""
    page.locator("[data-test=piece][data-drawn]").wait_for()
    page.locator("[data-test^='layer-']").first.wait_for()


def smooth(page: Page) -> None:
    """Wait until the rays of the plan on the screen are traced as finely as they will be."""
    page.locator("[data-test=piece][data-smooth=done][data-settled]").wait_for()


def draws(page: Page) -> int:
    """How often the piece was drawn in fresh colours."""
    return int(page.get_by_test_id("piece").get_attribute("data-drawn") or 0)


def wait_for_draw(page: Page, before: int) -> None:
    """Wait until it was drawn more often than `before`."""
    expect(page.get_by_test_id("piece")).not_to_have_attribute("data-drawn", str(before))


def picture(page: Page) -> bytes:
    """The piece as drawn, without the words above it."""
    box = page.get_by_test_id("piece").bounding_box()
    assert box is not None
    words = 40
    clip = FloatRect(
        x=box["x"], y=box["y"] + words, width=box["width"], height=box["height"] - words
    )
    return page.screenshot(clip=clip)


def drag(page: Page, what: Locator, dx: float, dy: float) -> None:
    """Drag something by its middle, in five moves, once it stands still."""
    what.hover()
    box = what.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.down()
    for i in range(1, 6):
        page.mouse.move(x + dx * i / 5, y + dy * i / 5)
    page.mouse.up()


def select_coat(page: Page, number: int) -> None:
    """Choose a step in the film."""
    page.get_by_test_id(f"layer-{number}").click()
    after(page, number)


def after(page: Page, number: int) -> None:
    """Wait until the piece stands after so many steps."""
    expect(page.get_by_test_id("state")).to_contain_text(f", {number} of ")


def choose(scope: Page | Locator, label: str, option: str) -> None:
    """Take one of a few by its words."""
    field = scope.get_by_role("combobox", name=label, exact=True)
    field.locator("xpath=ancestor::*[contains(@class, 'el-select__wrapper')]").click()
    dropped = field.page.locator(".el-select-dropdown")
    dropped.get_by_role("option", name=option).first.click()


def chosen(scope: Page | Locator, label: str) -> Locator:
    """What stands chosen in a field."""
    field = scope.get_by_role("combobox", name=label, exact=True)
    return field.locator("xpath=ancestor::*[contains(@class, 'el-select__wrapper')]")


def show(page: Page, look: str) -> None:
    """Show the piece another way; those that do not fit in the row stand behind a word."""
    row = page.locator(".looks").get_by_text(look, exact=True)
    if not row.count():
        page.get_by_test_id("more-looks").click()
        row = page.get_by_role("menuitem", name=look, exact=True)
    row.click()


def clear_to_all(page: Page) -> None:
    """What is shown keeps nobody out, by daylight and with the lamp off."""
    found = faults(page, "daylight")
    # what can be read by whom is the same in both; how well it stands out is not
    found += faults(page, "lamp_off", only=["color-contrast"])
    assert not found, found


def faults(page: Page, theme: str, only: list[str] | None = None) -> list[tuple[str, list[object]]]:
    """What keeps somebody from using the screen under a theme, or makes it harder."""
    page.evaluate("theme => (document.documentElement.dataset.theme = theme)", theme)
    page.evaluate("() => Promise.allSettled(document.getAnimations().map(a => a.finished))")
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE.read_text("utf-8"))
    asked = {"resultTypes": ["violations"]} | ({"runOnly": only} if only else {})
    found = page.evaluate(LOOKED_THROUGH, asked)
    return [
        (v["id"], [n["target"] for n in v["nodes"]][:4])
        for v in found["violations"]
        if v["impact"] in HINDERS
    ]
