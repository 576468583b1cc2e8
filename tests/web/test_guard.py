"""Only this machine, only our own pages."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from haze.formats.meshes import MOST_BYTES
from haze.web.guard import SMALL_BODY
from helpers import is_problem


def test_bodies_are_limited(client: FlaskClient) -> None:
    big = client.post("/api/assess", data=b" " * (SMALL_BODY + 1), content_type="application/json")
    is_problem(big, 413, "too_large")
    huge = client.post(
        "/api/meshes?name=a.stl", environ_overrides={"CONTENT_LENGTH": str(MOST_BYTES + 1)}
    )
    assert "160 MiB" in is_problem(huge, 413, "too_large")["detail"]


def test_host_and_origin_are_checked(client: FlaskClient, plan: dict) -> None:
    is_problem(client.get("/api/plans", headers={"Host": "elsewhere.example"}), 403, "host")
    is_problem(client.get("/", headers={"Host": "127.0.0.1.example"}), 403, "host")
    path = f"/api/plans/{plan['id']}/undo"
    for origin in (
        "http://elsewhere.example",
        "null",
        "http://localhost:99",
        "https://localhost.x",
        "http://[",
        "http://[::1",
    ):
        refused = client.post(
            path, json={"version": 1}, headers={"Origin": origin, "Host": "localhost:8760"}
        )
        is_problem(refused, 403, "origin")
    own = client.post(
        path,
        json={"version": plan["version"]},
        headers={"Origin": "http://localhost:8760", "Host": "localhost:8760"},
    )
    assert own.status_code == 200


def test_a_host_that_is_none_is_refused(client: FlaskClient) -> None:
    for host in ("[", "[::1", "a]b"):
        assert client.get("/api/plans", headers={"Host": host}).status_code in (400, 403)


def asked(client: FlaskClient, host: str, peer: str) -> int:
    given = {"REMOTE_ADDR": peer}
    return client.get("/api/plans", headers={"Host": host}, environ_overrides=given).status_code


@pytest.mark.parametrize("name", ["127.0.0.1:8760", "localhost:8760", "[::1]:8760"])
def test_only_this_machine_may_name_its_own_address(client: FlaskClient, name: str) -> None:
    assert asked(client, name, "127.0.0.1") == 200
    assert asked(client, name, "::1") == 200
    assert asked(client, name, "192.0.2.7") == 403


def test_another_address_of_this_machine_is_not_answered(client: FlaskClient) -> None:
    assert asked(client, "192.0.2.1:8760", "192.0.2.7") == 403
    assert asked(client, "rebound.example:8760", "192.0.2.7") == 403


def test_a_phone_photo_is_not_too_large(client: FlaskClient) -> None:
    query = "grey_x=0.2&grey_y=0.5&x=0.8&y=0.5"
    data = b"x" * (SMALL_BODY * 4)
    is_problem(client.post(f"/api/shelf/photo?{query}", data=data), 422, "bad_photo")


def test_answers_carry_their_seals(client: FlaskClient) -> None:
    headers = client.get("/api/plans").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["X-Content-Type-Options"] == "nosniff"


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
@pytest.mark.parametrize("method", ["post", "put", "delete"])
def test_pages_of_other_sites_change_nothing(
    client: FlaskClient, plan: dict, site: str, method: str
) -> None:
    path = {"post": f"/api/plans/{plan['id']}/undo", "put": f"/api/plans/{plan['id']}"}
    ask = getattr(client, method)
    body = {"version": plan["version"], "plan": plan["plan"], "what": "theirs"}
    told = ask(path.get(method, "/api/trash"), json=body, headers={"Sec-Fetch-Site": site})
    is_problem(told, 403, "origin")
    assert client.get(f"/api/plans/{plan['id']}").json["version"] == plan["version"]
    assert client.get("/api/plans", headers={"Sec-Fetch-Site": site}).status_code == 200


@pytest.mark.parametrize("site", ["same-origin", "none"])
def test_own_pages_and_typed_addresses_may_change(
    client: FlaskClient, plan: dict, site: str
) -> None:
    body = {"version": plan["version"], "plan": plan["plan"], "what": "mine"}
    done = client.put(f"/api/plans/{plan['id']}", json=body, headers={"Sec-Fetch-Site": site})
    assert done.status_code == 200
