"""The one place that opens the database: connections and transactions."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

from haze.core.errors import HazeError
from haze.store import opening, troubles

FILE_NAME = "haze.sqlite3"
NO_TIME = timedelta()


class StaleError(HazeError):
    """Someone else changed it first."""

    code = "stale"


class MissingError(HazeError):
    """No such row."""

    code = "missing"


def now(*, less: timedelta = NO_TIME) -> str:
    """The time in UTC, ISO 8601 with milliseconds; some time ago when `less` is given."""
    return (datetime.now(UTC) - less).isoformat(timespec="milliseconds")


class Database:
    """One SQLite file; a connection per thread, closed with the database."""

    def __init__(self, folder: Path) -> None:
        self._hold(folder / FILE_NAME)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            opening.make_ready(self.path)
        except OSError as error:
            raise troubles.of_files(error, folder) from error
        except sqlite3.Error as error:
            raise self.translated(error) from error

    @classmethod
    def beside(cls, path: Path) -> Database:
        """The database another process has made ready and serves, to be read here too."""
        held = cls.__new__(cls)
        held._hold(path)
        return held

    def _hold(self, path: Path) -> None:
        self.path = path
        self._local = threading.local()
        self._all: list[sqlite3.Connection] = []
        self._lock = threading.Lock()

    def connection(self) -> sqlite3.Connection:
        """This thread's connection."""
        held: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if held is None:
            held = opening.connect(self.path)
            self._local.connection = held
            with self._lock:
                self._all.append(held)
        return held

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """One write transaction: all of it is on disk afterwards, or nothing."""
        try:
            with opening.transaction(self.connection()) as db:
                yield db
        except sqlite3.Error as error:
            raise self.translated(error) from error

    def translated(self, error: Exception) -> Exception:
        """An error of the disk or the database as one for the painter; any other as it is."""
        if isinstance(error, sqlite3.Error):
            return troubles.of_database(error, self.path) or error
        if isinstance(error, OSError) and error.errno in troubles.OF_THE_DISK:
            return troubles.of_files(error, self.path.parent)
        return error

    def close(self) -> None:
        """Close every thread's connection."""
        with self._lock:
            for held in self._all:
                held.close()
            self._all.clear()
        self._local = threading.local()

    def backup(self, target: Path) -> None:
        """One consistent copy while the database is in use; whole, or not there."""
        try:
            opening.copy(self.connection(), target)
        except sqlite3.Error as error:
            raise (troubles.of_database(error, target) or error) from error
