"""Whatever stands at the edge of what can be asked is refused in words, not failed on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient

from haze.service.bench import Bench
from haze.web.app import create_app
from helpers import is_problem, last_view, taken

Schema = dict[str, Any]
TRIANGLE = b"facet\nvertex 0 0 0\nvertex 1 0 0\nvertex 1 1 0\nendfacet\n"


@pytest.fixture
def document(bench: Bench) -> Schema:
    return create_app(bench, documented=True).api_doc


def json_routes(document: Schema) -> list[tuple[str, str]]:
    """Method and path of every route that takes JSON, its parameters filled in."""
    found = []
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            if "application/json" in operation.get("requestBody", {}).get("content", {}):
                filled = path.replace("{", "").replace("}", "")
                found.append((method, filled))
    return found


def bodies(document: Schema) -> Iterator[tuple[str, Schema]]:
    """Everything a painter or a program can send: a name, and its schema."""
    for path, operations in document["paths"].items():
        for operation in operations.values():
            for content in operation.get("requestBody", {}).get("content", {}).values():
                yield path, content["schema"]
            for parameter in operation.get("parameters", []):
                yield f"{path}?{parameter['name']}", parameter["schema"]


def leaves(
    document: Schema, schema: Schema, name: str, seen: set[str]
) -> Iterator[tuple[str, Any]]:
    """Every schema inside one, with the path that leads there."""
    if "$ref" in schema:
        kind = schema["$ref"].rsplit("/", 1)[-1]
        if kind not in seen:
            seen.add(kind)
            yield from leaves(document, document["components"]["schemas"][kind], kind, seen)
        return
    yield name, schema
    for choice in ("anyOf", "oneOf", "allOf", "prefixItems"):
        for one in schema.get(choice, []):
            yield from leaves(document, one, name, seen)
    for key, one in schema.get("properties", {}).items():
        yield from leaves(document, one, f"{name}.{key}", seen)
    for key in ("items", "additionalProperties"):
        if isinstance(schema.get(key), dict):
            yield from leaves(document, schema[key], f"{name}[]", seen)


def is_bounded(schema: Schema) -> bool:
    if "enum" in schema or "const" in schema:
        return True
    kind = schema.get("type")
    if kind in ("number", "integer"):
        # a number only just over 0 overflows what is divided by it
        below = "minimum" in schema or schema.get("exclusiveMinimum", 0) != 0
        return below and ("maximum" in schema or "exclusiveMaximum" in schema)
    if kind == "array":
        return "maxItems" in schema
    if kind == "string":
        return bool({"maxLength", "pattern", "format"} & set(schema))
    return True


def test_every_number_list_and_text_that_can_be_sent_has_limits(document: Schema) -> None:
    seen: set[str] = set()
    found = [leaf for name, body in bodies(document) for leaf in leaves(document, body, name, seen)]
    assert len(found) > 200
    assert [name for name, schema in found if not is_bounded(schema)] == []


def test_json_nested_without_end_is_refused_on_every_route(
    client: FlaskClient, document: Schema
) -> None:
    deep = b"[" * 100_000 + b"]" * 100_000
    deeper = b'{"a":' * 100_000 + b"1" + b"}" * 100_000
    routes = json_routes(document)
    assert len(routes) > 30
    for method, path in routes:
        for data in (deep, deeper):
            told = client.open(path, method=method, data=data, content_type="application/json")
            assert told.status_code in (400, 422), (path, told.status_code)
            assert told.mimetype == "application/problem+json"


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/shelf/mix", {"pass_um": 5e-324}),
        ("/api/shelf/airbrush", {"cup_ml": 1e-320}),
        ("/api/mixes", {"dry_film_um": 5e-324}),
        ("/api/film", {"coats": [{"dry_film_um": 1e309}]}),
        ("/api/plans/x/undo", {"version": 2**64}),
    ],
)
def test_numbers_beyond_all_measure_are_refused(
    client: FlaskClient, path: str, body: dict[str, Any]
) -> None:
    method = "put" if path.endswith("airbrush") else "post"
    is_problem(client.open(path, method=method, json=body), 422, "invalid")


def test_the_character_that_is_none_is_refused_wherever_a_text_is_sent(
    client: FlaskClient,
) -> None:
    brush = {"id": "b", "name": "a\0" + "x" * 100, "needle_mm": 0.3, "cup_ml": 7}
    is_problem(client.put("/api/shelf/airbrush", json=brush), 400, "bad_request")
    named = brush | {"name": r"a\u0000 told by its name"}
    assert client.put("/api/shelf/airbrush", json=named).status_code == 200
    table = b"name,colour\nSlate\0 Grey,#102030\n"
    is_problem(client.post("/api/shelf/csv?apply=true", data=table), 422, "bad_file")
    stl = (b"solid\n" + TRIANGLE * 2 + b"endsolid\n").replace(b"1 1 0", b"1 1 1", 1)
    mesh = taken(client, stl, name="%00a%00%0Ab.stl")
    assert mesh["name"] == "ab.stl"


@pytest.mark.parametrize("start", ["/", "/assets/", "/api/", "/api/plans/", "/plan/"])
@pytest.mark.parametrize("tail", ["x" * 300, "x" * 5000, "%00", "..%2f..%2fetc", "\u00e9" * 200])
def test_paths_of_any_length_are_answered(client: FlaskClient, start: str, tail: str) -> None:
    assert client.get(start + tail).status_code in (200, 404, 422, 503)


def test_every_answer_is_sealed(client: FlaskClient) -> None:
    for path in ("/api/plans", "/api/none", "/", "/api/plans/none"):
        headers = client.get(path).headers
        assert headers["X-Frame-Options"] == "DENY"
        assert headers["Cross-Origin-Opener-Policy"] == "same-origin"
        assert "camera=()" in headers["Permissions-Policy"]


def test_a_mesh_is_looked_at_one_way_up_before_there_is_a_plan(
    client: FlaskClient, cone_stl: bytes
) -> None:
    mesh = taken(client, cone_stl, name="cone.stl")
    assert mesh["up"] == "z"
    assert mesh["unit"] == "mm"
    assert mesh["height_mm"] > 0
    where = f"/api/meshes/{mesh['id']}"
    assert client.get(f"{where}/picture.png?up=z").status_code == 404
    job = client.post(f"{where}/stand?up=z").json["job"]
    assert last_view(client, job)["state"] == "done"
    assert client.get(f"{where}/picture.png?up=z").data[:4] == b"\x89PNG"
    assert client.post(f"{where}/stand?up=z").json["job"] is None
    assert client.post(f"{where}/stand?up=w").status_code == 422
    assert client.post(f"/api/meshes/{'0' * 64}/stand").status_code == 404
