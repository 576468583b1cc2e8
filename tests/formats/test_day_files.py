"""Calendar and table of a day, read back by what reads such files."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime

from icalendar import Calendar

from haze.formats.day_files import CalendarLine, calendar_file, day_table

BEGIN = datetime(2026, 11, 28, 14, 0)
LINES = [
    CalendarLine("a", BEGIN, BEGIN.replace(minute=6), "Cautions, mask; extraction on"),
    CalendarLine(
        "b", BEGIN.replace(minute=6), BEGIN.replace(minute=30), "=Tern White\nsix", "left", 1
    ),
    CalendarLine("c", BEGIN.replace(minute=30), BEGIN.replace(minute=30), "nothing"),
]


def test_a_calendar_reads_back_as_it_was_written() -> None:
    made = calendar_file("The Spring Tide", LINES, made=datetime(2026, 11, 27, tzinfo=UTC))
    events = list(Calendar.from_ical(made).walk("VEVENT"))
    assert [str(e["summary"]) for e in events] == [line.words for line in LINES[:2]]
    assert events[0]["dtstart"].dt == BEGIN  # on the clock of whoever opens it
    assert events[1]["dtend"].dt == BEGIN.replace(minute=30)
    assert str(events[0]["uid"]) == "a@haze"
    assert str(events[1]["description"]) == "left"
    assert all(len(line) <= 75 for line in made.split(b"\r\n"))


def test_a_table_reads_back_and_holds_no_formula() -> None:
    rows = list(csv.DictReader(io.StringIO(day_table(LINES), newline="")))
    assert [r["minutes"] for r in rows] == ["6.0", "24.0", "0.0"]
    assert rows[1]["what"] == "'=Tern White\nsix"
    assert (rows[0]["day"], rows[0]["from"], rows[0]["airbrush"]) == ("2026-11-28", "14:00", "")
