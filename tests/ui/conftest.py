"""The real application on its own data folder, driven by Debian's Chromium."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from filelock import FileLock
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect
from serving import ARGUMENTS, CHROMIUM, Server

STATIC = Path(__file__).parents[2] / "src" / "haze" / "web" / "static" / "index.html"
UNSEEN = Path(__file__).with_name("unseen.js")
LIMIT_MS = 150_000  # a busy machine is slow, not wrong


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    return {"executable_path": CHROMIUM, "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, object]:
    return {
        "viewport": {"width": 1280, "height": 800},
        "locale": "en-GB",
        "reduced_motion": "reduce",  # what moves while one waits would take from the work
    }


@pytest.fixture(scope="session")
def built() -> None:
    assert STATIC.exists(), "the screens are not built: run `make test`"


# nothing is worked out beside what a test asks for, and that of few points
QUICK = ("--on-demand", "--coarse")
CACHE = "cache-coarse"


def linked(made: Path, folder: Path, *, demo: bool) -> Path:
    """A data folder in which the demo's pieces are worked out already, with its plans or without.

    Files of the cache are replaced, never written into: links are as good as copies.
    """
    shutil.copytree(made / CACHE, folder / CACHE, copy_function=os.link)
    if demo:
        for file in made.glob("haze.sqlite3*"):
            shutil.copy(file, folder)
    return folder


@pytest.fixture(scope="session")
def pieces(built: None, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder of the demo with its pieces worked out, made once for all processes."""
    own = tmp_path_factory.mktemp("pieces")
    shared = own.parents[1] / "pieces" if "PYTEST_XDIST_WORKER" in os.environ else own / "made"
    with FileLock(shared.with_suffix(".lock")):
        if not shared.exists():
            server = Server(own / "data", demo=True, more=QUICK, forked=True)
            server.prepare()
            server.kill()
            (own / "data").rename(shared)
    return shared


@pytest.fixture(scope="session")
def prepared(pieces: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The demo with its pieces worked out, once for all tests of a process."""
    server = Server(
        linked(pieces, tmp_path_factory.mktemp("demo") / "data", demo=True),
        demo=True,
        more=QUICK,
        forked=True,
    )
    server.prepare()
    yield server
    server.kill()


@pytest.fixture
def demo(prepared: Server) -> Iterator[Server]:
    """The prepared demo; its plans are as they were before, whatever the test did to them."""
    before = prepared.plans()
    yield prepared
    prepared.put_back(before)


@pytest.fixture
def empty(pieces: Path, tmp_path: Path) -> Iterator[Server]:
    """No plan yet; the demo's pieces need not be worked out once more when it is opened."""
    server = Server(
        linked(pieces, tmp_path / "empty", demo=False), demo=False, more=QUICK, forked=True
    )
    yield server
    server.kill()


@pytest.fixture
def fresh(built: None, tmp_path: Path) -> Iterator[Server]:
    """The demo as somebody meets it who opens Haze for the first time, at full size."""
    server = Server(tmp_path / "fresh", demo=True, toured=False)
    yield server
    server.kill()


@pytest.fixture(scope="module")
def context(browser: Browser, browser_context_args: dict[str, object]) -> Iterator[BrowserContext]:
    """One for all tests of a file: what one page has loaded and compiled serves the next."""
    context = browser.new_context(**browser_context_args)
    yield context
    context.close()


@pytest.fixture
def page(
    context: BrowserContext, playwright: Playwright, request: pytest.FixtureRequest
) -> Iterator[Page]:
    """A page on which no error may reach the console; nothing is drawn unless it is looked at."""
    page = context.new_page()
    if not request.node.get_closest_marker("drawn"):
        page.add_init_script(path=UNSEEN)
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    playwright.selectors.set_test_id_attribute("data-test")
    page.set_default_timeout(LIMIT_MS)
    expect.set_options(timeout=LIMIT_MS)
    yield page
    forget(page)
    for one in context.pages:
        one.close()
    assert errors == []


def forget(page: Page) -> None:
    """Take from a browser what an application has stored in it."""
    origin = page.evaluate("origin")
    if origin != "null":
        what = {"origin": origin, "storageTypes": "local_storage,indexeddb,cookies,service_workers"}
        page.context.new_cdp_session(page).send("Storage.clearDataForOrigin", what)


@pytest.fixture
def own(pieces: Path, tmp_path: Path) -> Iterator[Server]:
    """A demo of one test, which may be killed; tablets come to another address of the machine."""
    more = [*QUICK, "--host", "127.0.0.2", "--tablets"]
    server = Server(linked(pieces, tmp_path / "own", demo=True), demo=True, more=more, forked=True)
    yield server
    server.kill()
