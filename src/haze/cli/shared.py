"""What several commands share: their input, their answers, the data folder."""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any, Protocol, TypeVar

from pydantic import BaseModel, ValidationError

from haze.core.errors import BadInputError
from haze.formats.meshes import MOST_BYTES

M = TypeVar("M", bound=BaseModel)
Run = Callable[[argparse.Namespace], None]


class Command(Protocol):
    """Adds a command: its name, what it does in a line, and what runs it."""

    def __call__(self, name: str, text: str, run: Run) -> argparse.ArgumentParser: ...


def data_folder() -> Path:
    """The user's data folder by the platform's habit."""
    base = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Path(base) / "haze"


def read_text(path: str | None) -> str:
    try:
        return Path(path).read_text("utf-8") if path else sys.stdin.read()
    except (OSError, UnicodeDecodeError) as error:
        raise BadInputError(f"{path or 'standard input'} cannot be read: {error}.") from error


def parsed(model: type[M], text: str) -> M:
    try:
        return model.model_validate_json(text)
    except ValidationError as error:
        raise BadInputError(sentence(error)) from error


def sentence(error: ValidationError) -> str:
    """The first wrong field: its name, what was given, what is accepted."""
    first = error.errors(include_url=False)[0]
    field = ".".join(str(part) for part in first["loc"]) or "input"
    given = first.get("input")
    shown = "" if isinstance(given, dict | list) else f" is {json.dumps(given, default=str)[:80]}"
    return f"{field}{shown}: {first['msg']}."


def write_json(result: BaseModel) -> None:
    json.dump(result.model_dump(by_alias=True), sys.stdout, indent=2, ensure_ascii=False)
    sys.stdout.write("\n")


def open_bench(args: argparse.Namespace, *, made: bool = False) -> Any:
    """The bench of a data folder that is there; with `made`, of one that is made when it is not."""
    from haze.service.bench import Bench
    from haze.store.connection import FILE_NAME

    folder = Path(args.data) if args.data else data_folder()
    if not made and not (folder / FILE_NAME).exists():
        raise BadInputError(f"{folder} holds no data of Haze; give its data folder with --data.")
    return Bench(folder)


def write_whole(target: Path, write: Callable[[Any], object]) -> None:
    """A file written whole, in the place of an older one, or not at all."""
    part = target.with_name(f"{target.name}.part")
    try:
        with part.open("wb") as file:
            write(file)
        part.replace(target)
    except OSError as error:
        raise BadInputError(f"{target} cannot be written: {error.strerror}.") from error
    finally:
        part.unlink(missing_ok=True)
    print(f"{target} ({target.stat().st_size / 2**20:.1f} MiB)")


def show_progress(done: float) -> bool:
    if sys.stderr.isatty():
        sys.stderr.write(f"\r{done:4.0%} worked out")
        sys.stderr.flush()
    return True


def read_mesh_file(mesh: str) -> tuple[bytes, str]:
    path = Path(mesh)
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BadInputError(
                f"{path.name} has {path.stat().st_size / 2**20:.0f} MiB; "
                f"at most {MOST_BYTES // 2**20} are accepted."
            )
        return path.read_bytes(), path.name
    except OSError as error:
        raise BadInputError(f"{path} cannot be read: {error.strerror}.") from error
