"""What needs a piece that is not worked out is answered with the job that does it, then in full."""

from __future__ import annotations

import json
import threading

import pytest
from flask.testing import FlaskClient

from begun import begun
from haze.core.plan.document import Plan
from haze.service.bench import Bench
from haze.service.piece.cache import PieceCache
from haze.service.plan.start import NewPlan
from haze.service.work.jobs import Report
from helpers import WAIT_S, done, ended, going, taken

TODAY = "2026-11-28"


@pytest.fixture
def cold(client: FlaskClient, bench: Bench, cone_stl: bytes) -> dict:
    """A plan whose piece is not worked out."""
    mesh = taken(client, cone_stl, name="cone.stl")
    made = begun(bench.db, NewPlan(mesh=mesh["id"], name="Cone", height_mm=25))
    return made.model_dump(mode="json")


def asked(client: FlaskClient, plan: dict) -> dict[str, object]:
    """Every kind of request that needs the piece, by name: what sends it."""
    own, document = f"/api/plans/{plan['id']}", plan["plan"]
    coat = next(c for c in document["coats"] if c["kind"] == "spray")
    return {
        "side": lambda: client.get(f"{own}/side.png"),
        "recipe": lambda: client.get(f"{own}/recipe.png"),
        "hold": lambda: client.get(
            f"/api/hold/{plan['id']}/{coat['id']}/{coat['stations'][0]['id']}.png"
        ),
        "picture": lambda: client.get(f"{own}/picture.png"),
        "piece-stand-in": lambda: client.post(f"{own}/piece-stand-in", json={}),
        "workings": lambda: client.post("/api/workings", json={"plan": document}),
        "scheme": lambda: client.post(
            "/api/start",
            json={"plan": document, "schools": document["schools"], "what": "figure",
                  "colours": ["#7a1c1c"], "gradient": False, "along": "light"},
        ),
    }  # fmt: skip


def test_it_is_prepared_once_by_one_job_and_never_in_the_request(
    client: FlaskClient, cold: dict, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    go_on, made = threading.Event(), []
    real = PieceCache._make

    def slowly(self: PieceCache, piece: object, report: Report) -> object:
        made.append(threading.current_thread().name)
        assert go_on.wait(WAIT_S)
        return real(self, piece, report)  # type: ignore[arg-type]

    monkeypatch.setattr(PieceCache, "_make", slowly)
    jobs = set()
    for name, send in asked(client, cold).items():
        answer = send()  # type: ignore[operator]
        assert answer.status_code == 202, name
        assert answer.headers["Cache-Control"] == "no-store"
        jobs.add(answer.json["id"])
    assert len(jobs) == 1
    go_on.set()
    done(client, {"id": jobs.pop()})
    assert [name.split("_")[0] for name in made] == ["asked"]
    for name, send in asked(client, cold).items():
        assert send().status_code == 200, name  # type: ignore[operator]
    assert len(made) == 1


def test_work_that_waits_for_a_piece_another_makes_does_not_make_it_again(
    bench: Bench, client: FlaskClient, cold: dict, monkeypatch: pytest.MonkeyPatch
) -> None:
    plan = Plan.model_validate(cold["plan"])
    begun, go_on, made = threading.Event(), threading.Event(), []
    real = PieceCache._make

    def slowly(self: PieceCache, piece: object, report: Report) -> object:
        made.append(1)
        begun.set()
        assert go_on.wait(WAIT_S)
        return real(self, piece, report)  # type: ignore[arg-type]

    monkeypatch.setattr(PieceCache, "_make", slowly)

    def early(report: Report) -> None:
        bench.cache.make(plan.piece, report)

    def now(report: Report) -> None:
        waits.set()
        bench.opened(plan, report)

    waits = threading.Event()
    first = bench.jobs.start("unasked", "Getting ready", early, turn="early")
    assert begun.wait(WAIT_S)
    second = bench.jobs.start("asked for", "Reading", now)
    assert waits.wait(WAIT_S)
    go_on.set()
    # the early one must not rest for the sake of the one that waits for it
    assert ended(bench.jobs, second).state == "done"
    assert ended(bench.jobs, first).state == "done"
    assert made == [1]


def test_the_booth_of_a_cold_day_waits_too(
    client: FlaskClient, cold: dict, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("haze.service.day.days.SEARCH_S", 0.2)
    day = client.get(f"/api/plans/{cold['id']}/day?today={TODAY}").json
    kept = client.put(f"/api/days/{day['id']}", json={"version": 0, "doc": day["doc"]}).json
    done(client, client.post(f"/api/days/{kept['id']}/lay", json={}).json)
    path = f"/api/days/{kept['id']}/booth"
    steps = client.get(path).json["steps"]
    trial = next(s for s in steps if s["kind"] == "trial")
    for left in bench.cache.folder.glob("*"):
        left.unlink()
    bench.cache._held.clear()
    waiting = client.get(path)
    assert waiting.status_code == 202
    # a press is stored at once, and learned from when the piece is there
    event = {"id": "press-0001", "at": "2026-11-28T14:00:00Z", "minute": 0.0, "kind": "tried",
             "step": trial["id"], "look": "clean"}  # fmt: skip
    sent = client.post(f"/api/days/{kept['id']}/events", json={"events": [event]})
    assert [e["id"] for e in sent.json["events"]] == ["press-0001"]
    done(client, json.loads(waiting.data))
    learned = bench.jobs.start(f"learn {kept['id']}", "Learning", lambda _: None, turn="early")
    assert ended(bench.jobs, learned).state == "done"
    bench._learn_later(kept["id"])
    again = bench.jobs.start(f"learn {kept['id']}", "Learning", lambda _: None, turn="early")
    assert ended(bench.jobs, again).state == "done"
    assert sum(len(rows) for rows in bench.beliefs.tried().of.values()) == 1
    assert client.get(path).status_code == 200
    assert going(0, "")
