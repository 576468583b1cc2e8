"""A day as JSON, for the command line and other programs: lanes, cups, calendar in; a plan out."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import asdict
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints, model_validator

from haze.core.day.schedule.effort import EXACT_SHARE, Effort
from haze.core.day.schedule.planning import plan_day, require_in_time, usual_ways
from haze.core.day.schedule.problem import LIFE_MIN, Calendar, Day, Entry, Lane, Task
from haze.core.plan.base import Strict
from haze.service.forms.wire import Kept

MOST_LANES = 200
MOST_STEPS = 100
MOST_TASKS = 600
MOST_SECONDS = 600.0
MOST_ITERATIONS = 10_000_000
USUAL_SECONDS = 5.0
Clock = Annotated[str, StringConstraints(pattern=r"^([01]?[0-9]|2[0-3]):[0-5][0-9]$|^24:00$")]
Minutes = Annotated[float, Field(ge=0, le=20_000)]


def minutes_of(clock: str) -> float:
    """Minutes from midnight of an "HH:MM"."""
    hours, minutes = clock.split(":")
    return 60.0 * int(hours) + int(minutes)


class StepIn(Strict):
    """One step of a lane; a spray needs its cup's key, a rest takes no hands."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    kind: Literal["spray", "hand", "rest"]
    key: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    light: float = Field(default=50.0, ge=0, le=100)
    metal: bool = False
    sticky: bool = False
    ml_per_copy: float = Field(default=0.0, ge=0, le=500)
    setup_min: float = Field(default=0.0, ge=0, le=240)
    hands_min_per_copy: float = Field(default=0.0, ge=0, le=720)
    dry_min: Minutes = 0.0
    blow_min: Annotated[float, Field(ge=0, le=240)] | None = None
    latest_min: Minutes | None = None
    carry: bool = False
    turns: int = Field(default=1, ge=1, le=60)
    life_min: float = Field(default=LIFE_MIN, ge=1, le=1440)
    chemistry: Annotated[str, Field(max_length=40)] = ""

    @model_validator(mode="after")
    def _is_sound(self) -> StepIn:
        if (self.kind == "spray") != (self.key is not None):
            raise ValueError("a spray needs the key of its cup, and nothing else has one")
        if self.kind == "rest" and (self.hands_min_per_copy or self.setup_min):
            raise ValueError("a rest takes no hands and no set-up")
        if self.kind == "rest" and self.blow_min is not None:
            raise ValueError("a rest is not blown dry")
        return self

    @property
    def task(self) -> Task:
        """The step as the core lays it."""
        return Task(**self.model_dump())


class LaneIn(Strict):
    """A group of copies that goes through its steps together."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    copies: int = Field(default=1, ge=1, le=200)
    steps: Annotated[list[StepIn], Field(min_length=1, max_length=MOST_STEPS)]


class DayIn(Strict):
    """A day: when it starts and stops, who is in it, and how long an order is looked for."""

    start: Clock = "14:00"
    stop: Clock | None = None
    breaks: Annotated[list[tuple[Clock, Clock]], Field(max_length=20)] = Field(default=[])
    airbrushes: int = Field(default=1, ge=1, le=2)
    lanes: Annotated[list[LaneIn], Field(min_length=1, max_length=MOST_LANES)]
    seed: int = Field(default=1, ge=0, le=2**31)
    seconds: Annotated[float, Field(gt=0, le=MOST_SECONDS)] | None = None
    iterations: Annotated[int, Field(ge=1, le=MOST_ITERATIONS)] | None = None

    @model_validator(mode="after")
    def _is_one_day(self) -> DayIn:
        if sum(len(lane.steps) for lane in self.lanes) > MOST_TASKS:
            raise ValueError(f"at most {MOST_TASKS} steps in all lanes together can be planned")
        if any(minutes_of(a) >= minutes_of(b) for a, b in self.breaks):
            raise ValueError("a break begins before it ends")
        if self.seconds is not None and self.iterations is not None:
            raise ValueError("give seconds or iterations, not both")
        return self

    @property
    def day(self) -> Day:
        """The day as the core lays it."""
        return Day(
            tuple(
                Lane(one.name, tuple(s.task for s in one.steps), one.copies) for one in self.lanes
            ),
            Calendar(
                minutes_of(self.start),
                None if self.stop is None else minutes_of(self.stop),
                tuple((minutes_of(a), minutes_of(b)) for a, b in self.breaks),
            ),
            self.airbrushes,
        )

    @property
    def effort(self) -> Effort:
        """How long an order is looked for."""
        if self.iterations is not None:
            return Effort.of_orders(self.iterations)
        return timed(self.seconds if self.seconds is not None else USUAL_SECONDS)


def timed(seconds: float, *, stopped: Callable[[], bool] | None = None) -> Effort:
    """An effort of so much time from now [s]."""
    begun = time.monotonic()
    exact = EXACT_SHARE * seconds
    return Effort(
        lambda _: (time.monotonic() - begun) / seconds,
        exact_seconds=exact,
        stopped=stopped or (lambda: False),
    )


class EntryOut(Kept):
    """A step as it is laid; lane and step count from 0 in the order given, airbrush from 1."""

    lane: int
    step: int
    airbrush: int | None
    start_min: float
    end_min: float
    setup_min: float
    blown: bool
    pours: list[float]

    @classmethod
    def of(cls, entry: Entry) -> EntryOut:
        """An entry as it travels."""
        return cls(**asdict(entry) | {"pours": list(entry.pours)})

    @property
    def entry(self) -> Entry:
        """The entry itself."""
        return Entry(**self.model_dump() | {"pours": tuple(self.pours)})


class DayOut(BaseModel):
    """A laid day; minutes on the clock from the start of the first day.

    `one_by_one_min` and `coat_by_coat_min` are null where a latest time cannot be kept that way.
    """

    entries: list[EntryOut]
    finish_min: float
    changes: int
    hands_min: float
    bound_min: float
    one_by_one_min: float | None
    coat_by_coat_min: float | None
    kept_iterations: int


def laid_out(asked: DayIn) -> DayOut:
    """Lay a day."""
    day = asked.day
    found = plan_day(day, seed=asked.seed, effort=asked.effort)
    require_in_time(day, found)
    usual = usual_ways(day)
    return DayOut(
        entries=[
            EntryOut(
                lane=e.lane,
                step=e.step,
                airbrush=e.airbrush,
                start_min=_round(e.start_min),
                end_min=_round(e.end_min),
                setup_min=_round(e.setup_min),
                blown=e.blown,
                pours=[_round(p) for p in e.pours],
            )
            for e in found.entries
        ],
        finish_min=_round(found.finish_min),
        changes=found.changes,
        hands_min=_round(found.hands_min),
        bound_min=_round(found.bound_min),
        one_by_one_min=_some(usual.one_by_one_min),
        coat_by_coat_min=_some(usual.coat_by_coat_min),
        kept_iterations=found.tried,
    )


def _round(minutes: float) -> float:
    return round(minutes, 6)


def _some(minutes: float | None) -> float | None:
    return None if minutes is None else _round(minutes)
