"""Work that takes long: one job at a time off the request thread, with progress and cancel."""

from __future__ import annotations

import logging
import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Literal, TypeVar

from pydantic import BaseModel

from haze.core.errors import CancelledError, HazeError
from haze.store.connection import MissingError

log = logging.getLogger(__name__)

State = Literal["waiting", "running", "done", "failed", "cancelled"]
KEPT_JOBS = 200
Report = Callable[[float, str], bool]
R = TypeVar("R", bound=BaseModel)
Work = Callable[[Report], BaseModel | None]


class JobView(BaseModel):
    """A job as the screen sees it."""

    id: str
    state: State
    progress: float
    doing: str
    error: str | None = None


class _Job:
    def __init__(self, key: str, doing: str) -> None:
        self.view = JobView(id=uuid.uuid4().hex, state="waiting", progress=0.0, doing=doing)
        self.key = key
        self.stop = threading.Event()
        self.result: BaseModel | None = None

    def report(self, progress: float, doing: str) -> bool:
        self.view = self.view.model_copy(update={"progress": progress, "doing": doing})
        return not self.stop.is_set()


class Jobs:
    """Jobs by id; the same key is never worked on twice at once."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="job")
        # what only makes a picture finer never keeps the painter waiting for an answer
        self._beside = ThreadPoolExecutor(1, thread_name_prefix="beside")
        self._lock = threading.Lock()
        self._jobs: OrderedDict[str, _Job] = OrderedDict()

    def start(self, key: str, doing: str, work: Work, *, beside: bool = False) -> JobView:
        """Start work, or join the job that already does it."""
        with self._lock:
            for job in self._jobs.values():
                if job.key == key and job.view.state in ("waiting", "running"):
                    if job.stop.is_set():
                        continue
                    return job.view
            job = _Job(key, doing)
            self._jobs[job.view.id] = job
            while len(self._jobs) > KEPT_JOBS:
                self._jobs.popitem(last=False)
        (self._beside if beside else self._pool).submit(self._run, job, work)
        return job.view

    def _run(self, job: _Job, work: Work) -> None:
        def end(state: State, error: str | None = None) -> None:
            job.view = job.view.model_copy(update={"state": state, "error": error})

        if job.stop.is_set():
            end("cancelled")
            return
        job.view = job.view.model_copy(update={"state": "running"})
        try:
            result = work(job.report)
        except CancelledError as error:
            end("cancelled", error.message)
        except HazeError as error:
            end("failed", error.message)
        except Exception:
            log.exception("job %s failed", job.view.id)
            end("failed", "This could not be worked out. The details are in the log.")
        else:
            job.result = result
            job.view = job.view.model_copy(update={"state": "done", "progress": 1.0})

    def _get(self, identity: str) -> _Job:
        with self._lock:
            job = self._jobs.get(identity)
        if job is None:
            raise MissingError("This job is no longer known.", field="job")
        return job

    def get(self, identity: str) -> JobView:
        """A job's state."""
        return self._get(identity).view

    def result(self, identity: str, kind: type[R]) -> R:
        """What a finished job found; `MissingError` when it found nothing of this kind."""
        found = self._get(identity).result
        if not isinstance(found, kind):
            raise MissingError("This job has no such result.", field="job")
        return found

    def cancel(self, identity: str) -> JobView:
        """Ask a job to stop at its next step."""
        job = self._get(identity)
        job.stop.set()
        if job.view.state == "waiting":
            job.view = job.view.model_copy(update={"state": "cancelled"})
        return job.view

    def close(self) -> None:
        """Stop all jobs and wait for them."""
        with self._lock:
            for job in self._jobs.values():
                job.stop.set()
        for pool in (self._pool, self._beside):
            pool.shutdown(wait=True, cancel_futures=True)
