"""The cache folder stays within its size; what is used stays longest."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from haze.service.bench import Bench
from haze.service.piece import cache
from haze.service.piece.files import prune, used, write_whole


def made(folder: Path, name: str, size: int, *, age: float) -> Path:
    path = folder / name
    write_whole(path, lambda file: file.write(b"x" * size))
    os.utime(path, (1e9 - age, 1e9 - age))
    return path


def test_what_was_used_longest_ago_goes_first(tmp_path: Path) -> None:
    old, middle, new = (made(tmp_path, n, 100, age=a) for n, a in (("o", 3), ("m", 2), ("n", 1)))
    assert prune(tmp_path, 300) == 0
    used(old)
    assert prune(tmp_path, 250) == 1
    assert [p.exists() for p in (old, middle, new)] == [True, False, True]
    assert prune(tmp_path, 0) == 2
    assert prune(tmp_path / "nowhere", 0) == 0


def test_at_start_parts_are_cleared_and_the_cache_is_held_to_its_size(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(cache, "MOST_CACHE_BYTES", 150)
    old = made(bench.cache.folder, "old.npy", 100, age=9)
    new = made(bench.cache.folder, "new.npy", 100, age=1)
    bench.incoming.mkdir()
    parts = [bench.folder / "a.part", bench.incoming / "b.part", bench.cache.folder / "c.part"]
    for part in parts:
        part.write_bytes(b"half")
    bench.tidy()
    assert not any(part.exists() for part in parts)
    assert (old.exists(), new.exists()) == (False, True)
    assert bench.db.path.exists()
