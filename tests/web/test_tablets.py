"""The door for tablets: nothing without pairing, and the desk decides."""

from __future__ import annotations

import socket
import ssl
import threading
import time
from collections.abc import Iterator
from http.client import HTTPSConnection
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from haze.service.bench import Bench
from haze.service.booth.tablets import MOST_WRONG, WrongCodeError
from haze.web.app import create_app
from haze.web.certificate import address_here, certificate_for
from haze.web.door import HANDSHAKE_S, MOST_SILENT, Door
from haze.web.tablets import OUTSIDE
from helpers import WAIT_S, is_problem

OTHER = "127.0.0.2"  # a second address of this machine


class Outside:
    """A client that comes through the door."""

    def __init__(self, client: FlaskClient) -> None:
        self._client = client

    def ask(self, method: str, path: str, **more: Any) -> TestResponse:
        return self._client.open(
            path,
            method=method,
            base_url="https://192.0.2.7:8761",
            environ_overrides={OUTSIDE: True},
            **more,
        )

    def get(self, path: str, **more: Any) -> TestResponse:
        return self.ask("GET", path, **more)

    def post(self, path: str, **more: Any) -> TestResponse:
        return self.ask("POST", path, **more)


@pytest.fixture
def outside(bench: Bench) -> Outside:
    return Outside(create_app(bench).test_client())


@pytest.mark.parametrize("path", ["/api/plans", "/api/news", "/api/openapi.json", "/api/shelf"])
def test_without_pairing_nothing_is_read(outside: Outside, path: str) -> None:
    is_problem(outside.get(path), 401, "not_paired")


def test_without_pairing_nothing_is_written(outside: Outside, bench: Bench) -> None:
    body = {"name": "theme", "value": "lamp_off"}
    is_problem(outside.ask("PUT", "/api/settings", json=body), 401, "not_paired")
    is_problem(outside.ask("DELETE", "/api/trash"), 401, "not_paired")
    assert create_app(bench).test_client().get("/api/settings").json["settings"]["theme"] == (
        "daylight"
    )


def test_screens_lead_to_pairing(outside: Outside) -> None:
    for path in ("/", "/plan/x/booth", "/assets/index.js"):
        answer = outside.get(path)
        assert answer.status_code == 303
        assert answer.headers["Location"] == "/pair"
    page = outside.get("/pair?code=%22%3E%3Cscript%3E").data.decode()
    assert "<script>" not in page


def paired(outside: Outside, bench: Bench) -> None:
    code = bench.tablets.new_code().code
    answer = outside.post("/pair", data={"code": f"{code[:4]} {code[4:]}", "name": "  Booth  "})
    assert answer.status_code == 303
    cookie = answer.headers["Set-Cookie"]
    for seal in ("Secure", "HttpOnly", "SameSite=Strict"):
        assert seal in cookie


def test_a_paired_tablet_reads_and_is_shown_out(outside: Outside, bench: Bench) -> None:
    paired(outside, bench)
    assert outside.get("/api/plans").status_code == 200
    (held,) = bench.tablets.view().tablets
    assert held.name == "Booth"
    is_problem(outside.get("/api/tablets"), 403, "desk")
    bench.tablets.revoke(held.id)
    refused = outside.get("/api/plans")
    is_problem(refused, 401, "not_paired")


def test_a_code_lets_one_tablet_in_and_wears_out(outside: Outside, bench: Bench) -> None:
    code = bench.tablets.new_code().code
    assert code is not None
    bench.tablets.pair(code, "one")
    with pytest.raises(WrongCodeError):
        bench.tablets.pair(code, "two")
    again = bench.tablets.new_code().code
    assert again is not None
    wrong = "0" * 8 if again != "0" * 8 else "1" * 8
    for _ in range(MOST_WRONG):
        assert outside.post("/pair", data={"code": wrong}).status_code == 401
    with pytest.raises(WrongCodeError):
        bench.tablets.pair(again, "too late")
    assert len(bench.tablets.view().tablets) == 1


def test_an_old_code_is_none(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    code = bench.tablets.new_code().code
    assert code is not None
    later = bench.tablets._until + 1
    monkeypatch.setattr("haze.service.booth.tablets.time.monotonic", lambda: later)
    assert bench.tablets.view().code is None
    with pytest.raises(WrongCodeError):
        bench.tablets.pair(code, "late")


def test_the_token_itself_is_not_kept(bench: Bench) -> None:
    code = bench.tablets.new_code().code
    assert code is not None
    token = bench.tablets.pair(code, "one")
    stored = bench.db.connection().execute("SELECT * FROM tablet").fetchone()
    assert token not in [str(v) for v in dict(stored).values()]
    assert bench.tablets.knows(token)
    assert not bench.tablets.knows(token + "x")
    assert not bench.tablets.knows("")


def test_a_name_that_leads_here_is_no_address(outside: Outside, bench: Bench) -> None:
    paired(outside, bench)
    foreign = outside.get("/api/plans", headers={"Host": "rebound.example:8761"})
    is_problem(foreign, 403, "host")


def test_a_certificate_is_kept_and_made_anew_for_another_address(tmp_path: Path) -> None:
    first = certificate_for(tmp_path, "192.0.2.7")
    assert certificate_for(tmp_path, "192.0.2.7").fingerprint == first.fingerprint
    assert certificate_for(tmp_path, "192.0.2.8").fingerprint != first.fingerprint
    assert first.key.stat().st_mode & 0o077 == 0
    first.certificate.write_text("no certificate")
    assert certificate_for(tmp_path, "192.0.2.8").certificate.read_text().startswith("-----BEGIN")


@pytest.fixture
def door(bench: Bench, tmp_path: Path) -> Iterator[int]:
    """The door open on another address of this machine."""
    certificate = certificate_for(tmp_path / "tablets", OTHER)
    server = Door(create_app(bench), host=OTHER, port=0, certificate=certificate)
    thread = threading.Thread(target=server.serve, daemon=True)
    thread.start()
    yield server.port
    server.stop()
    thread.join(timeout=20)
    assert not thread.is_alive()


def asked(port: int, method: str, path: str, **more: str) -> tuple[int, str, str]:
    """Status, body and cookie of a request over TLS."""
    context = ssl.create_default_context()
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    connection = HTTPSConnection(OTHER, port, context=context, timeout=30)
    connection.request(method, path, body=more.get("body"), headers=_headers(more))
    answer = connection.getresponse()
    found = answer.status, answer.read().decode(), answer.headers.get("Set-Cookie") or ""
    connection.close()
    return found


def _headers(more: dict[str, str]) -> dict[str, str]:
    found = {"Cookie": more["cookie"]} if "cookie" in more else {}
    if "body" in more:
        found["Content-Type"] = "application/x-www-form-urlencoded"
    return found


def test_over_a_second_address_an_unpaired_client_gets_nothing(bench: Bench, door: int) -> None:
    assert asked(door, "GET", "/api/plans")[0] == 401
    assert asked(door, "GET", "/")[0] == 303
    code = bench.tablets.new_code().code
    assert asked(door, "POST", "/pair", body=urlencode({"code": "1"}))[0] == 401
    status, _, cookie = asked(door, "POST", "/pair", body=urlencode({"code": code, "name": "T"}))
    assert status == 303
    held = cookie.split(";")[0]
    status, body, _ = asked(door, "GET", "/api/plans", cookie=held)
    assert status == 200
    assert '"plans"' in body
    assert asked(door, "GET", "/api/tablets", cookie=held)[0] == 403


def test_clients_that_say_nothing_hold_nobody_up(door: int) -> None:
    silent = [socket.create_connection((OTHER, door)) for _ in range(2 * MOST_SILENT)]
    begun = time.monotonic()
    assert asked(door, "GET", "/pair")[0] == 200
    assert time.monotonic() - begun < HANDSHAKE_S
    for one in silent[:-1]:
        one.settimeout(WAIT_S)
        assert ended(one)  # they are shown out, the oldest at once
    for one in silent:
        one.close()


def ended(one: socket.socket) -> bool:
    try:
        return one.recv(1) == b""
    except ConnectionError:
        return True


def test_half_requests_hold_nobody_up(door: int) -> None:
    context = ssl.create_default_context()
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    held = []
    for _ in range(20):
        one = context.wrap_socket(socket.create_connection((OTHER, door)))
        one.sendall(b"GET /pair HTTP/1.1\r\nHost: 127.0.0.2\r\n")
        held.append(one)
    begun = time.monotonic()
    assert asked(door, "GET", "/pair")[0] == 200
    assert time.monotonic() - begun < HANDSHAKE_S
    for one in held:
        one.close()


@pytest.mark.parametrize(
    "code", ["\u0661\u0662\u0663\u0664\u0665\u0666\u0667\u0668", "\u00b2\u00b2", "\0"]
)
def test_digits_of_other_scripts_are_wrong_tries(outside: Outside, bench: Bench, code: str) -> None:
    shown = bench.tablets.new_code().code
    for _ in range(MOST_WRONG):
        assert outside.post("/pair", data={"code": code}).status_code == 401
    with pytest.raises(WrongCodeError):
        bench.tablets.pair(shown or "", "too late")


def test_the_address_tablets_come_to_is_one() -> None:
    assert address_here("127.0.0.2") == "127.0.0.2"
    assert address_here("0.0.0.0").count(".") == 3
