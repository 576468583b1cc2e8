"""Dates, moments and minutes as they travel and are stored: real ones, in years people paint in.

A pattern alone takes 31 February and digits of other scripts; what is taken here can always be
counted with.
"""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import AfterValidator, Field, StringConstraints

FIRST_YEAR, LAST_YEAR = 1970, 2199
MOST_MINUTES = 366 * 24 * 60.0  # a year
YEARS = f"a real date of the years {FIRST_YEAR} to {LAST_YEAR}"


def _real(kind: type[date] | type[datetime], example: str) -> AfterValidator:
    """Refuses what no calendar has, and years nobody paints in."""

    def check(text: str) -> str:
        try:
            year = kind.fromisoformat(text).year
        except ValueError:
            raise ValueError(f"accepted is {YEARS}, as {example}") from None
        if not FIRST_YEAR <= year <= LAST_YEAR:
            raise ValueError(f"accepted is {YEARS}")
        return text

    return AfterValidator(check)


# a day on the painter's own clock
Date = Annotated[
    str, StringConstraints(pattern=r"^[0-9]{4}-[0-9]{2}-[0-9]{2}$"), _real(date, "2026-11-28")
]
_MOMENT = _real(datetime, "2026-11-28T13:00:00Z")
_TIME = r"^[0-9]{4}-[0-9]{2}-[0-9]{2}T[0-9]{2}:[0-9]{2}:[0-9]{2}(\.[0-9]{1,6})?"
# a moment in UTC, as a browser writes it
PressedAt = Annotated[str, StringConstraints(pattern=_TIME + "Z$"), _MOMENT]
# a moment in UTC, as a browser or the database writes it
Moment = Annotated[str, StringConstraints(pattern=_TIME + r"(Z|\+00:00)$"), _MOMENT]
# minutes from the start of a day [min]; something pressed before it is less than 0
Minute = Annotated[float, Field(ge=-MOST_MINUTES, le=MOST_MINUTES)]
