"""A day as it is asked for and as it was laid: what is stored, and what the screens send."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from haze.core.day.schedule.problem import Calendar
from haze.core.plan.base import Identity, Strict, require_single
from haze.service.day.asked import Clock, EntryOut, minutes_of
from haze.service.forms.moments import Date
from haze.service.forms.wire import Kept

MOST_PLANS = 12
MOST_WISHES = 200
OPEN_MIN = 6.0  # cautions read, mask and gloves on, extraction running (judged)
CLOSE_MIN = 9.0  # thorough clean, drain the tank, unplug (judged)
MIDNIGHT = 24 * 60.0
PINNED_MIN = 5.0  # a pinned step begins at most so much later
Place = Annotated[float, Field(ge=0, le=200_000)]


class Wish(Strict):
    """Where the painter wants a step: at a moment of the day, or not before one.

    `at_min` counts from the start of the first day; `copy_from` is the first copy of its group,
    `part` tells the tasks of one step apart.
    """

    plan: Identity
    step: Identity
    part: int = Field(default=0, ge=0, le=5)
    copy_from: int = Field(default=1, ge=1, le=200)
    kind: Literal["pinned", "later"]
    at_min: Place


class Pause(Strict):
    """A break, every day alike."""

    begin: Clock
    end: Clock

    @model_validator(mode="after")
    def _is_forward(self) -> Pause:
        if minutes_of(self.begin) >= minutes_of(self.end):
            raise ValueError("a break begins before it ends")
        return self


class DayDoc(Strict):
    """What is asked of a day; times are those on the painter's own clock.

    Without a stop the bench closes at midnight.
    """

    date: Date
    start: Clock = "14:00"
    stop: Clock | None = "21:00"
    breaks: Annotated[list[Pause], Field(max_length=10)] = Field(default=[])
    airbrushes: int = Field(default=1, ge=1, le=2)
    plans: Annotated[list[Identity], Field(min_length=1, max_length=MOST_PLANS)]
    wishes: Annotated[list[Wish], Field(max_length=MOST_WISHES)] = Field(default=[])

    @model_validator(mode="after")
    def _is_one_day(self) -> DayDoc:
        require_single(self.plans, "plans")
        if self.stop is not None and minutes_of(self.stop) <= minutes_of(self.start):
            raise ValueError("the day starts before it stops")
        return self

    @property
    def calendar(self) -> Calendar:
        """Working time between opening and closing the bench."""
        stop = MIDNIGHT if self.stop is None else minutes_of(self.stop)
        return Calendar(
            minutes_of(self.start) + OPEN_MIN,
            max(stop - CLOSE_MIN, minutes_of(self.start) + OPEN_MIN),
            tuple((minutes_of(b.begin), minutes_of(b.end)) for b in self.breaks),
            cleaned=True,
        )


class LaneView(Kept):
    """A group of copies of a plan: its strand. `colours` are what lies on it after each step."""

    plan: str
    name: str  # of the piece, and which copies
    piece: str
    which: str  # copies, empty for all of them
    copy_from: int
    copies: int
    segments: list[Segment]


class Segment(Kept):
    """What lies on a group of copies for a while: its colour, and whether it is wet."""

    from_min: float
    to_min: float
    colour: str
    state: Literal["bare", "worked", "wet", "ready"]


class Row(Kept):
    """One thing the hands do, or do not do.

    `plan`, `step`, `part` and `copies_from` (the first copy of each group in turn) name what is
    worked on; `wish` what the painter wants.
    """

    kind: Literal["open", "clean", "work", "free", "break", "close"]
    day: int
    from_min: float
    to_min: float
    words: str
    small: str = ""
    colour: str | None = None
    lane: int | None = None
    plan: str | None = None
    step: str | None = None
    part: int = 0
    copies_from: list[int] = Field(default=[])
    airbrush: int | None = None
    wish: Literal["pinned", "later"] | None = None
    ready_min: float | None = None  # when the next step may begin on all of it; null after the last


class Figures(Kept):
    """A laid day in numbers [min]; the usual ways are null where a latest time breaks them."""

    total_min: float
    finish_min: float
    hands_min: float
    idle_min: float
    bound_min: float
    one_by_one_min: float | None
    coat_by_coat_min: float | None
    changes: int
    deep_cleans: int
    days: int
    coats: int
    copies: int
    moved: int | None = None  # neighbours that were turned round since it was laid before


class Drawn(Kept):
    """A planned day with all that is shown of it; `plans` are the versions it was laid from."""

    version: int
    plans: dict[str, int]
    entries: list[EntryOut]
    rows: list[Row]
    lanes: list[LaneView]
    figures: Figures
    overnight: list[str]
    shared: list[str]
    notes: list[str]


LaneView.model_rebuild()
