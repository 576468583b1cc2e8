"""How a step at the booth is named: written, read and checked in one place.

`wardens.coat-2.0.1:hold.left` is a step of a stretch: of plan `wardens` the step `coat-2`, of the
tasks it has the first (0), from copy 1 on; what is done there is `hold.left`. `day-0:open` is of no
plan: it opens the first day.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated

from pydantic import AfterValidator, StringConstraints

IDENTITY = r"[A-Za-z0-9_-]{1,64}"
STRETCH = re.compile(rf"({IDENTITY})\.({IDENTITY})\.([0-9]{{1,2}})\.([0-9]{{1,3}})")
SITTING = re.compile(r"day-([0-9]{1,3})")
WHAT = re.compile(rf"clean|cup|trial|dry|check|hand|hold\.{IDENTITY}(\.[0-9]{{1,3}})?")
OF_A_SITTING = ("open", "close")
LONGEST = 300


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of the day: a task of a step of a plan, on the copies from one on."""

    plan: str
    step: str
    part: int
    copy_from: int

    def __str__(self) -> str:
        return f"{self.plan}.{self.step}.{self.part}.{self.copy_from}"


@dataclass(frozen=True, slots=True)
class StepId:
    """A step at the booth: of a stretch, or of a whole sitting when `stretch` is None."""

    stretch: Stretch | None
    what: str
    sitting: int = 0

    @property
    def entry(self) -> str:
        """The name of the stretch, or the sitting, it belongs to."""
        return f"day-{self.sitting}" if self.stretch is None else str(self.stretch)

    @property
    def plan(self) -> str | None:
        """The plan it belongs to; None of a sitting."""
        return None if self.stretch is None else self.stretch.plan

    def __str__(self) -> str:
        return f"{self.entry}:{self.what}"


def parse(text: str) -> StepId:
    """The step a text names.

    Raises
    ------
    ValueError : when it names none
    """
    entry, _, what = text.partition(":")
    sitting = SITTING.fullmatch(entry)
    if sitting and what in OF_A_SITTING:
        return StepId(None, what, int(sitting[1]))
    stretch = STRETCH.fullmatch(entry)
    if not stretch or not WHAT.fullmatch(what):
        raise ValueError("this names no step of a booth, as plan.step.0.1:check does")
    plan, step, part, copy_from = stretch.groups()
    return StepId(Stretch(plan, step, int(part), int(copy_from)), what)


def _named(text: str) -> str:
    return str(parse(text))


# a step as it travels and is stored
StepText = Annotated[str, StringConstraints(max_length=LONGEST), AfterValidator(_named)]
