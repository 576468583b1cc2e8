"""The booth: a small day by Space only, whatever happens meanwhile; and by touch on a tablet."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Callable
from datetime import date
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, expect
from playwright.sync_api import TimeoutError as PlaywrightTimeout
from serving import Server

from ui.screens import AXE

MOST_PRESSES = 400
HELD_MS = 1300
SMALL_TEXT = """() => [...document.querySelectorAll('.booth *')].filter(e =>
  e.getClientRects().length && !e.closest('.visually-hidden') &&
  [...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()) &&
  parseFloat(getComputedStyle(e).fontSize) < 28).map(e => e.textContent.trim())"""


def small_day(server: Server) -> tuple[str, str]:
    """Herald's plan of two coats on two copies, and its day laid: their names."""
    view = next(v for v in server.plans() if v["plan"]["name"].startswith("Herald"))
    plan = view["plan"]
    plan["coats"] = plan["coats"][:2]
    plan["piece"]["copies"] = 2
    body = {"version": view["version"], "what": "A small day", "plan": plan}
    server.ask(f"plans/{view['id']}", body, method="PUT")
    day = server.ask(f"plans/{view['id']}/day?today=2026-11-28")
    server.ask(f"days/{day['id']}", {"version": 0, "doc": day["doc"]}, method="PUT")
    server.follow(server.ask(f"days/{day['id']}/lay", {"near": False}))
    return view["id"], day["id"]


def at_booth(page: Page, server: Server, plan: str) -> None:
    page.goto(f"{server.address}plan/{plan}/booth")
    page.get_by_test_id("booth-title").wait_for()


def stands(page: Page) -> tuple[str | None, str | None]:
    booth = page.get_by_test_id("booth")
    return booth.get_attribute("data-step"), booth.get_attribute("data-count")


def moved_on(page: Page, act: Callable[[], object]) -> None:
    """Press until the booth stands elsewhere: more to read and a wait take a press each."""
    before = stands(page)
    for _ in range(12):
        act()
        try:
            page.wait_for_function(
                """([step, count]) => {
                  const booth = document.querySelector('[data-test=booth]');
                  return booth.dataset.step !== step || booth.dataset.count !== count;
                }""",
                arg=[before[0], before[1]],
                timeout=1500,
            )
        except PlaywrightTimeout:
            continue
        return
    raise AssertionError(f"the booth stands still at {before}")


def press_on(page: Page) -> None:
    moved_on(page, lambda: page.keyboard.press("Space"))


def press_to(page: Page, kind: str) -> str:
    """Press Space until a step of a kind is there."""
    for _ in range(MOST_PRESSES):
        step = stands(page)[0] or ""
        if step.rsplit(":", 1)[-1].startswith(kind):
            return step
        press_on(page)
    raise AssertionError(f"no {kind} in {MOST_PRESSES} presses")


def hold_space(page: Page) -> None:
    page.keyboard.down("Space")
    page.wait_for_timeout(HELD_MS)
    page.keyboard.up("Space")


def sent(page: Page) -> None:
    """Wait until the server has everything that was pressed."""
    expect(page.get_by_test_id("booth")).to_have_attribute("data-unsent", "0")


def test_a_small_day_by_space_only_whatever_happens(page: Page, own: Server) -> None:
    plan, day = small_day(own)
    own.ask("settings", {"name": "devices", "value": "simulated"}, method="PUT")
    at_booth(page, own, plan)
    # specks on the card: held for a second, the first of six, held again, turned for the day
    press_to(page, "trial")
    hold_space(page)
    expect(page.get_by_test_id("booth-problem")).to_contain_text("What do you see?")
    hold_space(page)
    expect(page.get_by_test_id("correction")).to_be_visible()
    page.keyboard.press("Space")
    expect(page.get_by_test_id("booth-problem")).to_have_count(0)
    sent(page)
    # the line sags while spraying
    press_to(page, "hold")
    own.ask("devices", {"compressor_fault": "sag", "spraying": True})
    expect(page.get_by_test_id("drift")).to_contain_text("sags")
    own.ask("devices", {"compressor_fault": "none", "spraying": False})
    sent(page)
    # the server is cut off; ten presses meanwhile
    own.kill()
    for _ in range(10):
        press_on(page)
    expect(page.get_by_test_id("booth")).to_have_attribute("data-unsent", "10")
    expect(page.get_by_test_id("booth-state")).to_contain_text("No connection: 10 presses")
    where = stands(page)
    own.start()
    sent(page)
    page.reload()
    page.get_by_test_id("booth-title").wait_for()
    expect(page.get_by_test_id("booth")).to_have_attribute("data-step", where[0] or "")
    assert stands(page) == where
    for _ in range(MOST_PRESSES):
        if stands(page)[0] is None:
            break
        press_on(page)
    expect(page.get_by_test_id("booth-title")).to_have_text("All done")
    sent(page)
    view = own.ask(f"days/{day}/booth")
    exact(view)
    assert [e["symptom"] for e in view["events"] if e["kind"] == "problem"] == ["specks"]
    assert len([e for e in view["events"] if e["kind"] == "turned"]) == 1
    looks = [e["look"] for e in view["events"] if e["kind"] == "tried"]
    assert looks[0] == "specks"
    assert set(looks[1:]) == {"clean"}


def exact(view: dict[str, Any]) -> None:
    """Every count of every step is stored once, and nothing else."""
    events = view["events"]
    assert len({e["id"] for e in events}) == len(events)
    wanted = {(s["id"], n) for s in view["steps"] for n in range(s["count"])}
    redone = {e["step"] for e in events if e["kind"] == "redone"}
    done = Counter((e["step"], e["number"]) for e in events if e["kind"] in ("done", "tried"))
    assert set(done) == wanted
    assert all(n == 1 or (n == 2 and step in redone) for (step, _), n in done.items())


@pytest.mark.thorough
def test_two_tabs_count_nothing_twice(page: Page, own: Server) -> None:
    plan, day = small_day(own)
    at_booth(page, own, plan)
    other = page.context.new_page()
    at_booth(other, own, plan)
    for _ in range(6):
        press_on(page)
        expect(other.get_by_test_id("booth")).to_have_attribute("data-step", stands(page)[0] or "")
        press_on(other)
        expect(page.get_by_test_id("booth")).to_have_attribute("data-step", stands(other)[0] or "")
    page.keyboard.press("b")
    sent(page)
    sent(other)
    events = own.ask(f"days/{day}/booth")["events"]
    assert len([e for e in events if e["kind"] == "undone"]) == 1
    done = Counter((e["step"], e["number"]) for e in events if e["kind"] in ("done", "tried"))
    assert max(done.values()) == 1


@pytest.mark.thorough
def test_every_kind_of_step_is_large_and_reads_well_in_both_themes(page: Page, own: Server) -> None:
    plan, _ = small_day(own)
    at_booth(page, own, plan)
    page.evaluate(AXE.read_text("utf-8"))
    for kind in ("open", "cup", "trial", "hold", "check", "clean", "close"):
        press_to(page, kind)
        reads_well_in_both(page)
    page.keyboard.press("p")
    page.get_by_test_id("booth-problem").wait_for()
    reads_well_in_both(page)
    page.keyboard.press("Escape")
    page.get_by_test_id("more").click()
    reads_well_in_both(page)


def reads_well_in_both(page: Page) -> None:
    for theme in ("lamp_off", "daylight"):
        page.evaluate("theme => { document.documentElement.dataset.theme = theme; }", theme)
        reads_well(page)


def reads_well(page: Page) -> None:
    assert page.evaluate(SMALL_TEXT) == []
    rules = {"runOnly": ["color-contrast", "button-name", "image-alt", "aria-allowed-attr"]}
    found = page.evaluate("rules => axe.run('.booth', rules)", rules)
    assert [v["id"] for v in found["violations"]] == []
    heights = page.locator(".booth footer button").evaluate_all(
        "all => all.map(e => e.getBoundingClientRect().height)"
    )
    assert min(heights) >= 44


@pytest.mark.thorough
def test_the_same_day_by_touch_on_a_paired_tablet(
    page: Page, browser: Browser, own: Server
) -> None:
    plan, day = small_day(own)
    code = own.ask("tablets/code", {})["code"]
    door = own.ask("tablets")["address"]
    context = browser.new_context(
        ignore_https_errors=True, has_touch=True, viewport={"width": 820, "height": 1180}
    )
    assert page.url == "about:blank"  # nothing is open at the desk
    tablet = context.new_page()
    tablet.goto(f"{door}/plan/{plan}/booth")
    expect(tablet).to_have_url(f"{door}/pair")
    tablet.get_by_label("Code").fill(code)
    tablet.get_by_label("Name of this tablet").fill("Booth tablet")
    tablet.get_by_role("button", name="Pair").tap()
    tablet.wait_for_url(f"{door}/")
    tablet.goto(f"{door}/plan/{plan}/booth")
    tablet.get_by_test_id("booth-title").wait_for()
    tablet.evaluate(AXE.read_text("utf-8"))
    kinds = set()
    for _ in range(MOST_PRESSES):
        step = stands(tablet)[0]
        if step is None:
            break
        kind = step.rsplit(":", 1)[-1].split(".")[0]
        if kind not in kinds:
            kinds.add(kind)
            reads_well(tablet)
        moved_on(tablet, tablet.get_by_test_id("next").tap)
    assert kinds >= {"open", "cup", "trial", "hold", "check", "clean", "close"}
    expect(tablet.get_by_test_id("booth-title")).to_have_text("All done")
    sent(tablet)
    exact(own.ask(f"days/{day}/booth"))
    assert [t["name"] for t in own.ask("tablets")["tablets"]] == ["Booth tablet"]
    context.close()


@pytest.mark.thorough
def test_the_booth_of_a_day_nobody_planned_plans_it_and_goes_on(page: Page, own: Server) -> None:
    view = next(v for v in own.plans() if v["plan"]["name"].startswith("Lamp"))
    page.goto(f"{own.address}plan/{view['id']}/booth")
    page.locator("[data-test=booth][data-step]").wait_for()
    day = own.ask(f"plans/{view['id']}/day?today={date.today().isoformat()}")
    assert day["laid"] is not None
    assert day["doc"]["plans"] == [view["id"]]
    press_on(page)


@pytest.mark.thorough
def test_a_press_that_is_refused_is_set_aside_and_the_booth_goes_on(
    page: Page, own: Server
) -> None:
    view = next(v for v in own.plans() if v["plan"]["name"].startswith("Lamp"))
    page.goto(f"{own.address}plan/{view['id']}/booth")
    page.locator("[data-test=booth][data-step]").wait_for()
    day = own.ask(f"plans/{view['id']}/day?today={date.today().isoformat()}")["id"]
    odd = {"id": "odd-press-1", "at": "2026-12-01T10:00:00Z", "minute": 5.0, "kind": "done",
           "step": view["id"], "number": 0}  # fmt: skip
    page.evaluate(
        "([key, text]) => localStorage.setItem(key, text)",
        [f"haze-booth:{day}:{odd['id']}", json.dumps(odd)],
    )
    page.reload()
    expect(page.get_by_test_id("refused")).to_contain_text("could not be stored")
    press_on(page)
    sent(page)
    kept = own.ask(f"days/{day}/events", {"events": []})["events"]
    assert [e["step"] for e in kept] == ["day-0:open"]
    page.get_by_test_id("dismiss-refused").click()
    expect(page.get_by_test_id("refused")).to_have_count(0)
