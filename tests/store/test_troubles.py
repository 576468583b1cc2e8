"""What keeps a data folder from being used is told as what it is; the data is safe."""

from __future__ import annotations

import errno
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from haze.store import settings, troubles
from haze.store.connection import FILE_NAME, Database
from haze.store.troubles import DamagedError, DiskError, DiskFullError, NotHazeError, ReadOnlyError

NOBODY = 65534


@pytest.fixture
def db(tmp_path: Path) -> Iterator[Database]:
    held = Database(tmp_path)
    yield held
    held.close()


def fill(held: Database, *, pages: int) -> None:
    """Leave so many pages until the disk is full."""
    db = held.connection()
    have = int(db.execute("PRAGMA page_count").fetchone()[0])
    db.execute(f"PRAGMA max_page_count = {have + pages}")


def test_a_full_disk_loses_nothing_and_saving_goes_on_when_there_is_room(db: Database) -> None:
    with db.atomic() as tx:
        settings.put(tx, "theme", "before")
    fill(db, pages=2)

    def two_changes() -> None:
        with db.atomic() as tx:
            settings.put(tx, "theme", "during")
            settings.put(tx, "large", "x" * 100_000)

    with pytest.raises(DiskFullError, match="is full") as told:
        two_changes()
    assert "is safe" in told.value.message
    assert "move it away" not in told.value.message
    assert settings.every(db.connection()) == {"theme": "before"}
    assert not db.connection().in_transaction
    fill(db, pages=10_000)
    with db.atomic() as tx:
        settings.put(tx, "large", "x" * 100_000)
    assert len(settings.every(db.connection())["large"]) == 100_000


def as_nobody(work: str, folder: Path) -> str:
    """What opening a database comes to for a user without rights."""
    read, write = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            if os.getuid() == 0:
                os.setgroups([])
                os.setgid(NOBODY)
                os.setuid(NOBODY)
            held = Database(folder)
            with held.atomic() as tx:
                settings.put(tx, "theme", work)
            said = "done"
        except troubles.StoreError as error:
            said = f"{error.code}: {error.message}"
        except BaseException as error:
            said = f"{type(error).__name__}: {error}"
        os.write(write, said.encode())
        os._exit(0)
    os.close(write)
    with os.fdopen(read) as pipe:
        said = pipe.read()
    os.waitpid(child, 0)
    return said


@pytest.mark.parametrize("what", ["folder and file", "file", "empty folder"])
def test_a_folder_one_may_not_write_in_is_called_that(what: str) -> None:
    outer = Path(tempfile.mkdtemp())
    outer.chmod(0o755)
    folder = outer / "data"
    try:
        if what == "empty folder":
            folder.mkdir()
        else:
            Database(folder).close()
            (folder / FILE_NAME).chmod(0o444)
        folder.chmod(0o777 if what == "file" else 0o555)
        said = as_nobody(what, folder)
    finally:
        folder.chmod(0o755)
        shutil.rmtree(outer)
    assert said.startswith("read_only: ")
    assert "is safe" in said
    assert "not a Haze" not in said


def test_damage_found_later_is_told_as_damage_with_the_backups(db: Database) -> None:
    db.backup(db.path.with_name("haze.before-0004.sqlite3"))
    with db.atomic() as tx:
        settings.put(tx, "large", "x" * 100_000)
    db.connection().execute("PRAGMA wal_checkpoint(TRUNCATE)")
    db.close()
    whole = db.path.read_bytes()
    db.path.write_bytes(whole[:8192] + os.urandom(len(whole) - 8192))
    with pytest.raises(sqlite3.DatabaseError) as raw:
        settings.every(db.connection())
    told = db.translated(raw.value)
    assert isinstance(told, DamagedError)
    assert "haze.before-0004.sqlite3" in told.message
    assert "Stop Haze" in told.message


def test_what_is_our_own_fault_is_not_blamed_on_the_disk(db: Database) -> None:
    with pytest.raises(sqlite3.OperationalError), db.atomic() as tx:
        tx.execute("SELECT no_such_thing")
    with pytest.raises(sqlite3.IntegrityError), db.atomic() as tx:
        tx.execute("INSERT INTO setting VALUES (NULL, NULL)")
    missing = FileNotFoundError(errno.ENOENT, "gone")
    assert db.translated(missing) is missing


@pytest.mark.parametrize(
    ("number", "kind"),
    [
        (errno.ENOSPC, DiskFullError),
        (errno.EDQUOT, DiskFullError),
        (errno.EROFS, ReadOnlyError),
        (errno.EACCES, ReadOnlyError),
        (errno.ENOTDIR, NotHazeError),
        (errno.EIO, DiskError),
    ],
)
def test_errors_of_the_file_system_have_words(number: int, kind: type, tmp_path: Path) -> None:
    told = troubles.of_files(OSError(number, os.strerror(number)), tmp_path)
    assert type(told) is kind
    assert str(tmp_path) in told.message


def test_a_disk_without_room_is_full_whatever_the_database_calls_it(
    db: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    error = sqlite3.OperationalError("disk I/O error")
    error.sqlite_errorcode = sqlite3.SQLITE_IOERR_SHMSIZE
    assert isinstance(db.translated(error), DiskError)
    monkeypatch.setattr(troubles, "SCARCE_BYTES", 2**80)
    assert isinstance(db.translated(error), DiskFullError)
