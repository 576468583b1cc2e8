"""What README and CONTRIBUTING name as a command starts."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

from helpers import WAIT_S

ROOT = Path(__file__).parents[2]


@pytest.mark.parametrize(
    ("script", "said"),
    [
        (["tests/bench/bench.py", "--quick"], "film, ten coats"),
        (["tests/soak/soak.py", "--help"], "--small"),
    ],
)
def test_a_command_starts(script: list[str], said: str) -> None:
    ran = subprocess.run(
        [sys.executable, *script], cwd=ROOT, capture_output=True, text=True, timeout=WAIT_S
    )
    assert ran.returncode == 0, ran.stderr
    assert said in ran.stdout


@pytest.mark.parametrize("module", ["cards", "outlines", "fit_outcome"])
def test_a_bench_of_cards_can_be_loaded(module: str) -> None:
    code = f"import sys; sys.path[:0] = ['tools']; import bench.{module}"
    ran = subprocess.run(
        [sys.executable, "-c", code],
        cwd=ROOT / "tests",
        capture_output=True,
        text=True,
        timeout=WAIT_S,
    )
    assert ran.returncode == 0, ran.stderr
