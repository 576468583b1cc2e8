"""Files of the cache folder: whole or not there."""

from __future__ import annotations

import hashlib
import logging
import os
import shutil
import stat
import tempfile
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import BinaryIO

PROGRAM = Path(__file__).parents[2]
log = logging.getLogger(__name__)


@cache
def made_by() -> str:
    """What the program computes by, as a fingerprint: what was made by another is stale."""
    found = hashlib.sha256()
    for path in sorted(PROGRAM.rglob("*.py")):
        found.update(path.read_bytes())
    return found.hexdigest()


def cached_as(folder: Path, what: str, ending: str) -> Path:
    """Where something made by this program of `what` is kept in the cache folder."""
    name = hashlib.sha256(f"{made_by()} {what}".encode()).hexdigest()
    return folder / f"{name}.{ending}"


def used(path: Path) -> None:
    """Note that a file is wanted, so that others go before it."""
    with suppress(OSError):
        os.utime(path)


def prune(folder: Path, most_bytes: int) -> int:
    """Delete the files used longest ago until the rest fits; how many went.

    Parameters
    ----------
    folder : whose files can all be made again
    most_bytes : int, what may stay
    """
    held = []
    for path in folder.glob("*"):
        with suppress(OSError):  # another thread may have deleted it
            about = path.stat()
            if stat.S_ISREG(about.st_mode):
                held.append((about.st_mtime, about.st_size, path))
    over = sum(size for _, size, _ in held) - most_bytes
    gone = 0
    for _, size, path in sorted(held):
        if over <= 0:
            break
        with suppress(OSError):
            path.unlink(missing_ok=True)
            over, gone = over - size, gone + 1
    return gone


def write_whole(path: Path, fill: Callable[[BinaryIO], object]) -> None:
    """Write a file that appears whole, or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent, suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file:
            fill(file)
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


def clear_parts(folder: Path) -> None:
    """Clear what was written half when a cut came, files and folders; what cannot be cleared stays.

    Parameters
    ----------
    folder : of the data folder; it need not be there
    """
    for part in folder.glob("*.part"):
        try:
            if part.is_dir() and not part.is_symlink():
                shutil.rmtree(part)
            else:
                part.unlink(missing_ok=True)
        except OSError as error:
            log.warning("%s was left behind by a cut and cannot be cleared: %s", part, error)
