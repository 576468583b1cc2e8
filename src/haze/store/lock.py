"""One server to a data folder: a lock the system lets go of however the process ends."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from haze.store import troubles

LOCK_NAME = "haze.lock"


@contextmanager
def held(folder: Path) -> Iterator[None]:
    """Hold a data folder, made when it is not there; refused when another Haze holds it."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = FileLock(folder / LOCK_NAME)
        lock.acquire(timeout=0)
    except Timeout:
        raise troubles.in_use(folder) from None
    except OSError as error:
        raise troubles.of_files(error, folder) from error
    try:
        yield
    finally:
        lock.release()
