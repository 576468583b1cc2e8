"""Server-sent events: one open request that tells until it ends, and how many may be open."""

from __future__ import annotations

import threading
import time
from collections import Counter
from collections.abc import Callable, Generator, Iterator

from flask import Response, current_app, request
from pydantic import BaseModel

from haze.core.errors import HazeError

STILL_THERE = ": still there\n\n"
ALIVE_EVERY_S = 10.0  # a page hears something at least so often, so that a dead one is noticed
MOST_OF_CLIENT = 12  # a browser opens six at most; each holds a thread of the server
MOST_IN_ALL = 24  # fewer than the server has threads
STREAMS = "streams"  # among the extensions of the application
CLIENT = "haze.client"  # in the environment of a request: whose it is; the desk when not there


class TooManyStreamsError(HazeError):
    """More open requests that listen than one client may hold, or than there are hands for."""

    code = "too_many_streams"


class Streams:
    """Who holds how many open streams."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._held: Counter[str] = Counter()

    def take(self, client: str) -> Callable[[], None]:
        """Take a place; what frees it again, once.

        Raises
        ------
        TooManyStreamsError
        """
        with self._lock:
            if self._held[client] >= MOST_OF_CLIENT or self._held.total() >= MOST_IN_ALL:
                raise TooManyStreamsError(
                    f"{self._held[client]} requests of yours listen already, and "
                    f"{self._held.total()} in all; close some pages of Haze. What runs goes on."
                )
            self._held[client] += 1
        freed = threading.Event()

        def free() -> None:
            with self._lock:
                if not freed.is_set():
                    freed.set()
                    self._held[client] -= 1

        return free


def events(views: Generator[BaseModel | None, None, None]) -> Response:
    """A stream of views as JSON, as long as the page is there.

    Parameters
    ----------
    views : yields None when nothing has happened for a moment; closed when the page leaves

    Raises
    ------
    TooManyStreamsError
    """
    streams: Streams = current_app.extensions[STREAMS]
    free = streams.take(str(request.environ.get(CLIENT, "")))
    gone = request.environ.get("waitress.client_disconnected", lambda: False)
    answer = Response(
        _stream(views, gone, free),
        mimetype="text/event-stream",
        headers={"Cache-Control": "no-store"},
    )
    answer.call_on_close(views.close)
    answer.call_on_close(free)
    return answer


def _stream(
    views: Generator[BaseModel | None, None, None],
    gone: Callable[[], bool],
    free: Callable[[], None],
) -> Iterator[str]:
    heard_s = -ALIVE_EVERY_S
    try:
        for one in views:
            if gone():
                return
            now_s = time.monotonic()
            if one is None and now_s - heard_s < ALIVE_EVERY_S:
                continue
            heard_s = now_s
            yield STILL_THERE if one is None else f"data: {one.model_dump_json()}\n\n"
    finally:
        free()
