"""Photos of cards over HTTP: as large as phones make them, and nothing larger."""

from __future__ import annotations

import io

import numpy as np
import pytest
from flask.testing import FlaskClient
from PIL import Image

from haze.formats.photos import MOST_BYTES
from haze.web.guard import SMALL_BODY

ADDRESS = "/api/cards/photos"


@pytest.fixture(scope="module")
def large() -> bytes:
    """A photo of nothing, larger than what other routes take."""
    noise = np.random.default_rng(1).integers(0, 255, (1400, 1900, 3), dtype=np.uint8)
    out = io.BytesIO()
    Image.fromarray(noise).save(out, "JPEG", quality=95)
    assert len(out.getvalue()) > 1.2 * SMALL_BODY
    return out.getvalue()


def test_a_large_photo_is_read_and_one_without_a_card_says_so(
    client: FlaskClient, large: bytes
) -> None:
    got = client.post(ADDRESS, data=large)
    assert got.status_code == 200
    assert got.json["found"]["reason"] == "marks"
    assert got.json["card"] is None
    kept = client.get(f"{ADDRESS}/{got.json['id']}.jpg")
    assert kept.mimetype == "image/jpeg"
    assert client.get("/api/cards").json["photos"][0]["id"] == got.json["id"]
    # nothing is known of its setting: it teaches nothing, and can go
    agreed = client.post(
        f"{ADDRESS}/{got.json['id']}/agree", json={"id": "agree-0001", "look": "clean"}
    )
    assert agreed.status_code == 404
    away = {"of": "card", "id": got.json["id"], "trashed": True}
    put = client.post("/api/cards/trash", json=away)
    assert [p["name"] for p in put.json["photos"]] == ["Another card"]
    assert client.get("/api/cards").json["photos"] == []
    assert client.get("/api/cards/trash").json == put.json
    assert client.delete("/api/cards/trash").json == {"deleted": 1}
    assert client.post("/api/cards/trash", json=away).status_code == 404


def test_what_is_too_large_or_no_photo_is_refused_and_nothing_kept(client: FlaskClient) -> None:
    assert client.post(ADDRESS, data=b"0" * (MOST_BYTES + 1)).status_code == 413
    assert client.post(ADDRESS, data=b"no photo").status_code == 422
    assert client.post(f"{ADDRESS}?card=5", data=b"no photo").status_code == 404
    assert client.get("/api/cards").json == {"cards": [], "photos": [], "unreadable": []}


def test_a_card_that_was_not_printed_here_is_not_there(client: FlaskClient) -> None:
    for path in ("card.svg", "card.pdf", "card.pdf?paper=letter"):
        assert client.get(f"/api/cards/5/{path}").status_code == 404
    assert client.get("/api/cards/1000000/card.svg").status_code == 422


def test_practice_over_http_keeps_its_card_and_refuses_what_is_no_answer(
    client: FlaskClient,
) -> None:
    one = client.post("/api/practice").json
    assert client.post("/api/practice").json["id"] == one["id"]
    assert client.get(f"/api/practice/{one['id']}.png").mimetype == "image/png"
    where = f"/api/practice/{one['id']}/answer"
    for wrong in ({"look": "pretty", "change": "leave"}, {"look": "dust"}, {}):
        assert client.post(where, json=wrong).status_code == 422
    told = client.post(where, json={"look": "dust", "change": "nearer"})
    assert told.json["judged"]["named"] == "dust"
    assert client.get("/api/practice/nobody.png").status_code == 404


def test_a_photo_of_a_piece_belongs_to_a_plan_and_is_refused_without_one(
    client: FlaskClient, large: bytes
) -> None:
    assert client.post("/api/piece-photos?plan=nobody", data=large).status_code == 404
    assert client.get("/api/piece-photos").json == {"photos": [], "unreadable": []}
    assert client.post("/api/piece-photos/nobody/compare", json={}).status_code == 422
    away = {"of": "piece", "id": "nobody", "trashed": True}
    assert client.post("/api/cards/trash", json=away).status_code == 404
    assert client.post("/api/cards/trash", json=away | {"of": "plan"}).status_code == 422
    huge = b"x" * (MOST_BYTES + 1)
    assert client.post("/api/piece-photos?plan=nobody", data=huge).status_code == 413
