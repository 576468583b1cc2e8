"""Dates and moments are real ones."""

from __future__ import annotations

import pytest
from pydantic import TypeAdapter, ValidationError

from haze.service.forms.moments import MOST_MINUTES, Date, Minute, Moment, PressedAt

DATE, MOMENT, PRESSED = TypeAdapter(Date), TypeAdapter(Moment), TypeAdapter(PressedAt)


@pytest.mark.parametrize("text", ["1970-01-01", "2199-12-31", "2024-02-29", "2026-12-01"])
def test_real_dates_are_taken(text: str) -> None:
    assert DATE.validate_python(text) == text


@pytest.mark.parametrize(
    "text",
    ["2026-02-31", "2026-02-29", "0000-01-01", "1969-12-31", "2200-01-01", "2026-13-01",
     "2026-1-1", "20261201", "\u0662\u0660\u0662\u0666-12-01", "2026-12-01\n", "", "2026-W49-2"],
)  # fmt: skip
def test_what_is_no_date_is_refused(text: str) -> None:
    with pytest.raises(ValidationError):
        DATE.validate_python(text)


@pytest.mark.parametrize(
    "text", ["2026-12-01T10:00:00Z", "2026-12-01T23:59:59.999Z", "2199-12-31T23:59:59.123456Z"]
)
def test_real_moments_are_taken(text: str) -> None:
    assert MOMENT.validate_python(text) == text
    assert PRESSED.validate_python(text) == text


@pytest.mark.parametrize(
    "text",
    ["2026-99-99T99:99:99Z", "2026-12-01T24:01:00Z", "2026-12-01T10:60:00Z", "2026-12-01",
     "2026-12-01T10:00:00", "2200-01-01T00:00:00Z", "2026-12-01T10:00:00+01:00",
     "2026-12-01T\u0661\u0660:00:00Z"],
)  # fmt: skip
def test_what_is_no_moment_is_refused(text: str) -> None:
    for kind in (MOMENT, PRESSED):
        with pytest.raises(ValidationError):
            kind.validate_python(text)


def test_only_the_database_writes_an_offset() -> None:
    text = "2026-12-01T10:00:00.000+00:00"
    assert MOMENT.validate_python(text) == text
    with pytest.raises(ValidationError):
        PRESSED.validate_python(text)


@pytest.mark.parametrize("minute", [MOST_MINUTES, -MOST_MINUTES, 0.5])
def test_minutes_lie_within_a_year(minute: float) -> None:
    kind = TypeAdapter(Minute)
    assert kind.validate_python(minute) == minute
    with pytest.raises(ValidationError):
        kind.validate_python(minute + 2 * MOST_MINUTES + 1)
