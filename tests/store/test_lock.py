"""One server to a data folder."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest

from haze.store import lock
from haze.store.troubles import InUseError, NotHazeError

HOLDER = """
import sys, time
from pathlib import Path
from haze.store import lock
with lock.held(Path(sys.argv[1])):
    print("held", flush=True)
    time.sleep(600)
"""


def test_a_second_is_refused_until_the_first_lets_go(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    with lock.held(folder), pytest.raises(InUseError, match="Another Haze"), lock.held(folder):
        pass
    with lock.held(folder):
        pass


def test_a_killed_process_holds_nothing(tmp_path: Path) -> None:
    command = [sys.executable, "-c", HOLDER, str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as child:
        assert child.stdout is not None
        assert child.stdout.readline() == "held\n"
        with pytest.raises(InUseError), lock.held(tmp_path):
            pass
        child.kill()
        child.wait()
    with lock.held(tmp_path):
        pass


def test_a_folder_that_is_a_file_is_told(tmp_path: Path) -> None:
    (tmp_path / "data").write_text("a note")
    with pytest.raises(NotHazeError), lock.held(tmp_path / "data"):
        pass
