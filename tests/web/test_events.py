"""Open requests that listen: so many a client, and one that leaves frees its place."""

from __future__ import annotations

import threading
import time
import urllib.request
from collections.abc import Iterator
from http.client import HTTPConnection, HTTPResponse

import pytest
from flask.testing import FlaskClient

from haze.service.bench import Bench
from haze.service.work.jobs import Report
from haze.web import events
from haze.web.app import create_app
from haze.web.events import MOST_OF_CLIENT, Streams, TooManyStreamsError
from haze.web.server import listening, make_server
from helpers import WAIT_S, is_problem


def test_one_client_holds_so_many_and_all_together_not_more_than_there_are_hands_for(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(events, "MOST_OF_CLIENT", 2)
    monkeypatch.setattr(events, "MOST_IN_ALL", 3)
    streams = Streams()
    first, _ = streams.take("desk"), streams.take("desk")
    with pytest.raises(TooManyStreamsError):
        streams.take("desk")
    streams.take("tablet")
    with pytest.raises(TooManyStreamsError):
        streams.take("tablet")
    first()
    first()  # a place is freed once
    streams.take("desk")
    with pytest.raises(TooManyStreamsError):
        streams.take("other")


@pytest.fixture
def port(bench: Bench) -> Iterator[int]:
    server = make_server(create_app(bench), listening("127.0.0.1", 0))
    threading.Thread(target=server.run, daemon=True).start()
    yield int(server.effective_port)
    server.close()


def opened(port: int, path: str) -> tuple[HTTPConnection, HTTPResponse]:
    connection = HTTPConnection("127.0.0.1", port, timeout=WAIT_S)
    connection.request("GET", path)
    return connection, connection.getresponse()


def test_watchers_of_one_job_keep_no_other_request_waiting(bench: Bench, port: int) -> None:
    go_on = threading.Event()

    def work(report: Report) -> None:
        go_on.wait(WAIT_S)

    job = bench.jobs.start("one", "Trying", work)
    held = [opened(port, f"/api/jobs/{job.id}/events") for _ in range(34)]
    said = [answer.status for _, answer in held]
    assert said.count(200) == MOST_OF_CLIENT
    assert said.count(503) == 34 - MOST_OF_CLIENT
    begun = time.monotonic()
    urllib.request.urlopen(f"http://127.0.0.1:{port}/api/settings", timeout=WAIT_S).read()
    assert time.monotonic() - begun < 5
    go_on.set()
    for connection, _ in held:
        connection.close()


def test_a_page_that_leaves_frees_its_place_at_once(port: int) -> None:
    held = [opened(port, "/api/news") for _ in range(MOST_OF_CLIENT)]
    assert {answer.status for _, answer in held} == {200}
    refused, answer = opened(port, "/api/news")
    assert answer.status == 503
    refused.close()
    for connection, told in held:
        told.close()
        connection.close()
    ends = time.monotonic() + WAIT_S
    while time.monotonic() < ends:
        connection, told = opened(port, "/api/news")
        status = told.status
        told.close()
        connection.close()
        if status == 200:
            break
        time.sleep(0.1)
    assert status == 200


def test_too_many_are_refused_in_words(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(events, "MOST_OF_CLIENT", 0)
    is_problem(client.get("/api/news"), 503, "too_many_streams")
