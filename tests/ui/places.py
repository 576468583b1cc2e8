"""Every screen and dialog of Haze, and the way to it, on a server where somebody has worked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from io import BytesIO

import made_up
from PIL import Image
from playwright.sync_api import Page
from serving import ask

from ui.screens import after, drawn, select_coat

Way = Callable[[Page], None]
PAINT, AWAY = "Tern White", "Lamp stair at low tide"
AROUND = ((0.33, 0.83), (0.39, 0.42), (0.58, 0.08), (0.67, 0.4), (0.69, 0.85), (0.42, 0.97))


def live(address: str) -> None:
    """Leave what a few evenings leave: sessions, trials, a card, a comparison, a full trash."""
    ids = {view["name"]: view["id"] for view in ask(address, "plans")["plans"]}
    version = {view["name"]: view["version"] for view in ask(address, "plans")["plans"]}
    made_up.painted(address, ids["Herald in practice light"], date="2026-11-12")
    ask(address, "settings", {"name": "devices", "value": "simulated"}, method="PUT")
    made_up.tried(address, PAINT, ["specks", "clean"])
    card = made_up.card(address, PAINT)
    ask(address, f"cards/{card}/stand-in", {"seed": 12, "off": False})
    photo = ask(address, f"plans/{ids['Wardens of the spring tide']}/piece-stand-in", {})
    ring = [{"x": x, "y": y} for x, y in AROUND]
    spots = {"ring": ring, "patch": {"x": 0.11, "y": 0.14}}
    ask(address, f"piece-photos/{photo['id']}/compare", spots)
    ask(address, f"plans/{ids[AWAY]}/trash", {"version": version[AWAY], "trashed": True})


@dataclass(frozen=True)
class Place:
    """A screen, or a dialog on it."""

    name: str
    path: str  # under the address; `{id}` is the plan's
    ready: Way  # waits until all of the screen is there
    opens: Way | None = None  # opens the dialog
    then: Way | None = None  # fills it

    def come(self, page: Page, address: str, plan: str) -> None:
        """Load the screen and wait for it; open its dialog."""
        page.goto(f"{address}{self.path.format(id=plan)}")
        self.ready(page)
        if self.opens:
            self.opens(page)
            page.locator(DIALOG).first.wait_for()
        if self.then:
            self.then(page)


DIALOG = ".el-overlay [role=dialog]:visible"


def seen(test_id: str) -> Way:
    """Wait until something with this test id is shown."""
    return lambda page: page.get_by_test_id(test_id).first.wait_for()


def headed(words: str) -> Way:
    """Wait for a heading."""
    return lambda page: page.get_by_role("heading", name=words).first.wait_for()


def press(test_id: str) -> Way:
    """Press something by its test id."""
    return lambda page: page.get_by_test_id(test_id).first.click()


def button(name: str) -> Way:
    """Press a button by its words."""
    return lambda page: page.get_by_role("button", name=name).first.click()


def under(more: Way, item: str) -> Way:
    """Open a menu, then press an item in it."""

    def way(page: Page) -> None:
        more(page)
        page.get_by_role("menuitem", name=item).first.click()

    return way


def window(page: Page) -> None:
    page.locator("[data-test=window][data-drawn]").wait_for()


def cups(page: Page) -> None:
    page.get_by_test_id("sure").wait_for()
    window(page)


def day(page: Page) -> None:
    page.get_by_test_id("strands").wait_for()
    page.get_by_test_id("laying").wait_for(state="detached")


def shelf(page: Page) -> None:
    page.get_by_test_id("wall").get_by_role("button").first.wait_for()


def coats(page: Page) -> None:
    drawn(page)
    select_coat(page, 5)
    after(page, 5)


def compare(page: Page) -> None:
    page.get_by_test_id("compared").wait_for()
    page.get_by_test_id("plan-side").locator("img").wait_for()


def notebook(page: Page) -> None:
    page.get_by_test_id("session").filter(has_text="Herald").click()
    page.get_by_test_id("planned-and-done").wait_for()


def stand_in(page: Page) -> None:
    press("stand-in-ball")(page)
    page.get_by_test_id("make").wait_for()


def sequence(page: Page) -> None:
    press("lay")(page)
    page.get_by_alt_text("The piece painted by this school").nth(1).wait_for()
    page.get_by_test_id("lands-2").wait_for()
    page.get_by_role("button", name="Compare both").wait_for()


def ladder(page: Page) -> None:
    press("build")(page)
    page.get_by_test_id("put-on").wait_for()


def schools(page: Page) -> None:
    page.get_by_test_id("schools").get_by_role("button", name="Use").first.wait_for()


def file_in(page: Page) -> None:
    """A plan's own file comes in."""
    first = page.request.get(f"{page.url}api/plans").json()["plans"][0]["id"]
    whole = page.request.get(f"{page.url}api/plans/{first}/plan.haze").body()
    chosen(page, "file-in", "plan.haze", whole)


def stills(page: Page) -> None:
    """Stills of the plan are made."""
    page.get_by_test_id("make-zip").click()
    page.get_by_test_id("made").wait_for()


def pasted(page: Page) -> None:
    """A list with a line that is not understood."""
    page.get_by_label("Paints, one a line").fill("Dark Rust, Oddmere\nMoonlit\nPale Wrack Green")
    page.get_by_test_id("preview").wait_for()


def chosen(page: Page, test_id: str, name: str, what: bytes) -> None:
    """Choose a file in a field."""
    field = page.get_by_test_id(test_id).first.locator("input[type=file]")
    field.set_input_files({"name": name, "mimeType": "application/octet-stream", "buffer": what})


def photo() -> bytes:
    """A grey wall with a swatch on it."""
    picture = Image.new("RGB", (900, 600), "#777777")
    picture.paste("#4b7a35", (450, 0, 900, 600))
    out = BytesIO()
    picture.save(out, "PNG")
    return out.getvalue()


def colour_photo(page: Page) -> None:
    press("shelf-mix")(page)
    chosen(page, "photo", "swatch.png", photo())
    page.get_by_alt_text("The photo that was chosen").wait_for()


def session_photo(page: Page) -> None:
    if not page.get_by_test_id("photo").count():
        chosen(page, "add-photo", "cheek.png", photo())
    press("photo")(page)


def several(page: Page) -> None:
    """All paints are chosen to be changed alike."""
    if page.get_by_role("button", name="Select").count():
        button("Select")(page)
        button("All shown")(page)
    press("bulk")(page)


PLANS = ("", seen("plan"))
SHELF = ("shelf", shelf)
LIGHT = ("plan/{id}/light", headed("Front"))
COATS = ("plan/{id}/coats", coats)
CUPS = ("plan/{id}/cups", cups)
NOTEBOOK = ("notebook", notebook)
CARDS = ("cards", seen("card-photo"))
CUP_MENU = button("More for this cup")
PLACES = (
    Place("Plans", *PLANS),
    Place("New plan", *PLANS, button("New plan")),
    Place("New plan, size and colours", *PLANS, button("New plan"), stand_in),
    Place("Plan a day", *PLANS, press("several")),
    Place("Trash of plans", *PLANS, button("Trash (")),
    Place("A file comes in", *PLANS, file_in),
    Place("Turntable", *PLANS, under(button("More for Wardens"), "Turntable"), stills),
    Place("Settings", *PLANS, button("Settings")),
    Place("Help", *PLANS, button("Help")),
    Place("Shelf", *SHELF),
    Place("A paint", *SHELF, button(PAINT)),
    Place("Add a paint", *SHELF, button("Add a paint")),
    Place("Files of the shelf", *SHELF, press("files")),
    Place("Paste a list", *SHELF, press("paste-list"), pasted),
    Place("Equipment", *SHELF, press("gear")),
    Place("A colour from a photo", *SHELF, colour_photo),
    Place("Several paints", *SHELF, several),
    Place("Window", "window", window),
    Place("Cards", *CARDS),
    Place("Print a card", *CARDS, press("print-card")),
    Place("A simulated photo", *CARDS, press("stand-in")),
    Place("Practise", "cards/practice", seen("practice-card")),
    Place("Compare", "cards/compare", compare),
    Place("Notebook", *NOTEBOOK),
    Place("Repeat", *NOTEBOOK, press("again")),
    Place("A photo of a session", *NOTEBOOK, session_photo),
    Place("Guide", "guide", seen("guide")),
    Place("Piece", "plan/{id}/piece", headed("Parts")),
    Place("Light", *LIGHT),
    Place("Three light plans", *LIGHT, press("compare")),
    Place("Coats", *COATS),
    Place("The room", *COATS, button("% RH")),
    Place("Add a step", *COATS, press("add-step")),
    Place("Priming", *COATS, press("priming")),
    Place("Scheme", *COATS, press("sequence"), sequence),
    Place("Ladder", *COATS, press("ladder"), ladder),
    Place("Mix", *COATS, press("mix")),
    Place("Coat by coat", *COATS, press("coat-by-coat")),
    Place("Side by side", *COATS, press("side-by-side")),
    Place("Cups", *CUPS),
    Place("Amounts", *CUPS, press("amounts")),
    Place("Something wrong?", *CUPS, press("trouble")),
    Place("Other schools", *CUPS, under(CUP_MENU, "What other schools would set"), schools),
    Place("A bottle of this mix", *CUPS, under(CUP_MENU, "A bottle of this mix")),
    Place("Day", "plan/{id}/day", day),
    Place("Booth", "plan/{id}/booth", seen("booth-title")),
)
