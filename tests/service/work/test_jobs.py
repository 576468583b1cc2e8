"""Long work."""

from __future__ import annotations

import threading

import pytest

from haze.core.errors import CancelledError, HazeError
from haze.service.work.jobs import KEPT_JOBS, Jobs, Report
from haze.store.connection import MissingError
from helpers import ended


def test_jobs_fail_with_a_sentence_and_can_be_cancelled() -> None:
    jobs = Jobs()
    begun, go_on = threading.Event(), threading.Event()

    def slow(report: Report) -> None:
        begun.set()
        while report(0.5, "Working"):
            go_on.wait(0.01)
        raise CancelledError("Stopped.")

    def wrong(_: Report) -> None:
        raise HazeError("The mesh is soup.")

    def broken(_: Report) -> None:
        raise ZeroDivisionError("secret")

    job = jobs.start("a", "Waiting", slow)
    assert begun.wait(10)
    queued = jobs.start("b", "Waiting", wrong)
    jobs.cancel(queued.id)
    jobs.cancel(job.id)
    assert ended(jobs, job).error == "Stopped."
    assert ended(jobs, queued)
    assert ended(jobs, jobs.start("c", "", wrong)).error == "The mesh is soup."
    told = ended(jobs, jobs.start("d", "", broken)).error
    assert told is not None
    assert "secret" not in told
    with pytest.raises(MissingError):
        jobs.get("none")
    jobs.close()


def test_what_is_asked_for_does_not_wait_for_what_is_early() -> None:
    jobs = Jobs()
    begun, go_on = threading.Event(), threading.Event()
    done: list[str] = []

    def slow(_: Report) -> None:
        begun.set()
        assert go_on.wait(10)
        done.append("slow")

    first = jobs.start("a", "Getting ready", slow, turn="early")
    assert begun.wait(10)
    waits = jobs.start("b", "Getting ready", lambda _: done.append("early b"), turn="early")
    asked = jobs.start("b", "Waiting", lambda _: done.append("asked b"))
    assert asked.id != waits.id
    assert ended(jobs, asked).state == "done"
    assert done == ["asked b"]
    # what runs already is joined, whoever asks
    assert jobs.start("a", "Waiting", slow).id == first.id
    go_on.set()
    assert ended(jobs, waits).state == "done"
    assert done == ["asked b", "slow", "early b"]
    jobs.close()


def test_what_is_early_rests_while_something_is_worked_on_that_was_asked_for() -> None:
    jobs = Jobs()
    asked_runs, go_on, steps = threading.Event(), threading.Event(), threading.Semaphore(0)
    moved = threading.Event()
    seen: list[float] = []

    def early(report: Report) -> None:
        for n in range(4):
            steps.acquire()
            report(n / 4, "Getting ready")
            seen.append(n / 4)
            moved.set()

    def asked(_: Report) -> None:
        asked_runs.set()
        assert go_on.wait(10)

    slow = jobs.start("a", "", early, turn="early")
    job = jobs.start("b", "", asked)
    assert asked_runs.wait(10)
    for _ in range(4):
        steps.release()
    assert jobs.get(job.id).state == "running"
    assert not moved.wait(0.3)  # it rests at its first report
    go_on.set()
    assert ended(jobs, job).state == "done"
    assert ended(jobs, slow).state == "done"
    assert seen == [0.0, 0.25, 0.5, 0.75]
    jobs.close()


def test_what_is_early_rests_while_the_painter_moves_something(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    jobs = Jobs()
    monkeypatch.setattr("haze.service.work.jobs.REST_S", 1000.0)
    jobs.moved()
    begun = threading.Event()
    early = jobs.start("a", "", lambda _: begun.set(), turn="early")
    assert ended(jobs, jobs.start("b", "", lambda _: None)).state == "done"
    assert not begun.wait(0.3)
    monkeypatch.setattr("haze.service.work.jobs.REST_S", 0.0)
    assert begun.wait(10)
    assert ended(jobs, early).state == "done"
    jobs.close()


def test_a_job_under_way_is_never_forgotten_however_many_come_after_it() -> None:
    jobs = Jobs()
    begun, go_on = threading.Event(), threading.Event()

    def slow(_: Report) -> None:
        begun.set()
        assert go_on.wait(10)

    first = jobs.start("a", "", slow)
    assert begun.wait(10)
    for n in range(KEPT_JOBS + 20):
        last = jobs.start(f"early {n}", "", lambda _: None, turn="early")
    assert jobs.get(first.id).state == "running"
    go_on.set()
    assert ended(jobs, first).state == "done"
    assert ended(jobs, last).state == "done"
    jobs.start("b", "", lambda _: None)
    with pytest.raises(MissingError):  # over, and long ago
        jobs.get(first.id)
    jobs.close()
