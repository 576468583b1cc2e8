"""A laid day as files: a calendar and a table."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

from haze.core.errors import NothingToDoError
from haze.formats.day_files import CalendarLine, calendar_file, day_table
from haze.service.day.asked import minutes_of
from haze.service.day.days import DayView
from haze.service.day.document import Drawn
from haze.service.forms.records import reading

LISTED = ("open", "work", "clean", "close")


def lines_of(view: DayView) -> list[CalendarLine]:
    """What the hands do, on the painter's own clock; `NothingToDoError` when nothing is laid."""
    if view.laid is None:
        raise NothingToDoError("This day is not planned yet: plan it first.", field="day")
    with reading("day", view.id):
        return list(_lines(view, view.laid))


def _lines(view: DayView, laid: Drawn) -> Iterator[CalendarLine]:
    first = datetime.fromisoformat(view.doc.date) + timedelta(minutes=minutes_of(view.doc.start))
    for n, row in enumerate(laid.rows):
        if row.kind not in LISTED:
            continue
        named = (
            f"{row.plan}-{row.step}-{row.part}-{row.copies_from[0]}"
            if row.step
            else f"{row.kind}{n}"
        )
        yield CalendarLine(
            identity=f"{view.id}-{named}",
            begin=first + timedelta(minutes=round(row.from_min)),
            end=first + timedelta(minutes=round(row.to_min)),
            words=row.words,
            small=row.small,
            airbrush=row.airbrush,
        )


def calendar_of(view: DayView) -> bytes:
    """The day as a calendar file."""
    names = ", ".join(p.name for p in view.plans)
    return calendar_file(names, lines_of(view), made=datetime.now(UTC))


def table_of(view: DayView) -> str:
    """The day as a table."""
    return day_table(lines_of(view))
