"""On which date a press lies, by the painter's own clock."""

from __future__ import annotations

import pytest

from haze.service.booth.sessions import date_of
from haze.service.day.document import DayDoc


@pytest.mark.parametrize(
    ("start", "minute", "date"),
    [
        ("14:00", 0.0, "2026-11-28"),
        ("14:00", 599.9, "2026-11-28"),  # a minute before midnight and a little more
        ("14:00", 600.0, "2026-11-29"),
        ("23:30", 31.0, "2026-11-29"),
        ("00:00", 1439.0, "2026-11-28"),
        ("14:00", 600.0 + 1440.0, "2026-11-30"),
        ("14:00", -900.0, "2026-11-27"),  # pressed before the day was to begin
    ],
)
def test_a_press_past_midnight_belongs_to_the_next_date(
    start: str, minute: float, date: str
) -> None:
    doc = DayDoc(date="2026-11-28", start=start, stop=None, plans=["p"])
    assert date_of(doc, minute) == date
