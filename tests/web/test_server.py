"""The server itself, on a socket: its own refusals, half-open connections, who may ask."""

from __future__ import annotations

import json
import socket
import threading
import urllib.request
from collections.abc import Iterator
from http.client import HTTPConnection

import pytest

from haze.core.errors import PortError
from haze.service.bench import Bench
from haze.web.app import create_app
from haze.web.guard import LARGEST_BODY, SEALS
from haze.web.server import listening, make_server

HALF_OPEN = 130
WAIT_S = 60.0


@pytest.fixture
def port(bench: Bench) -> Iterator[int]:
    server = make_server(create_app(bench), listening("127.0.0.1", 0))
    threading.Thread(target=server.run, daemon=True).start()
    yield int(server.effective_port)
    server.close()


def answer(port: int, request: bytes) -> tuple[bytes, dict[str, str], bytes]:
    """Status line, headers and body of the answer to bytes."""
    with socket.create_connection(("127.0.0.1", port), timeout=WAIT_S) as peer:
        peer.sendall(request)
        data = b""
        while block := peer.recv(65536):
            data += block
    head, _, body = data.partition(b"\r\n\r\n")
    status, *lines = head.split(b"\r\n")
    headers = dict(line.decode().split(": ", 1) for line in lines)
    return status, headers, body


@pytest.mark.parametrize(
    ("request_bytes", "status", "code"),
    [
        (b"GET / HTTP/9.9\r\nHost: 127.0.0.1\r\nContent-Length: x\r\n\r\n", 400, "bad_request"),
        (
            b"POST /api/meshes?name=a HTTP/1.0\r\nHost: 127.0.0.1\r\nContent-Length: "
            + str(LARGEST_BODY * 3).encode()
            + b"\r\n\r\n",
            413,
            "too_large",
        ),
    ],
)
def test_its_own_refusals_are_sealed_and_in_words(
    port: int, request_bytes: bytes, status: int, code: str
) -> None:
    line, headers, body = answer(port, request_bytes)
    assert f" {status} ".encode() in line
    assert {name: headers[name] for name in SEALS} == SEALS
    told = json.loads(body)
    assert (told["status"], told["code"]) == (status, code)
    assert headers["Content-Type"] == "application/problem+json"


def test_half_open_connections_do_not_stop_answers(port: int) -> None:
    held = []
    try:
        for _ in range(HALF_OPEN):
            peer = socket.create_connection(("127.0.0.1", port), timeout=WAIT_S)
            peer.sendall(b"POST /api/plans HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Le")
            held.append(peer)
        # far sooner than the time after which the server drops idle connections
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/plans", timeout=10) as told:
            assert json.load(told)["plans"] == []
    finally:
        for peer in held:
            peer.close()


def test_a_page_is_told_at_once_what_another_changed(port: int, bench: Bench) -> None:
    heard = HTTPConnection("127.0.0.1", port, timeout=WAIT_S)
    heard.request("GET", "/api/news")
    stream = heard.getresponse()
    assert stream.headers["Content-Type"].startswith("text/event-stream")
    assert stream.readline().startswith(b":")
    bench.news.tell("p1", 7, by="page-1")
    lines = iter(stream.readline, b"")
    line = next(line for line in lines if line.startswith(b"data:"))
    assert json.loads(line.removeprefix(b"data: ")) == {"plan": "p1", "version": 7, "by": "page-1"}
    heard.close()


def test_a_port_that_is_taken_is_told(port: int) -> None:
    with pytest.raises(PortError, match="cannot be used"):
        listening("127.0.0.1", port)
