"""The real application on its own data folder, driven by Debian's Chromium."""

from __future__ import annotations

import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page

STATIC = Path(__file__).parents[2] / "src" / "haze" / "web" / "static" / "index.html"
ARGUMENTS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader"]


class Server:
    """A served data folder that can be stopped hard and started again."""

    def __init__(self, folder: Path, *, demo: bool) -> None:
        self.folder = folder
        self._demo = demo
        self.address = ""
        self.start()

    def start(self) -> None:
        way = ["demo", "--no-browser"] if self._demo else ["serve"]
        port = self.address.rsplit(":", 1)[-1].strip("/") or "0"
        command = [sys.executable, "-m", "haze.cli", *way, "--data", str(self.folder)]
        self.process = subprocess.Popen(
            [*command, "--port", port], stdout=subprocess.PIPE, text=True
        )
        assert self.process.stdout is not None
        found = re.search(r"http://\S+", self.process.stdout.readline())
        assert found is not None
        self.address = found.group()

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, object]:
    return {"executable_path": "/usr/bin/chromium", "args": ARGUMENTS}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, object]:
    return {"viewport": {"width": 1280, "height": 800}, "locale": "en-GB"}


@pytest.fixture(scope="session")
def built() -> None:
    assert STATIC.exists(), "the screens are not built: run `make test`"


@pytest.fixture(scope="module")
def demo(built: None, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    server = Server(tmp_path_factory.mktemp("demo"), demo=True)
    yield server
    server.kill()


@pytest.fixture
def empty(built: None, tmp_path: Path) -> Iterator[Server]:
    server = Server(tmp_path / "empty", demo=False)
    yield server
    server.kill()


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page on which no error may reach the console."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.set_default_timeout(30_000)
    yield page
    assert errors == []
