"""Plans that cannot be read, plans kept as copies, disks that are full."""

from __future__ import annotations

from pathlib import Path

from flask.testing import FlaskClient

from haze.service.bench import Bench
from helpers import is_problem

SPOIL = "UPDATE revision SET document = :document WHERE plan_id = :id AND number >= :number"


def spoil(bench: Bench, identity: str, *, number: int, document: str = '{"name": 3}') -> None:
    """What a fault of a program would leave: JSON, but no plan."""
    with bench.db.atomic() as tx:
        tx.execute(SPOIL, {"document": document, "id": identity, "number": number})


def saved(client: FlaskClient, plan: dict, name: str) -> dict:
    body = {"version": plan["version"], "plan": plan["plan"] | {"name": name}, "what": name}
    return client.put(f"/api/plans/{plan['id']}", json=body).json


def test_one_plan_that_cannot_be_read_hides_no_other(
    client: FlaskClient, plan: dict, bench: Bench
) -> None:
    other = client.post("/api/plans/copy", json={"plan": plan["plan"]}).json
    two = saved(client, plan, "Second")
    saved(client, two, "Third")
    spoil(bench, plan["id"], number=3)
    listed = client.get("/api/plans").json
    assert [p["id"] for p in listed["plans"]] == [other["id"]]
    (named,) = listed["damaged"]
    assert named["id"] == plan["id"]
    assert named["good_at"]
    is_problem(client.get(f"/api/plans/{plan['id']}"), 422, "damaged_plan")
    stale = client.post(f"/api/plans/{plan['id']}/mend", json={"version": 1})
    is_problem(stale, 409, "stale")
    mended = client.post(f"/api/plans/{plan['id']}/mend", json={"version": named["version"]}).json
    assert mended["plan"]["name"] == "Second"
    assert client.get("/api/plans").json["damaged"] == []
    assert saved(client, mended, "Fourth")["plan"]["name"] == "Fourth"


def test_a_plan_without_a_good_revision_is_named_and_stays(
    client: FlaskClient, plan: dict, bench: Bench
) -> None:
    for document in ("[]", '{"format": "two"}', '{"coats": {"a": 1}}', "null"):
        spoil(bench, plan["id"], number=1, document=document)
        (named,) = client.get("/api/plans").json["damaged"]
        assert named["good_at"] is None
    told = client.post(f"/api/plans/{plan['id']}/mend", json={"version": plan["version"]})
    is_problem(told, 422, "damaged_plan")


def test_a_copy_is_a_plan_of_its_own(client: FlaskClient, plan: dict) -> None:
    long = plan["plan"] | {"name": "N" * 120}
    copy = client.post("/api/plans/copy", json={"plan": long}).json
    assert copy["id"] != plan["id"]
    assert copy["plan"]["name"].endswith(", copy")
    assert len(copy["plan"]["name"]) == 120
    assert copy["plan"] | {"name": ""} == long | {"name": ""}
    assert client.get(f"/api/plans/{plan['id']}").json["version"] == plan["version"]


def test_a_full_disk_is_told_and_saving_goes_on_when_there_is_room(
    client: FlaskClient, plan: dict, bench: Bench
) -> None:
    tx = bench.db.connection()
    pages = tx.execute("PRAGMA page_count").fetchone()[0]
    tx.execute(f"PRAGMA max_page_count = {pages}")
    body = {"version": plan["version"], "plan": plan["plan"], "what": "late"}
    told = [client.put(f"/api/plans/{plan['id']}", json=body) for _ in range(30)]
    refused = next(one for one in told if one.status_code != 200 and one.status_code != 409)
    detail = is_problem(refused, 507, "disk_full")["detail"]
    assert "Make room" in detail
    tx.execute(f"PRAGMA max_page_count = {pages * 100}")
    now = client.get(f"/api/plans/{plan['id']}").json
    assert saved(client, now, "Room again")["plan"]["name"] == "Room again"


def test_a_mesh_that_no_plan_uses_goes_with_the_trash(
    client: FlaskClient, plan: dict, bench: Bench, cone_stl: bytes, tmp_path: Path
) -> None:
    meshes = client.get("/api/meshes").json["meshes"]
    assert len(meshes) == 1
    client.post("/api/stand-ins/cube")
    assert client.get("/api/plans").json["unused_meshes"] == {"count": 0, "size_bytes": 0}
    client.delete("/api/trash")
    assert len(client.get("/api/meshes").json["meshes"]) == 2  # it was only just brought in
    with bench.db.atomic() as tx:
        tx.execute("UPDATE mesh SET created_at = '2020-01-01T00:00:00.000+00:00'")
    unused = client.get("/api/plans").json["unused_meshes"]
    assert unused["count"] == 1
    assert unused["size_bytes"] > 100
    client.delete("/api/trash")
    assert client.get("/api/meshes").json["meshes"] == meshes
    assert client.get("/api/plans").json["unused_meshes"]["count"] == 0
