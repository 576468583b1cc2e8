"""What a rule is: how it looks at a plan, what it tells, and the one change that mends it.

A rule is a pure function of the plan and of what it does on the piece; it names the step it
concerns. A fix is a pure function from a plan to a plan that changes nothing else; one that needs a
paint takes it from the shelf, and `NothingFitsError` says what is missing there. Thresholds are
judged.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from haze.core.drafting.stock import Stock
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.roles import CLEAR

Sign = Literal["mind", "stop"]
LADDER_TASKS = ("light", "rung")


@dataclass(frozen=True, slots=True)
class Finding:
    """What a rule found: on which step, what and why with its number, and what the fix does."""

    rule: str
    step: str
    sign: Sign
    what: str
    fix: str | None


@dataclass(frozen=True, slots=True)
class Rule:
    """A rule: how it looks at a plan, and how it mends one at a step.

    `look(plan, facts)` is given the plan and what it does at samples of equal area;
    `fix(plan, step, stock)` the plan, the identity of the step, and what the painter owns.
    """

    id: str
    look: Callable[[Plan, Facts], Iterator[Finding]]
    fix: Callable[[Plan, str, Stock], Plan]


def steps_done(plan: Plan) -> Iterator[tuple[int, Coat | HandStep]]:
    """Places and steps, those that are switched off left out.

    Parameters
    ----------
    plan : the plan
    """
    for i, step in enumerate(plan.coats):
        if not step.off:
            yield i, step


def sprayed_done(plan: Plan) -> Iterator[tuple[int, Coat]]:
    """Places and sprayed coats, those that are switched off left out.

    Parameters
    ----------
    plan : the plan
    """
    for i, step in steps_done(plan):
        if step.kind == "spray":
            yield i, step


def before(plan: Plan, index: int) -> list[Coat | HandStep]:
    """The steps below a place, those that are switched off left out.

    Parameters
    ----------
    plan : the plan
    index : the place, from 0
    """
    return [s for s in plan.coats[:index] if not s.off]


def after(plan: Plan, index: int) -> list[Coat | HandStep]:
    """The steps above a place, those that are switched off left out.

    Parameters
    ----------
    plan : the plan
    index : the place, from 0
    """
    return [s for s in plan.coats[index + 1 :] if not s.off]


def is_varnish(step: Coat | HandStep) -> bool:
    """Whether a step lays a clear coat.

    Parameters
    ----------
    step : of a plan
    """
    return step.kind == "spray" and step.task in CLEAR
