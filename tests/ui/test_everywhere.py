"""On every screen and in every dialog everything can be reached, read and pressed."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, CDPSession, Page, Playwright, expect
from serving import Server

from ui.conftest import LIMIT_MS, QUICK, UNSEEN, linked
from ui.places import DIALOG, PLACES, Place, live
from ui.screens import clear_to_all

pytestmark = [pytest.mark.browser, pytest.mark.thorough]
# wide, high, under a finger
SIZES = (
    (640, 400, False),
    (768, 1024, True),
    (820, 1180, True),
    (1024, 768, True),
    (1280, 720, False),
    (1280, 800, False),
    (1920, 1080, False),
)
LEAST_TEXT_PX = 11.95
HERE = Path(__file__).parent
REACH = (HERE / "reach.js").read_text("utf-8")
STOPS = (HERE / "stops.js").read_text("utf-8")
SETTLED = """async () => {
  const all = 'button, input, a, svg, canvas, p, h2';
  const places = () => [...document.querySelectorAll(all)].map((one) => {
    const { x, y, width, height } = one.getBoundingClientRect();
    return [x, y, width, height].map(Math.round);
  }).join();
  await document.fonts.ready;
  const eager = [...document.images].filter((image) => image.loading !== 'lazy');
  await Promise.allSettled(eager.map((image) => image.decode()));
  for (let same = 0, last = ''; same < 4;) {
    await new Promise(requestAnimationFrame);
    const now = places();
    same = now === last ? same + 1 : 0;
    last = now;
  }
}"""
DIALOGS = [place for place in PLACES if place.opens]
COATS = next(place for place in PLACES if place.name == "Coats")


class Tour:
    """One page that goes from place to place and loads a screen only when it is another one."""

    def __init__(self, page: Page, touch: CDPSession, server: Server) -> None:
        self.page = page
        self._touch = touch
        self._address = server.address
        plans = server.ask("plans")["plans"]
        self._plan = next(p["id"] for p in plans if p["name"].startswith("Wardens"))
        self.dialogs = page.locator(DIALOG)
        self._path: str | None = None
        self._at: Place | None = None
        self._open = 0  # how many dialogs belong to the place

    def to(self, place: Place) -> Page:
        """Show a place; where it is shown already, only the size is put back."""
        self.size(1280, 800, finger=False)
        if self._at is place and self.dialogs.count() == self._open:
            self.settle()
            return self.page
        self._come(place)
        self._at, self._open = place, self.dialogs.count()
        return self.page

    def _come(self, place: Place) -> None:
        self.close()
        if self._path != place.path:
            self.page.goto(f"{self._address}{place.path.format(id=self._plan)}")
            self._path = place.path
            self.page.evaluate(STOPS)
        place.ready(self.page)
        self.open(place)
        if place.then:
            place.then(self.page)
            self.wait_for_answers()
        self.settle()

    def open(self, place: Place) -> None:
        if place.opens:
            place.opens(self.page)
            self.dialogs.first.wait_for()
            self.wait_for_answers()
            self.settle()

    def wait_for_answers(self) -> None:
        """Wait until a dialog shows what it works out, and no longer that it does."""
        for waiting in (".el-progress", ":text('Working it out')"):
            expect(self.page.locator(f"{DIALOG} {waiting}")).to_have_count(0)

    def close(self) -> None:
        while left := self.dialogs.count():
            self.page.keyboard.press("Escape")
            expect(self.dialogs).to_have_count(left - 1)

    def size(self, width: int, height: int, *, finger: bool) -> None:
        touched = {"enabled": finger, "maxTouchPoints": 5 if finger else 1}
        self._touch.send("Emulation.setTouchEmulationEnabled", touched)
        self.page.set_viewport_size({"width": width, "height": height})
        assert self.page.evaluate("matchMedia('(pointer: coarse)').matches") == finger

    def settle(self) -> None:
        self.page.evaluate(SETTLED)


@pytest.fixture(scope="module")
def tour(
    browser: Browser,
    playwright: Playwright,
    pieces: Path,
    tmp_path_factory: pytest.TempPathFactory,
) -> Iterator[Tour]:
    server = Server(
        linked(pieces, tmp_path_factory.mktemp("everywhere") / "data", demo=True),
        demo=True,
        more=QUICK,
        forked=True,
    )
    server.prepare()
    live(server.address)
    playwright.selectors.set_test_id_attribute("data-test")
    context = browser.new_context(locale="en-GB", reduced_motion="reduce")
    page = context.new_page()
    page.add_init_script(path=UNSEEN)
    page.set_default_timeout(LIMIT_MS)
    expect.set_options(timeout=LIMIT_MS)
    yield Tour(page, context.new_cdp_session(page), server)
    context.close()
    server.kill()


@pytest.fixture(scope="module", params=PLACES, ids=lambda place: place.name)
def place(request: pytest.FixtureRequest) -> Place:
    """Each in turn, with all tests of it before the next."""
    return request.param


def test_everything_is_whole_and_within_reach_at_every_size(tour: Tour, place: Place) -> None:
    page = tour.to(place)
    found: dict[str, list[str]] = {}
    for width, height, finger in SIZES:
        tour.size(width, height, finger=finger)
        tour.settle()
        for what in page.evaluate(REACH, {"finger": finger, "least": LEAST_TEXT_PX}):
            found.setdefault(what, []).append(f"{width}×{height}")
    assert not found, "\n".join(f"{what}  ({', '.join(at)})" for what, at in found.items())


def test_nothing_keeps_anybody_out(tour: Tour, place: Place) -> None:
    clear_to_all(tour.to(place))


def test_tab_goes_from_first_to_last_and_back(tour: Tour, place: Place) -> None:
    page = tour.to(place)
    expected = page.evaluate("stops.expected()")
    wrong = []
    for key in ("Tab", "Shift+Tab"):
        reached, seen_wrong = walked(page, key, 2 * len(expected) + 20)
        wrong += [f"{key} does not reach {stop}" for stop in expected if stop not in reached]
        wrong += seen_wrong
    assert not wrong, "\n".join(wrong)


def walked(page: Page, key: str, most: int) -> tuple[list[str], list[str]]:
    """Where a key stops until it comes round, and what is wrong there."""
    reached: list[str] = []
    wrong: list[str] = []
    for _ in range(most):
        page.keyboard.press(key)
        now = page.evaluate("stops.now()")
        if now is None or (reached and now["stop"] == reached[-1]):
            continue
        if now["stop"] in reached:
            if now["stop"] != reached[0]:
                wrong.append(f"{key} goes back to {now['stop']}")
            break
        reached.append(now["stop"])
        wrong += [f"{now['stop']}: {what}" for what in now["wrong"]]
    return reached, wrong


@pytest.mark.parametrize("place", DIALOGS, ids=lambda place: place.name, indirect=True)
def test_escape_closes_a_dialog_whatever_has_the_focus(tour: Tour, place: Place) -> None:
    page = tour.to(place)
    dialogs = tour.dialogs.count()
    for n in range(len(page.evaluate("stops.kinds()"))):
        if tour.dialogs.count() < dialogs:
            tour.close()
            tour.open(place)
        kind = page.evaluate("n => stops.focusKind(n)", n)
        if kind is None:
            break  # there are fewer while the dialog is not filled
        page.keyboard.press("Escape")
        expect(tour.dialogs, f"Escape on {kind}").to_have_count(dialogs - 1)


def test_the_wheel_over_the_piece_scrolls_where_the_screen_does(tour: Tour) -> None:
    page = tour.to(COATS)
    down = "() => document.querySelector('.bench').scrollTop"
    tour.size(640, 400, finger=False)
    tour.settle()
    page.get_by_test_id("piece").scroll_into_view_if_needed()
    page.get_by_test_id("piece").hover()
    before = page.evaluate(down)
    page.mouse.wheel(0, 200)
    page.wait_for_function(f"before => ({down})() > before", arg=before)
    tour.size(1280, 800, finger=False)
