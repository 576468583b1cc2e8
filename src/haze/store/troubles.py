"""What keeps the data folder from being used: what it is, that the data is safe, what to do."""

from __future__ import annotations

import errno
import shutil
import sqlite3
from pathlib import Path

from haze.core.errors import HazeError

SCARCE_BYTES = 2**20  # a disk with less is as good as full
FULL = (errno.ENOSPC, errno.EDQUOT)
FORBIDDEN = (errno.EACCES, errno.EPERM, errno.EROFS)
OF_THE_DISK = (*FULL, *FORBIDDEN)
SAFE = "What was saved is safe; this was not saved."


class StoreError(HazeError):
    """The data folder cannot be used as it is."""

    code = "store"


class DiskFullError(StoreError):
    """No room is left where the data lies."""

    code = "disk_full"


class ReadOnlyError(StoreError):
    """Haze may not write where the data lies."""

    code = "read_only"


class BusyError(StoreError):
    """Another program holds the database."""

    code = "busy"


class DamagedError(StoreError):
    """The database has damaged pages."""

    code = "damaged"


class DiskError(StoreError):
    """The disk did not do what was asked of it."""

    code = "disk"


class NotHazeError(StoreError):
    """A file under Haze's name that Haze did not write."""

    code = "not_haze"


class NewerError(StoreError):
    """A database of a newer Haze."""

    code = "newer"


class InUseError(StoreError):
    """Another Haze serves this folder."""

    code = "in_use"


def full_disk(folder: Path) -> DiskFullError:
    """No room is left."""
    return DiskFullError(f"The disk that holds {folder} is full. {SAFE} Make room, then try again.")


def read_only(folder: Path) -> ReadOnlyError:
    """Nothing may be written."""
    return ReadOnlyError(
        f"Haze may not write in {folder}. What is in it is safe, and nothing was changed. Allow "
        "writing there, or give another folder with --data."
    )


def in_use(folder: Path) -> InUseError:
    """Another server holds the folder."""
    return InUseError(
        f"Another Haze serves {folder} already. Use that one, or give another folder with --data."
    )


def damaged(path: Path, detail: str) -> DamagedError:
    """Damaged pages; `detail` is what the database says of them."""
    return DamagedError(
        f"{path.name} in {path.parent} is damaged ({detail[:100]}). Stop Haze and keep a copy of "
        f"the folder before anything else. {_backups(path)}"
    )


def empty_file(path: Path) -> NotHazeError:
    """A file of no bytes."""
    return NotHazeError(
        f"{path.name} in {path.parent} is empty, so what it held is not in it. Nothing was "
        f"changed. {_backups(path)} To start afresh, give another folder with --data."
    )


def foreign(path: Path, what: str) -> NotHazeError:
    """A file Haze did not write; `what` says what it is."""
    return NotHazeError(
        f"{path.name} in {path.parent} {what}. Nothing was changed. If it was Haze's, it is "
        f"damaged: keep a copy. {_backups(path)} Otherwise give another folder with --data."
    )


def _backups(path: Path) -> str:
    found = sorted(path.parent.glob(f"{path.stem}.*{path.suffix}"))
    if not found:
        return "No backup lies beside it."
    return f"Backups beside it, to be put in its place: {', '.join(p.name for p in found)}."


def of_database(error: sqlite3.Error, path: Path) -> StoreError | None:
    """What an error of the database means for the painter; None when it is none of the folder's.

    Parameters
    ----------
    error : as the database raised it
    path : the database's file
    """
    code = (getattr(error, "sqlite_errorcode", None) or 0) & 0xFF
    folder = path.parent
    if code == sqlite3.SQLITE_FULL:
        return full_disk(folder)
    if code in (sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN) and _scarce(folder):
        return full_disk(folder)
    if code in (sqlite3.SQLITE_READONLY, sqlite3.SQLITE_CANTOPEN, sqlite3.SQLITE_PERM):
        return read_only(folder)
    if code in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED):
        return BusyError(
            f"Another program has held {path.name} for too long. {SAFE} Close what uses it, then "
            "try again."
        )
    if code == sqlite3.SQLITE_NOTADB:
        return foreign(path, "does not begin as a database does")
    if code == sqlite3.SQLITE_CORRUPT:
        return damaged(path, str(error))
    if code == sqlite3.SQLITE_IOERR:
        return DiskError(f"The disk that holds {folder} reports a fault ({error}). {SAFE}")
    return None


def of_files(error: OSError, folder: Path) -> StoreError:
    """What an error of the file system means for the painter.

    Parameters
    ----------
    error : as the system raised it
    folder : where Haze wanted to write
    """
    if error.errno in FULL:
        return full_disk(folder)
    if error.errno in (errno.EEXIST, errno.ENOTDIR):
        return NotHazeError(
            f"{folder} is a file, or lies in one; give a folder with --data. Nothing was changed."
        )
    if error.errno in FORBIDDEN:
        return read_only(folder)
    return DiskError(f"{folder} cannot be used: {error.strerror}. Nothing was changed.")


def _scarce(folder: Path) -> bool:
    try:
        return shutil.disk_usage(folder).free < SCARCE_BYTES
    except OSError:
        return False
