"""Refresh docs/screenshots from the demo data: `make shots`."""

from __future__ import annotations

from pathlib import Path

from made_up import card, painted, tried
from playwright.sync_api import Page
from serving import ask, browsing, open_demo, served

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
SETTLE_MS = 900
# pressed around the wardens on the stand-in's photo, in shares of it
AROUND_WARDENS = (
    *((0.33, 0.83), (0.36, 0.66), (0.39, 0.42), (0.45, 0.29), (0.55, 0.24), (0.58, 0.08)),
    *((0.65, 0.08), (0.67, 0.4), (0.67, 0.72), (0.69, 0.85), (0.6, 0.97), (0.42, 0.97)),
)


def shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(SETTLE_MS)
    page.mouse.move(4, 4)
    page.screenshot(path=TARGET / f"{name}.png")


def figure(page: Page, address: str) -> None:
    open_demo(page, address)
    page.keyboard.press("1")
    page.get_by_text("can be reached").first.wait_for()
    shoot(page, "piece")
    page.keyboard.press("2")
    shoot(page, "light")
    page.keyboard.press("3")
    page.get_by_test_id("layer-14").click()
    page.get_by_test_id("recipe").get_by_text("then wait").wait_for()
    shoot(page, "coats")
    page.get_by_test_id("layer-5").click()
    page.evaluate("document.documentElement.dataset.theme = 'lamp_off'")
    page.keyboard.press("c")
    page.get_by_role("table", name="Sample 1").wait_for()
    shoot(page, "coats-lamp-off")
    page.keyboard.press("Escape")
    page.evaluate("document.documentElement.dataset.theme = 'daylight'")


def near(page: Page, address: str) -> None:
    """Coat by coat, and weathering near by."""
    open_demo(page, address)
    page.get_by_test_id("coat-by-coat").click()
    page.locator("[data-test=tiles][data-done]").wait_for()
    shoot(page, "coat-by-coat")
    open_demo(page, address, "Marrow")
    page.locator("[data-test=piece][data-grained]").wait_for()
    box = page.get_by_test_id("piece").bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.3 * box["width"], box["y"] + 0.52 * box["height"])
    page.mouse.wheel(0, -900)
    shoot(page, "weathering")


def colour(page: Page) -> None:
    """Ladder and whole sequences, from the open wardens' plan."""
    page.get_by_test_id("layer-3").click()
    page.get_by_test_id("ladder").click()
    page.get_by_label("Film of each").fill("12")
    page.get_by_label("Film of each").press("Enter")
    page.get_by_test_id("build").click()
    page.get_by_test_id("put-on").wait_for()
    shoot(page, "ladder")
    page.keyboard.press("Escape")
    page.get_by_test_id("ladder-drawer").wait_for(state="hidden")
    page.get_by_test_id("sequence").click()
    page.get_by_test_id("lay").click()
    page.get_by_alt_text("The piece painted by this school").nth(1).wait_for()
    shoot(page, "sequence")
    page.keyboard.press("Escape")
    page.get_by_test_id("start-sequence").wait_for(state="hidden")


def cups(page: Page, address: str) -> None:
    """Cups with trials on the window, trouble, and the window by itself."""
    open_demo(page, address)
    page.keyboard.press("4")
    page.get_by_test_id("cup-4").click()
    window = page.locator("[data-test=window][data-drawn]")
    window.wait_for()
    pressure = page.get_by_label("Pressure, typed")
    for psi, look in (("14", "clean"), ("30", "spiders"), ("17", "clean")):
        pressure.fill(psi)
        pressure.press("Enter")
        page.get_by_test_id(f"look-{look}").click()
        page.wait_for_timeout(SETTLE_MS)
    page.locator("[data-test=piece][data-smooth=done]").wait_for(state="attached")
    shoot(page, "cups")
    page.goto(f"{address}window")
    window.wait_for()
    shoot(page, "window")


def day(page: Page, address: str) -> None:
    """The demo day of four plans as strands, and the booth in it."""
    open_demo(page, address)
    page.keyboard.press("5")
    for _ in range(4):
        page.locator("[data-test=strands]").wait_for()
        page.get_by_test_id("laying").wait_for(state="detached")
        if not page.get_by_test_id("add-plan").count():
            break
        page.get_by_test_id("add-plan").locator(".el-select__wrapper").click()
        page.locator(".el-select-dropdown:visible .el-select-dropdown__item").first.click()
        page.get_by_test_id("laying").wait_for()
    shoot(page, "day")
    page.get_by_test_id("to-booth").click()
    page.get_by_test_id("booth-title").wait_for()
    while ":hold" not in (page.get_by_test_id("booth").get_attribute("data-step") or ""):
        page.keyboard.press("Space")
        page.wait_for_timeout(150)
    page.get_by_test_id("hold-picture").wait_for()
    shoot(page, "booth")


def cards(page: Page, address: str) -> None:
    """A card of too thin a paint from too near, photographed by the stand-in."""
    number = card(address, "Shoal Blue", title="Wardens of the spring tide, Shoal Blue")
    ask(address, f"cards/{number}/stand-in", {"seed": 12, "off": False})
    page.goto(f"{address}cards")
    page.get_by_test_id("card-photo").wait_for()
    page.wait_for_timeout(SETTLE_MS)
    shoot(page, "cards")


def practice(page: Page, address: str) -> None:
    """A card to practise on, answered."""
    page.goto(f"{address}cards/practice")
    page.get_by_test_id("practice-card").wait_for()
    page.get_by_test_id("practice-look").get_by_text("Specks").click()
    page.get_by_test_id("practice-change").get_by_text("Nearer").click()
    page.get_by_test_id("practice-answer").click()
    page.get_by_test_id("practice-judged").wait_for()
    shoot(page, "practice")


def compare(page: Page, address: str) -> None:
    """The wardens as the stand-in photographs them, their light fallen short, over their plan."""
    plans = {p["name"]: p["id"] for p in ask(address, "plans")["plans"]}
    wardens = next(v for k, v in plans.items() if k.startswith("Wardens"))
    taken = {"reached": 0.3, "azimuth_deg": 32, "elevation_deg": 15}
    photo = ask(address, f"plans/{wardens}/piece-stand-in", taken)
    ring = [{"x": x, "y": y} for x, y in AROUND_WARDENS]
    ask(
        address,
        f"piece-photos/{photo['id']}/compare",
        {"ring": ring, "patch": {"x": 0.11, "y": 0.14}},
    )
    page.goto(f"{address}cards/compare")
    page.get_by_test_id("compared").wait_for()
    page.get_by_test_id("plan-side").locator("img").wait_for()
    page.wait_for_timeout(2 * SETTLE_MS)
    shoot(page, "compare")


def notebook(page: Page, address: str) -> None:
    """A session planned beside done."""
    plans = {p["name"]: p["id"] for p in ask(address, "plans")["plans"]}
    herald = next(v for k, v in plans.items() if k.startswith("Herald"))
    painted(address, herald, date="2026-11-12")
    tried(address, "Tern White", ["specks", "specks", "clean", "specks"])
    page.goto(f"{address}notebook")
    page.get_by_test_id("session").filter(has_text="Herald").click()
    page.get_by_test_id("planned-and-done").wait_for()
    page.get_by_test_id("rating").locator(".el-rate__item").nth(3).click()
    page.get_by_test_id("note").fill("Cheeks a little chalky: finer and thinner the next time.")
    page.get_by_test_id("note").press("Tab")
    page.get_by_label("rated 4 of 5").first.wait_for()
    page.get_by_alt_text("The piece as planned").wait_for()
    page.get_by_test_id("session-name").scroll_into_view_if_needed()
    shoot(page, "notebook")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with served() as address, browsing() as page:
        figure(page, address)
        colour(page)
        near(page, address)
        page.goto(f"{address}shelf")
        page.get_by_test_id("wall").get_by_role("button").first.wait_for()
        shoot(page, "shelf")
        open_demo(page, address, "Lamp stair")
        page.keyboard.press("2")
        page.get_by_test_id("light-pool").click()
        shoot(page, "light-terrain")
        open_demo(page, address, "Herald")
        page.goto(address)
        page.get_by_test_id("plan").nth(3).locator("img").wait_for()
        shoot(page, "plans")
        cups(page, address)
        cards(page, address)
        practice(page, address)
        compare(page, address)
        day(page, address)
    with served() as address, browsing() as page:
        page.goto(address)
        page.get_by_test_id("plan").nth(3).locator("img").wait_for()
        notebook(page, address)


if __name__ == "__main__":
    main()
