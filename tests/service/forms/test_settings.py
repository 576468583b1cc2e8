"""Settings."""

from __future__ import annotations

import pytest

from haze.core.errors import HazeError
from haze.service.bench import Bench
from haze.service.forms import settings


def test_settings_are_checked(bench: Bench) -> None:
    with pytest.raises(HazeError, match="accepted are psi, bar"):
        settings.write(bench.db, "pressure_unit", "atm")
    with pytest.raises(HazeError, match="There is no setting"):
        settings.write(bench.db, "colour", "blue")
    assert settings.write(bench.db, "pressure_unit", "bar")["pressure_unit"] == "bar"
