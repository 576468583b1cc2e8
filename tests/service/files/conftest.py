"""Another folder, to take files in."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from haze.service.bench import Bench
from helpers import coarse


@pytest.fixture
def other(tmp_path: Path) -> Iterator[Bench]:
    """A wiped folder: nothing but the starter shelf."""
    held = coarse(tmp_path / "other")
    yield held
    held.close()
