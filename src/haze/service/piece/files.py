"""Files of the cache folder: whole or not there."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import BinaryIO


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
