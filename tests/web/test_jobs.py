"""Jobs over HTTP: one open request follows a job to its end."""

from __future__ import annotations

import json
import threading

from flask.testing import FlaskClient

from haze.service.bench import Bench
from haze.service.work.jobs import Report
from helpers import WAIT_S, is_problem


def views(data: bytes) -> list[dict]:
    return [
        json.loads(line.removeprefix(b"data: "))
        for line in data.split(b"\n")
        if line.startswith(b"data: ")
    ]


def test_a_job_is_followed_on_one_request_until_it_is_done(
    client: FlaskClient, bench: Bench
) -> None:
    go_on = threading.Event()

    def work(report: Report) -> None:
        report(0.5, "Half way")
        go_on.wait(WAIT_S)

    job = bench.jobs.start("one", "Trying", work)
    response = client.get(f"/api/jobs/{job.id}/events")
    assert response.mimetype == "text/event-stream"
    assert response.headers["Cache-Control"] == "no-store"
    parts = response.iter_encoded()
    first = views(next(parts))[0]
    assert first["id"] == job.id
    assert first["state"] in ("waiting", "running")
    go_on.set()
    seen = [view for part in parts for view in views(part)]
    assert seen[-1] | {"progress": 1.0, "doing": "Half way"} == seen[-1]
    assert seen[-1]["state"] == "done"
    assert client.get(f"/api/jobs/{job.id}").json == seen[-1]


def test_a_job_that_is_stopped_says_so_to_who_follows_it(client: FlaskClient, bench: Bench) -> None:
    begun, stopped = threading.Event(), threading.Event()

    def work(report: Report) -> None:
        begun.set()
        stopped.wait(WAIT_S)
        assert not report(0.9, "Still at it")

    job = bench.jobs.start("one", "Trying", work)
    assert begun.wait(WAIT_S)
    parts = client.get(f"/api/jobs/{job.id}/events").iter_encoded()
    next(parts)
    assert client.delete(f"/api/jobs/{job.id}").status_code == 200
    stopped.set()
    last = [view for part in parts for view in views(part)][-1]
    assert last["state"] == "done", "work that does not look is done, not stopped"


def test_a_job_nobody_knows_is_not_followed(client: FlaskClient) -> None:
    is_problem(client.get("/api/jobs/none/events"), 404, "missing")
