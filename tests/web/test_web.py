from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
import schemathesis
from flask.testing import FlaskClient
from hypothesis import HealthCheck, Phase, given, settings

from haze.core.plan.document import Plan
from haze.formats.meshes import MOST_BYTES
from haze.service.bench import Bench
from haze.web.app import create_app
from haze.web.guard import SMALL_BODY


@pytest.fixture
def client(bench: Bench) -> FlaskClient:
    return create_app(bench).test_client()


@pytest.fixture
def plan(client: FlaskClient, bench: Bench, cone_stl: bytes) -> dict:
    mesh = client.post("/api/meshes?name=cone.stl", data=cone_stl).json
    made = client.post("/api/plans", json={"mesh": mesh["id"], "name": "Cone", "height_mm": 25})
    assert made.status_code == 201
    bench.pieces.make(Plan.model_validate(made.json["plan"]).piece, lambda *_: True)
    return made.json


def is_problem(response, status: int, code: str) -> dict:  # type: ignore[no-untyped-def]
    assert response.status_code == status
    assert response.mimetype == "application/problem+json"
    body = json.loads(response.data)
    assert {"type", "title", "status", "detail", "code"} <= set(body)
    assert body["code"] == code
    assert body["detail"].endswith(".")
    return body


def test_the_job_of_a_painter_over_http(client: FlaskClient, plan: dict) -> None:
    path = f"/api/plans/{plan['id']}"
    document = plan["plan"]
    colours = client.post("/api/colours", json={"plan": document, "after": 4})
    assert colours.status_code == 200
    document["coats"][1]["stations"][0]["azimuth_deg"] += 40
    moved = client.post("/api/colours", json={"plan": document, "after": 4})
    assert len(moved.data) == len(colours.data)
    assert moved.data != colours.data
    saved = client.put(path, json={"version": plan["version"], "plan": document, "what": "Moved"})
    assert saved.json["version"] == plan["version"] + 1
    work = client.post("/api/workings", json={"plan": document}).json
    assert [p["role"] for p in work["coats"][0]["cup"]["poured"]][:2] == ["thinner", "paint"]
    undone = client.post(f"{path}/undo", json={"version": saved.json["version"]})
    assert undone.json["plan"] != document
    assert undone.json["can_redo"]
    redone = client.post(f"{path}/redo", json={"version": undone.json["version"]})
    assert redone.json["plan"] == document
    listed = client.get("/api/plans").json["plans"]
    assert [p["name"] for p in listed] == ["Cone"]
    assert listed[0]["pictured"]
    assert client.get(f"{path}/picture.png").data.startswith(b"\x89PNG")


def test_stale_writes_answer_409_and_change_nothing(client: FlaskClient, plan: dict) -> None:
    path = f"/api/plans/{plan['id']}"
    body = {"version": plan["version"], "plan": plan["plan"], "what": "a"}
    assert client.put(path, json=body).status_code == 200
    told = is_problem(client.put(path, json=body), 409, "stale")
    assert "not saved" in told["detail"]
    assert client.get(path).json["version"] == plan["version"] + 1


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({}, "version"),
        ({"version": 1, "plan": {}}, "plan"),
        ({"version": "one", "plan": {}}, "version"),
    ],
)
def test_wrong_plans_name_the_field(
    client: FlaskClient, plan: dict, body: dict, field: str
) -> None:
    told = is_problem(client.put(f"/api/plans/{plan['id']}", json=body), 422, "invalid")
    assert told["field"].startswith(field)


@pytest.mark.parametrize(("value", "words"), [(99, "less than or equal to 90"), (float("nan"), "")])
def test_out_of_range_angles_are_refused(
    client: FlaskClient, plan: dict, value: float, words: str
) -> None:
    plan["plan"]["coats"][0]["stations"][0]["elevation_deg"] = value
    response = client.post(
        "/api/colours",
        data=json.dumps({"plan": plan["plan"], "after": 1}),
        content_type="application/json",
    )
    told = is_problem(response, 422, "invalid")
    assert words in told["detail"]


def test_bad_meshes_are_refused_in_a_sentence_and_not_stored(client: FlaskClient) -> None:
    for data in (b"", b"<html>no</html>", b"PK\x03\x04zip", b"solid x\nfacet"):
        is_problem(client.post("/api/meshes?name=a.stl", data=data), 422, "bad_mesh")
    assert client.get("/api/meshes").json["meshes"] == []


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
    ):
        refused = client.post(
            path, json={"version": 1}, headers={"Origin": origin, "Host": "localhost:8760"}
        )
        is_problem(refused, 403, "origin")
    cross = client.post(path, json={"version": 1}, headers={"Sec-Fetch-Site": "cross-site"})
    is_problem(cross, 403, "origin")
    own = client.post(
        path,
        json={"version": plan["version"]},
        headers={"Origin": "http://localhost:8760", "Host": "localhost:8760"},
    )
    assert own.status_code == 200


def test_answers_carry_their_seals(client: FlaskClient) -> None:
    headers = client.get("/api/plans").headers
    assert "default-src 'self'" in headers["Content-Security-Policy"]
    assert headers["X-Content-Type-Options"] == "nosniff"


def test_what_is_not_there_is_said(client: FlaskClient) -> None:
    is_problem(client.get("/api/plans/none"), 404, "missing")
    is_problem(client.get("/api/nothing"), 404, "missing")
    is_problem(client.get("/api/jobs/none"), 404, "missing")
    is_problem(client.get(f"/api/pieces/{'a' * 64}/geometry"), 404, "missing")
    assert client.delete("/api/plans").status_code in (404, 405)


def test_a_failure_here_shows_no_secrets(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError("secret path")

    monkeypatch.setattr("haze.service.plans.every", broken)
    told = is_problem(client.get("/api/plans"), 500, "internal")
    assert "secret" not in json.dumps(told)
    assert told["request_id"]


def test_the_trash_over_http(client: FlaskClient, plan: dict) -> None:
    path = f"/api/plans/{plan['id']}/trash"
    away = client.post(path, json={"version": plan["version"], "trashed": True})
    assert away.status_code == 200
    listed = client.get("/api/plans").json
    assert (len(listed["plans"]), len(listed["trashed"])) == (0, 1)
    assert client.delete("/api/trash").json == {"deleted": 1}


def test_a_coat_is_drafted_for_a_plan(client: FlaskClient, plan: dict) -> None:
    shelf = client.get("/api/shelf").json
    green = next(p for p in shelf["paints"] if p["name"] == "Wrack Green")
    thinner = next(t for t in shelf["thinners"] if t["kind"] == "acrylic_thinner")
    body = {
        "plan": plan["plan"],
        "id": "new",
        "task": "cover",
        "paint": green,
        "thinner": thinner,
        "over": "#202020",
    }
    coat = client.post("/api/coats/draft", json=body).json
    assert coat["paint"]["name"] == "Wrack Green"
    assert coat["stations"][0]["azimuth_deg"] == plan["plan"]["lights"][0]["azimuth_deg"]
    spoiled = next(t for t in shelf["thinners"] if t["kind"] == "spirit")
    told = is_problem(
        client.post("/api/coats/draft", json=body | {"thinner": spoiled}), 422, "error"
    )
    assert "spoils" in told["detail"]


def test_geometry_and_colours_agree(client: FlaskClient, plan: dict) -> None:
    ask = {"piece": plan["plan"]["piece"]}
    prepared = client.post("/api/pieces", json=ask).json
    assert prepared["job"] is None
    geometry = client.get(f"/api/pieces/{prepared['key']}/geometry").data
    vertices = int(np.frombuffer(geometry, "<u4", 1)[0])
    colours = client.post("/api/colours", json={"plan": plan["plan"], "after": 2, "look": "value"})
    assert len(colours.data) == 3 * vertices
    assert colours.headers["X-Piece"] == prepared["key"]


def test_no_request_makes_the_server_fail(tmp_path: Path) -> None:
    held = Bench(tmp_path / "fuzz")
    schema = schemathesis.openapi.from_wsgi("/api/openapi.json", create_app(held))
    tried: list[str] = []

    for found in schema.get_all_operations():
        operation = found.ok()

        @settings(
            max_examples=4,
            deadline=None,
            suppress_health_check=list(HealthCheck),
            phases=[Phase.generate],
        )
        @given(case=operation.as_strategy())
        def check(case: schemathesis.Case) -> None:
            response = case.call()
            tried.append(case.path)
            assert response.status_code < 500, response.text
            if response.status_code >= 400:
                kind = response.headers["content-type"][0]
                assert kind.startswith("application/problem+json"), (case.path, kind)

        check()
    held.close()
    assert len(set(tried)) >= 15
