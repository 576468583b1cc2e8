"""Work on files nobody has looked at yet, in a process of its own, with limits of room and time.

A file can be made so that reading it takes all memory, never ends, or breaks a library. The process
that reads it is thrown away afterwards, so the server survives all three and gets its memory back.
"""

from __future__ import annotations

import contextlib
import logging
import math
import multiprocessing
import os
import signal
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path
from typing import Any, TypeVar

from threadpoolctl import threadpool_limits

from haze.core.errors import CancelledError, HazeError
from haze.core.progress import Progress

log = logging.getLogger(__name__)

GIB = 2**30
STOPPED = "Stopped. Nothing was changed."
NICE = 10  # the browser and the server come first
CLOCK = 3.0  # times its processor time it may take by the clock
HEARD_EVERY_S = 0.1  # how soon a stop asked for is noticed
R = TypeVar("R")

CONTEXT = multiprocessing.get_context("forkserver")
# read once by the process that others are forked from: a fork then costs milliseconds
CONTEXT.set_forkserver_preload(
    [
        "haze.formats.meshes",
        "haze.core.mesh.prepare",
        "haze.service.cards.describe",
        "haze.service.colour.photo",
        "haze.service.files.looked",
        "haze.service.notebook.photos",
        "haze.cli",
    ]
)


class TooLongError(HazeError):
    """Reading a file took longer than a sound file takes."""

    code = "too_long"


class TooMuchRoomError(HazeError):
    """Reading a file took more memory than a sound file takes, or broke what reads it."""

    code = "too_much_room"


class BrokenWorkError(HazeError):
    """Reading a file failed in a way nobody foresaw; the log says how."""

    code = "broken_work"


@dataclass(frozen=True, slots=True)
class Limits:
    """What work may take: processor time [s], and memory beyond what the program needs [bytes].

    By the clock it may take longer, because it gives way to the browser and the server.
    """

    seconds: float
    room: int


READING = Limits(seconds=60.0, room=2 * GIB)
PREPARING = Limits(seconds=300.0, room=6 * GIB)
PICTURE = Limits(seconds=20.0, room=GIB)


def warm() -> None:
    """Start the process that others are forked from, so that the first file need not wait."""
    from multiprocessing import forkserver

    forkserver.ensure_running()


def run(work: Callable[[Progress], R], *, limits: Limits, progress: Progress | None = None) -> R:
    """What work finds in a process of its own.

    Parameters
    ----------
    work : a function of a module, or a partial of one: it is sent over with what it was given, so
        that a large file goes by its path
    limits : Limits
    progress : called with the share done [0..1]; False stops the work at once

    Raises
    ------
    HazeError : what the work refused
    TooLongError, TooMuchRoomError, BrokenWorkError : when it could not end
    CancelledError : when progress asked to stop
    """
    if progress and not progress(0.0):
        raise CancelledError(STOPPED)
    ours, theirs = CONTEXT.Pipe(duplex=False)
    process = CONTEXT.Process(target=_work, args=(theirs, limits, work), daemon=True)
    process.start()
    theirs.close()
    try:
        kind, answer = _heard(ours, limits, progress)
    finally:
        process.kill()
        process.join()
        ended = process.exitcode
        process.close()
        ours.close()
    if kind == "room" and ended == -signal.SIGXCPU:
        raise _too_long(limits)
    if kind == "done":
        found: R = answer
        return found
    if kind == "refused":
        raise answer
    if kind == "room":
        raise TooMuchRoomError(
            f"Reading this file takes more than {limits.room / GIB:g} GiB of memory, or breaks "
            "what reads it; it is damaged or made to do harm. Nothing was changed."
        )
    log.error("work apart failed: %s", answer)
    raise BrokenWorkError(
        "This file could not be read; the details are in the log. Nothing was changed."
    )


def _heard(pipe: Connection, limits: Limits, progress: Progress | None) -> tuple[str, Any]:
    """The last word of the work, after all it reported on the way."""
    ends, share = time.monotonic() + CLOCK * limits.seconds, 0.0
    while True:
        try:
            if pipe.poll(HEARD_EVERY_S):
                kind, answer = pipe.recv()
                if kind != "progress":
                    return kind, answer
                share = answer
        except (EOFError, ConnectionError):
            return "room", None  # killed, or a library broke
        if progress and not progress(share):
            raise CancelledError(STOPPED)
        if time.monotonic() > ends:
            raise _too_long(limits)


def _too_long(limits: Limits) -> TooLongError:
    return TooLongError(
        f"Reading this file takes longer than {limits.seconds:.0f} s; it is damaged or far too "
        "large. Nothing was changed."
    )


def _work(pipe: Connection, limits: Limits, work: Callable[[Progress], Any]) -> None:
    _limit(limits)

    def report(share: float) -> bool:
        pipe.send(("progress", share))
        return True

    with threadpool_limits(limits=1, user_api="blas"):
        try:
            answer: tuple[str, Any] = ("done", work(report))
        except HazeError as error:
            answer = ("refused", error)
        except MemoryError:
            answer = ("room", None)
        except Exception:
            answer = ("failed", traceback.format_exc())
    # nobody listens any more when the painter has stopped it
    with contextlib.suppress(BrokenPipeError):
        pipe.send(answer)


def _limit(limits: Limits) -> None:
    """Hold this process to its limits, where the system can."""
    if hasattr(os, "nice"):
        os.nice(NICE)
    try:
        import resource
    except ImportError:
        return
    # an orphan, whose server was killed, ends by itself
    seconds = math.ceil(limits.seconds)
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 5))
    with contextlib.suppress(ValueError, OSError):
        pages = int(Path("/proc/self/statm").read_text("ascii").split()[0])
        room = pages * resource.getpagesize() + limits.room
        resource.setrlimit(resource.RLIMIT_AS, (room, room))
