"""Plans over HTTP."""

from __future__ import annotations

import numpy as np
from flask.testing import FlaskClient

from helpers import is_problem


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
        "after": 1,
    }
    coat = client.post("/api/coats/draft", json=body).json
    assert coat["paint"]["name"] == "Wrack Green"
    assert coat["stations"][0]["azimuth_deg"] == plan["plan"]["lights"][0]["azimuth_deg"]
    spoiled = next(t for t in shelf["thinners"] if t["kind"] == "spirit")
    told = is_problem(
        client.post("/api/coats/draft", json=body | {"thinner": spoiled}), 422, "incompatible"
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
