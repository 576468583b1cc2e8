"""A database made ready: created whole, looked over, brought up to this program's schema."""

from __future__ import annotations

import os
import re
import sqlite3
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from importlib import resources
from pathlib import Path

from haze import __version__
from haze.store import troubles
from haze.store.troubles import NewerError, StoreError

BUSY_MS = 10_000
CHECK_S = 2.0  # looking a database over at start takes no longer
OPCODES = 50_000  # between two looks at the clock
TABLES = "SELECT name FROM sqlite_master WHERE type = 'table'"
OURS = {"plan", "revision", "mesh"}


def connect(path: Path) -> sqlite3.Connection:
    """A connection whose commits survive a power cut."""
    db = sqlite3.connect(
        path, timeout=BUSY_MS / 1000, isolation_level=None, check_same_thread=False
    )
    db.row_factory = sqlite3.Row
    try:
        db.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
        db.execute("PRAGMA journal_mode = WAL")
        db.execute("PRAGMA synchronous = FULL")
        db.execute("PRAGMA foreign_keys = ON")
    except BaseException:
        db.close()
        raise
    return db


@contextmanager
def transaction(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """One write transaction: all of it is on disk afterwards, or nothing."""
    db.execute("BEGIN IMMEDIATE")
    try:
        yield db
        db.execute("COMMIT")
    except BaseException:
        # a full disk has ended it already
        if db.in_transaction:
            db.execute("ROLLBACK")
        raise


def make_ready(path: Path) -> None:
    """Create a database that is not there; look one over that is, and bring it up.

    Raises
    ------
    StoreError, sqlite3.Error, OSError
    """
    if not path.exists():
        _create(path)
    if path.is_dir():
        raise troubles.foreign(path, "is a folder")
    if path.stat().st_size == 0:
        raise troubles.empty_file(path)
    # looked at before it gets a journal: a file that is not ours stays as it is
    with closing(sqlite3.connect(path, timeout=BUSY_MS / 1000)) as strange:
        _look_over(strange, path)
    with closing(connect(path)) as db:
        migrate(db, path)
        _sign(db)


def _create(path: Path) -> None:
    """Made beside and put in its place whole: a power cut leaves no half of one."""
    handle, name = tempfile.mkstemp(dir=path.parent, prefix=path.name, suffix=".part")
    os.close(handle)
    try:
        with closing(sqlite3.connect(name, isolation_level=None)) as db:
            for number, script in migrations():
                _step(db, number, script)
        with suppress(FileExistsError):  # another process was quicker
            _put_in_place(Path(name), path)
    finally:
        Path(name).unlink(missing_ok=True)


def _put_in_place(made: Path, path: Path) -> None:
    try:
        path.hardlink_to(made)
    except FileExistsError:
        raise
    except OSError:  # not every file system can
        made.rename(path)


def _look_over(db: sqlite3.Connection, path: Path) -> None:
    """Refuse what is not ours, and what is damaged as far as a short look tells."""
    version = int(db.execute("PRAGMA user_version").fetchone()[0])
    tables = {name for (name,) in db.execute(TABLES)}
    if version < 0:
        raise troubles.foreign(path, f"has schema {version}, which no Haze has written")
    if (version > 0 and not tables >= OURS) or (version == 0 and tables):
        raise troubles.foreign(path, "is the database of another program")
    newest = migrations()[-1][0]
    if version > newest:
        raise NewerError(
            f"This database was written by {_writer(db, tables)} (schema {version}); this is Haze "
            f"{__version__}, which knows schema {newest}. Start the newer Haze. Nothing was "
            "changed."
        )
    said = _quick_check(db)
    if said != "ok":
        raise troubles.damaged(path, said)


def _sign(db: sqlite3.Connection) -> None:
    """Note which version writes, where another one did before."""
    with transaction(db):
        db.execute(
            "INSERT INTO written_by (id, version) VALUES (1, ?) ON CONFLICT (id) DO UPDATE "
            "SET version = excluded.version WHERE version <> excluded.version",
            (__version__,),
        )


def _writer(db: sqlite3.Connection, tables: set[str]) -> str:
    """The version that wrote last, as far as the database says."""
    if "written_by" in tables:
        with suppress(sqlite3.Error):
            found = db.execute("SELECT version FROM written_by WHERE id = 1").fetchone()
            if found is not None:
                return f"Haze {found[0]}"
    return "a newer Haze"


def _quick_check(db: sqlite3.Connection) -> str:
    """What is wrong with its pages; "ok" when nothing is, or when there was no time to see all.

    A row that holds what it should not is no damage of the database: it is set aside by whoever
    lists it.
    """
    ends = time.monotonic() + CHECK_S
    db.execute("PRAGMA ignore_check_constraints = ON")
    db.set_progress_handler(lambda: time.monotonic() > ends, OPCODES)
    try:
        return str(db.execute("PRAGMA quick_check(1)").fetchone()[0]).replace("\n", " ")
    except sqlite3.OperationalError as error:
        if error.sqlite_errorcode != sqlite3.SQLITE_INTERRUPT:
            raise
        return "ok"
    finally:
        db.set_progress_handler(None, 0)
        db.execute("PRAGMA ignore_check_constraints = OFF")


def migrations() -> list[tuple[int, str]]:
    """Numbered migrations shipped with the program, in order."""
    folder = resources.files("haze.store") / "migrations"
    found = [
        (int(entry.name[:4]), entry.read_text("utf-8"))
        for entry in folder.iterdir()
        if re.fullmatch(r"\d{4}\.sql", entry.name)
    ]
    return sorted(found)


def migrate(db: sqlite3.Connection, path: Path) -> None:
    """Bring a database up step by step, each with a backup before it and whole or not at all."""
    for number, script in migrations():
        have = int(db.execute("PRAGMA user_version").fetchone()[0])
        if number <= have:
            continue
        if have:
            copy(db, path.with_suffix(f".before-{number:04}{path.suffix}"))
        _step(db, number, script)


def up_to_date(path: Path, room: Path) -> Path:
    """A database as this program's schema has it: itself, or of an older one a copy in `room`.

    Raises
    ------
    StoreError, sqlite3.DatabaseError : when it cannot be brought up
    """
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as db:
        have = int(db.execute("PRAGMA user_version").fetchone()[0])
        steps = [(number, script) for number, script in migrations() if number > have > 0]
        if not steps:
            return path
        target = room / path.name
        copy(db, target)
    with closing(sqlite3.connect(target, isolation_level=None)) as held:
        for number, script in steps:
            _step(held, number, script)
    return target


def _step(db: sqlite3.Connection, number: int, script: str) -> None:
    # a table that others refer to can only be rebuilt while references are not enforced
    db.execute("PRAGMA foreign_keys = OFF")
    with transaction(db):
        # another process may have migrated while this one waited for the lock
        if int(db.execute("PRAGMA user_version").fetchone()[0]) >= number:
            return
        lost = _lost_references(db)
        for statement in statements(script):
            db.execute(statement)
        # a row that led nowhere before is set aside by whoever lists it; a step adds none
        if _lost_references(db) > lost:
            raise StoreError(
                f"Step {number:04} would leave references that lead nowhere; it was not made. "
                "Nothing was changed."
            )
        db.execute(f"PRAGMA user_version = {number}")
    db.execute("PRAGMA foreign_keys = ON")


def _lost_references(db: sqlite3.Connection) -> int:
    return len(db.execute("PRAGMA foreign_key_check").fetchall())


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


def copy(db: sqlite3.Connection, target: Path) -> None:
    """One consistent copy of a database in use; whole, or not there."""
    part = target.with_name(f"{target.name}.part")
    part.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(part)) as out:
            db.backup(out)
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
