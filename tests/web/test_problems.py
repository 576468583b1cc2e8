"""Every refusal is one problem body with a sentence and a code."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

import haze
from haze.core.errors import HazeError
from haze.web.problems import Problem, codes
from helpers import is_problem, last_view


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

    monkeypatch.setattr("haze.service.plan.plans.every", broken)
    told = is_problem(client.get("/api/plans"), 500, "internal")
    assert "secret" not in json.dumps(told)
    assert told["request_id"]


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


def test_bad_meshes_are_refused_in_a_sentence_and_not_stored(client: FlaskClient) -> None:
    for data in (b"", b"<html>no</html>", b"PK\x03\x04zip", b"solid x\nfacet"):
        view = last_view(client, client.post("/api/meshes?name=a.stl", data=data).json)
        assert (view["state"], view["code"]) == ("failed", "bad_mesh")
        assert view["error"].endswith(".")
    assert client.get("/api/meshes").json["meshes"] == []


def test_every_code_is_in_the_api_document_and_no_bare_refusal_is_raised() -> None:
    listed = set(codes())
    assert {"stale", "missing", "incompatible", "out_of_range", "invalid", "origin"} <= listed
    assert "error" not in listed
    assert Problem.model_json_schema()["properties"]["code"]["enum"] == codes()
    source = Path(haze.__file__).parent
    bare = [f for f in source.rglob("*.py") if "raise HazeError(" in f.read_text("utf-8")]
    assert bare == []
    told = re.compile(r"problem\(\s*\d+,\s*code=\"(\w+)\"")
    for file in source.rglob("*.py"):
        assert set(told.findall(file.read_text("utf-8"))) <= listed


def test_codes_are_each_ones_own() -> None:
    kinds, seen = [HazeError], []
    while kinds:
        below = kinds.pop().__subclasses__()
        seen += [kind.code for kind in below if "code" in vars(kind)]
        assert all("code" in vars(kind) for kind in below)
        kinds += below
    assert len(seen) == len(set(seen)) > 20


def test_an_address_that_does_not_do_that_says_so(client: FlaskClient) -> None:
    is_problem(client.delete("/api/settings"), 405, "method_not_allowed")
    told = client.post("/api/workings", data=b"{", content_type="application/json")
    assert told.status_code in (400, 422)
    assert told.mimetype == "application/problem+json"
