"""A laid day for other programs: a calendar file (iCalendar, RFC 5545) and a table (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Calendar, Event

from haze.formats.shelf_csv import as_text

COLUMNS = ("day", "from", "to", "minutes", "what", "how", "airbrush")


@dataclass(frozen=True, slots=True)
class CalendarLine:
    """One stretch of a day on the painter's own clock; `identity` stays when written again."""

    identity: str
    begin: datetime
    end: datetime
    words: str
    small: str = ""
    airbrush: int | None = None


def calendar_file(name: str, lines: Sequence[CalendarLine], *, made: datetime) -> bytes:
    """An iCalendar file with one event a stretch, in local time wherever it is opened.

    Parameters
    ----------
    name : str, of the calendar
    lines : stretches in order; those of no length are left out
    made : when the file is made
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Haze//day//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for line in lines:
        if line.end <= line.begin:
            continue
        event = Event()
        event.add("uid", f"{line.identity}@haze")
        event.add("dtstamp", made.astimezone(UTC))
        event.add("dtstart", line.begin)
        event.add("dtend", line.end)
        event.add("summary", line.words)
        if line.small:
            event.add("description", line.small)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def day_table(lines: Sequence[CalendarLine]) -> str:
    """The day as comma-separated values, a row a stretch.

    Parameters
    ----------
    lines : stretches in order
    """
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(COLUMNS)
    for line in lines:
        minutes = (line.end - line.begin) / timedelta(minutes=1)
        table.writerow(
            (
                line.begin.date().isoformat(),
                line.begin.strftime("%H:%M"),
                line.end.strftime("%H:%M"),
                f"{minutes:.1f}",
                as_text(line.words),
                as_text(line.small),
                line.airbrush or "",
            )
        )
    return out.getvalue()
