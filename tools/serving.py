"""A served data folder and a browser, for browser tests and for what measures and pictures Haze."""

from __future__ import annotations

import json
import multiprocessing
import os
import re
import sqlite3
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager
from http import HTTPStatus
from multiprocessing.connection import Connection
from pathlib import Path
from typing import IO, Any
from urllib.error import HTTPError
from urllib.request import Request, urlopen

from playwright.sync_api import Page, sync_playwright

CHROMIUM = "/usr/bin/chromium"
# a page is put together by the processor, as a browser does where there is no graphics chip: in
# software GL a frame takes four times as long, whatever changed in it
ARGUMENTS = [
    "--no-sandbox",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    "--disable-gpu-compositing",
]
NAMES = """
SELECT p.id, r.document ->> 'name' FROM plan p
JOIN revision r ON r.plan_id = p.id AND r.number = p.current
WHERE p.trashed_at IS NULL ORDER BY p.updated_at DESC, p.id
"""


def ask(address: str, path: str, body: object = None, *, method: str | None = None) -> Any:
    """The answer of a server to a request under /api; work it waits for is waited for."""
    data = None if body is None else json.dumps(body).encode()
    request = Request(f"{address}api/{path}", data, method=method)
    request.add_header("Content-Type", "application/json")
    while True:
        with urlopen(request) as answer:
            found = json.load(answer)
        if answer.status != HTTPStatus.ACCEPTED:
            return found
        if found["id"]:
            follow(address, found)


def follow(address: str, job: dict[str, Any]) -> None:
    """Wait until a job ends."""
    with urlopen(f"{address}api/jobs/{job['id']}/events") as events:
        last = [line for line in events if line.startswith(b"data: ")][-1]
    state = json.loads(last.removeprefix(b"data: "))["state"]
    assert state == "done", state


Process = subprocess.Popen[str] | multiprocessing.process.BaseProcess
FORKING = multiprocessing.get_context("forkserver")


def _spawned(arguments: Sequence[str]) -> tuple[Process, IO[str]]:
    """The command as a painter starts it, and what it prints."""
    process = subprocess.Popen(
        [sys.executable, "-m", "haze", *arguments], stdout=subprocess.PIPE, text=True
    )
    assert process.stdout is not None
    return process, process.stdout


def _forked(arguments: Sequence[str]) -> tuple[Process, IO[str]]:
    """The same, forked from a process that has loaded the program once for all."""
    FORKING.set_forkserver_preload(["haze.web.app", "haze.web.server", "haze.demo.saltgate"])
    heard, said = FORKING.Pipe(duplex=False)
    process = FORKING.Process(target=_command, args=(list(arguments), said))
    process.start()
    said.close()
    return process, os.fdopen(os.dup(heard.fileno()), encoding="utf-8")


def _command(arguments: list[str], said: Connection) -> None:
    os.dup2(said.fileno(), sys.stdout.fileno())
    from haze.cli import main

    sys.exit(main(arguments))


def _ended(process: Process) -> None:
    if isinstance(process, subprocess.Popen):
        process.wait()
    else:
        process.join()


class Server:
    """A served data folder that can be stopped hard and started again."""

    def __init__(
        self,
        folder: Path,
        *,
        demo: bool,
        toured: bool = True,
        more: Sequence[str] = (),
        forked: bool = False,
    ) -> None:
        """`more` are further options of the command; `forked` saves loading the program again."""
        self.folder = folder
        self._more = more
        self._start = _forked if forked else _spawned
        self._demo = demo
        self._toured = toured  # whether the first walk round is over
        self.address = ""
        self.start()

    def start(self) -> None:
        """Serve, on the address of before when there was one."""
        way = ["demo", "--no-browser", "--no-history"] if self._demo else ["serve"]
        port = self.address.rsplit(":", 1)[-1].strip("/") or "0"
        self.process, self._said = self._start(
            [*way, "--data", str(self.folder), "--port", port, *self._more]
        )
        found = re.search(r"http://\S+", self._said.readline())
        assert found is not None
        self.address = found.group()
        if self._toured:
            self.ask("settings", {"name": "tour", "value": "seen"}, method="PUT")

    def kill(self) -> None:
        """Stop as a power cut would."""
        self.process.kill()
        _ended(self.process)
        self._said.close()

    def ask(self, path: str, body: object = None, *, method: str | None = None) -> Any:
        """The answer to a request under /api."""
        return ask(self.address, path, body, method=method)

    def follow(self, job: dict[str, Any]) -> None:
        """Wait until a job ends."""
        follow(self.address, job)

    def plans(self) -> list[dict[str, Any]]:
        """All plans as they stand."""
        return [self.ask(f"plans/{key}") for key in self.names()]

    def names(self) -> dict[str, str]:
        """Names of the plans by their ids; who lists plans from the server has them looked over."""
        with closing(sqlite3.connect(self.folder / "haze.sqlite3")) as db:
            return dict(db.execute(NAMES))

    def prepare(self) -> None:
        """Work out the piece of every plan."""
        for view in self.plans():
            job = self.ask("pieces", {"piece": view["plan"]["piece"]})["job"]
            if job:
                self.follow(job)

    def put_back(self, before: list[dict[str, Any]]) -> None:
        """Save plans as they were, where they differ; plans that were not there go."""
        for old in before:
            while not self._put_back(old):
                pass
        for new in self.names().keys() - {old["id"] for old in before}:
            body = {"version": self.ask(f"plans/{new}")["version"], "trashed": True}
            self.ask(f"plans/{new}/trash", body)

    def _put_back(self, old: dict[str, Any]) -> bool:
        """Whether a plan is as it was; not yet when a page's last save came in between."""
        now = self.ask(f"plans/{old['id']}")
        if now["plan"] == old["plan"]:
            return True
        body = {"version": now["version"], "what": "Put back", "plan": old["plan"]}
        try:
            self.ask(f"plans/{old['id']}", body, method="PUT")
        except HTTPError as error:
            if error.code != HTTPStatus.CONFLICT:
                raise
        return False


@contextmanager
def served(*, demo: bool = True, folder: Path | None = None) -> Iterator[str]:
    """Address of a fresh server on a data folder of its own."""
    with tempfile.TemporaryDirectory() as fresh:
        server = Server(folder or Path(fresh), demo=demo)
        try:
            yield server.address
        finally:
            server.process.terminate()
            _ended(server.process)


@contextmanager
def browsing(*, width: int = 1280, height: int = 800) -> Iterator[Page]:
    """A page in Debian's Chromium with software WebGL."""
    with sync_playwright() as playwright:
        playwright.selectors.set_test_id_attribute("data-test")
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = browser.new_page(viewport={"width": width, "height": height}, locale="en-GB")
        page.set_default_timeout(180_000)
        yield page
        browser.close()


def open_demo(page: Page, address: str, plan: str = "Wardens") -> None:
    """Open a demo plan and wait until the piece is drawn in its colours, shadows smooth."""
    page.goto(address)
    page.get_by_test_id("plan").filter(has_text=plan).click()
    page.locator("[data-test=piece][data-drawn]").wait_for()
    page.get_by_text("clean", exact=True).first.wait_for()
    page.locator("[data-test=piece][data-smooth=done]").wait_for()
