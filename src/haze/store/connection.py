"""The one place that opens the database: connections, transactions, migrations."""

from __future__ import annotations

import re
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path

from haze.core.errors import HazeError

FILE_NAME = "haze.sqlite3"
BUSY_MS = 10_000


class StoreError(HazeError):
    """The database cannot be used as it is."""

    code = "store"


class StaleError(HazeError):
    """Someone else changed it first."""

    code = "stale"


class MissingError(HazeError):
    """No such row."""

    code = "missing"


def now() -> str:
    """The time in UTC, ISO 8601 with milliseconds."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def migrations() -> list[tuple[int, str]]:
    """Numbered migrations shipped with the program, in order."""
    folder = resources.files("haze.store") / "migrations"
    found = [
        (int(entry.name[:4]), entry.read_text("utf-8"))
        for entry in folder.iterdir()
        if re.fullmatch(r"\d{4}\.sql", entry.name)
    ]
    return sorted(found)


class Database:
    """One SQLite file; a connection per thread, closed with the database."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / FILE_NAME
        self._local = threading.local()
        self._all: list[sqlite3.Connection] = []
        self._lock = threading.Lock()
        self._migrate()

    def connection(self) -> sqlite3.Connection:
        """This thread's connection."""
        held: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if held is None:
            held = self._open()
            self._local.connection = held
            with self._lock:
                self._all.append(held)
        return held

    def _open(self) -> sqlite3.Connection:
        db = sqlite3.connect(
            self.path, timeout=BUSY_MS / 1000, isolation_level=None, check_same_thread=False
        )
        db.row_factory = sqlite3.Row
        db.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
        db.execute("PRAGMA journal_mode = WAL")
        db.execute("PRAGMA synchronous = FULL")
        db.execute("PRAGMA foreign_keys = ON")
        return db

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """One write transaction: all of it is on disk afterwards, or nothing."""
        db = self.connection()
        db.execute("BEGIN IMMEDIATE")
        try:
            yield db
        except BaseException:
            db.execute("ROLLBACK")
            raise
        db.execute("COMMIT")

    def close(self) -> None:
        """Close every thread's connection."""
        with self._lock:
            for held in self._all:
                held.close()
            self._all.clear()
        self._local = threading.local()

    def backup(self, target: Path) -> None:
        """One consistent copy while the database is in use."""
        with sqlite3.connect(target) as copy:
            self.connection().backup(copy)
        copy.close()

    def _migrate(self) -> None:
        steps = migrations()
        newest = steps[-1][0]
        try:
            have = int(self.connection().execute("PRAGMA user_version").fetchone()[0])
        except sqlite3.DatabaseError as error:
            raise StoreError(
                f"{self.path.name} is not a Haze database ({error}); move it away and start again."
            ) from error
        if have > newest:
            raise StoreError(
                f"This database was written by a newer Haze (schema {have}); this one knows "
                f"schema {newest}. Start the newer Haze. Nothing was changed."
            )
        for number, script in steps:
            if number <= have:
                continue
            if have:
                self.backup(self.path.with_suffix(f".before-{number:04}.sqlite3"))
            # a table that others refer to can only be made anew while references are not enforced
            self.connection().execute("PRAGMA foreign_keys = OFF")
            with self.atomic() as db:
                # another process may have migrated while this one waited for the lock
                if int(db.execute("PRAGMA user_version").fetchone()[0]) >= number:
                    continue
                for statement in statements(script):
                    db.execute(statement)
                if db.execute("PRAGMA foreign_key_check").fetchone() is not None:
                    raise StoreError(
                        f"The database holds references that lead nowhere; step {number:04} was "
                        "not made. Nothing was changed."
                    )
                db.execute(f"PRAGMA user_version = {number}")
        self.connection().execute("PRAGMA foreign_keys = ON")


def statements(script: str) -> Iterator[str]:
    """Single statements of a script, so that they can share one transaction."""
    held = ""
    for line in script.splitlines(keepends=True):
        held += line
        if sqlite3.complete_statement(held):
            yield held
            held = ""
    if held.strip() and not held.strip().startswith("--"):
        raise StoreError("A migration ends in the middle of a statement.")
