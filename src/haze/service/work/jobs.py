"""Work that takes long: one job at a time off the request thread, with progress and cancel."""

from __future__ import annotations

import logging
import threading
import time
import uuid
from collections import OrderedDict
from collections.abc import Callable, Generator, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from functools import partial
from typing import Literal, TypeVar

from pydantic import BaseModel

from haze.core.errors import CancelledError, HazeError
from haze.core.plan.piece import Piece
from haze.core.progress import Progress
from haze.store.connection import MissingError

log = logging.getLogger(__name__)

Turn = Literal["asked", "beside", "early"]
State = Literal["waiting", "running", "done", "failed", "cancelled"]
ENDED: tuple[State, ...] = ("done", "failed", "cancelled")
KEPT_JOBS = 200
REPORT_EVERY_S = 0.1  # progress is reported no more often
REST_S = 1.0  # what nobody asked for rests as long after the painter's last move
LOOK_EVERY_S = 0.4  # whoever watches is asked so often whether he is still there
Report = Callable[[float, str], bool]
R = TypeVar("R", bound=BaseModel)
Work = Callable[[Report], BaseModel | None]


class NotReadyError(MissingError):
    """A piece that is not worked out yet; whoever asked is answered when it is."""

    code = "not_ready"

    def __init__(self, piece: Piece) -> None:
        super().__init__("This piece is not worked out yet.", field="piece")
        self.piece = piece


class JobView(BaseModel):
    """A job as the screen sees it; `error` and its `code` when it failed or was stopped."""

    id: str
    state: State
    progress: float
    doing: str
    error: str | None = None
    code: str | None = None


def share_of(report: Report, doing: str) -> Progress:
    """A report that takes the share done only."""
    return lambda done: report(done, doing)


class _Job:
    """A job under way; every change of its view wakes those who watch it."""

    def __init__(self, key: str, doing: str, turn: Turn, ended: Callable[[], None] | None) -> None:
        self.view = JobView(id=uuid.uuid4().hex, state="waiting", progress=0.0, doing=doing)
        self.key = key
        self.turn = turn
        self.ended = ended
        self.stop = threading.Event()
        self.result: BaseModel | None = None
        self._changed = threading.Condition()

    def tell(self, **change: object) -> None:
        with self._changed:
            self.view = self.view.model_copy(update=change)
            self._changed.notify_all()

    def report(self, progress: float, doing: str) -> bool:
        self.tell(progress=progress, doing=doing)
        return not self.stop.is_set()

    def wait(self, seen: JobView) -> JobView:
        """The view when it differs from one that was seen, or after a while anyway."""
        with self._changed:
            self._changed.wait_for(lambda: self.view is not seen, timeout=LOOK_EVERY_S)
            return self.view


class Jobs:
    """Jobs by id; the same key is never worked on twice at once."""

    def __init__(self, translated: Callable[[Exception], Exception] = lambda error: error) -> None:
        """`translated` turns errors of what the work stands on into ones for the painter."""
        self._translated = translated
        # what only makes a picture finer, and what nobody has asked for yet, never keeps the
        # painter waiting for an answer
        self._pools = {
            turn: ThreadPoolExecutor(1, thread_name_prefix=turn)
            for turn in ("asked", "beside", "early")
        }
        self._lock = threading.Lock()
        self._jobs: OrderedDict[str, _Job] = OrderedDict()
        self._closing = threading.Event()
        self._quiet = threading.Event()  # while nothing that was asked for is worked on
        self._quiet.set()
        self._moved_s = -REST_S

    @contextmanager
    def idle(self) -> Iterator[None]:
        """Held while work waits for other work, which then need not rest for its sake."""
        asked = threading.current_thread().name.startswith("asked")
        if asked:
            self._quiet.set()
        try:
            yield
        finally:
            if asked:
                self._quiet.clear()

    def moved(self) -> None:
        """The painter moves something: early work rests for a moment."""
        self._moved_s = time.monotonic()

    def start(
        self,
        key: str,
        doing: str,
        work: Work,
        *,
        turn: Turn = "asked",
        ended: Callable[[], None] | None = None,
    ) -> JobView:
        """Start work, or join the job that already does it; `ended` is called when it is over.

        What waits for its early turn is not joined by one who asks for it now.
        """
        with self._lock:
            for job in self._jobs.values():
                if job.key != key or job.view.state in ENDED or job.stop.is_set():
                    continue
                if job.turn == turn or job.view.state == "running":
                    return job.view
            job = _Job(key, doing, turn, ended)
            self._jobs[job.view.id] = job
            self._forget()
        self._pools[turn].submit(self._run, job, work)
        return job.view

    def _forget(self) -> None:
        """Let go of the oldest jobs that are over; what is under way stays, however much it is."""
        over = [name for name, job in self._jobs.items() if job.view.state in ENDED]
        for name in over[: max(len(self._jobs) - KEPT_JOBS, 0)]:
            del self._jobs[name]

    def _run(self, job: _Job, work: Work) -> None:
        try:
            self._work(job, work)
        finally:
            if job.ended:
                job.ended()

    def _work(self, job: _Job, work: Work) -> None:
        if job.turn == "early":
            self._rest(job)
        if job.stop.is_set():
            job.tell(state="cancelled", code=CancelledError.code)
            return
        job.tell(state="running")
        if job.turn == "asked":
            self._quiet.clear()
        try:
            job.result = work(partial(self._politely, job) if job.turn == "early" else job.report)
        except CancelledError as error:
            job.tell(state="cancelled", error=error.message, code=error.code)
        except Exception as error:
            known = self._translated(error)
            if isinstance(known, HazeError):
                job.tell(state="failed", error=known.message, code=known.code)
                return
            log.exception("job %s failed", job.view.id)
            words = "This could not be worked out. The details are in the log."
            job.tell(state="failed", error=words, code="internal")
        else:
            job.tell(state="done", progress=1.0)
        finally:
            if job.turn == "asked":
                self._quiet.set()

    def _politely(self, job: _Job, progress: float, doing: str) -> bool:
        """A report that rests first."""
        self._rest(job)
        return job.report(progress, doing)

    def _rest(self, job: _Job) -> None:
        """Wait while something asked for is worked on, or the painter moves something."""
        while not self._closing.is_set() and not job.stop.is_set():
            self._quiet.wait()
            left = self._moved_s + REST_S - time.monotonic()
            if left <= 0:
                return
            self._closing.wait(min(left, REPORT_EVERY_S))

    def _get(self, identity: str) -> _Job:
        with self._lock:
            job = self._jobs.get(identity)
        if job is None:
            raise MissingError("This job is no longer known.", field="job")
        return job

    def get(self, identity: str) -> JobView:
        """A job's state."""
        return self._get(identity).view

    def watch(self, identity: str) -> Generator[JobView | None, None, None]:
        """A job's state now and whenever it changes, until it ends; None when nothing happens."""
        job = self._get(identity)
        return self._watched(job)

    def _watched(self, job: _Job) -> Generator[JobView | None, None, None]:
        known = job.view
        yield known
        while known.state not in ENDED and not self._closing.is_set():
            view = job.wait(known)
            yield view if view is not known else None
            known = view
            if known.state not in ENDED:
                self._closing.wait(REPORT_EVERY_S)

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
            job.tell(state="cancelled", code=CancelledError.code)
        return job.view

    def close(self) -> None:
        """Stop all jobs and wait for them."""
        self._closing.set()
        self._quiet.set()
        with self._lock:
            for job in self._jobs.values():
                job.stop.set()
        for pool in self._pools.values():
            pool.shutdown(wait=True, cancel_futures=True)
