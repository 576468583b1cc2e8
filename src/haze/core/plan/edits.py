"""Small changes of a plan: a step put in, replaced, moved; ids that are free; what lies under it.

Each is a pure function from a plan to a plan.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil

from haze.core.errors import NotInPlanError, NotSprayedError
from haze.core.film.finish import nearest_finish
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.spray.constants import Surface

MOST_ROUNDS = 60  # a hand goes round no more often
NEARLY = 0.25  # of a round: less than that is not gone once more


def index_of(plan: Plan, step: str) -> int:
    """Place of a step in its plan, from 0.

    Parameters
    ----------
    plan : the plan
    step : its id

    Raises
    ------
    NotInPlanError
    """
    for i, one in enumerate(plan.coats):
        if one.id == step:
            return i
    raise NotInPlanError(f"The plan has no step {step!r}.", field="step")


def coat_at(plan: Plan, step: str) -> tuple[int, Coat]:
    """Place of a sprayed coat, and the coat.

    Parameters
    ----------
    plan : the plan
    step : its id

    Raises
    ------
    NotInPlanError; NotSprayedError when it is done by hand
    """
    at = index_of(plan, step)
    coat = plan.coats[at]
    if coat.kind != "spray":
        raise NotSprayedError(
            f"{coat.name} is done by hand; this change is for a sprayed coat.", field="step"
        )
    return at, coat


def with_steps(plan: Plan, steps: Sequence[Coat | HandStep]) -> Plan:
    """The plan with other steps.

    Parameters
    ----------
    plan : the plan
    steps : all of them, in order
    """
    return plan.model_copy(update={"coats": list(steps)})


def with_rounds(coat: Coat, more: float) -> Coat:
    """A coat with so many times its rounds from every side, one at least; rather one too many.

    Parameters
    ----------
    coat : swept or aimed
    more : float, times
    """

    def times(rounds: int) -> int:
        return int(min(max(ceil(rounds * more - NEARLY), 1), MOST_ROUNDS))

    if coat.aim:
        aim = coat.aim.model_copy(update={"passes": times(coat.aim.passes)})
        return coat.model_copy(update={"aim": aim})
    stations = [s.model_copy(update={"passes": times(s.passes)}) for s in coat.stations]
    return coat.model_copy(update={"stations": stations})


def inserted(plan: Plan, at: int, step: Coat | HandStep) -> Plan:
    """The plan with one more step.

    Parameters
    ----------
    plan : the plan
    at : place of the new step, from 0
    step : the step
    """
    return with_steps(plan, [*plan.coats[:at], step, *plan.coats[at:]])


def replaced(plan: Plan, at: int, step: Coat | HandStep) -> Plan:
    """The plan with a step in the place of another.

    Parameters
    ----------
    plan : the plan
    at : place, from 0
    step : the new step
    """
    return with_steps(plan, [*plan.coats[:at], step, *plan.coats[at + 1 :]])


def moved(plan: Plan, at: int, to: int) -> Plan:
    """The plan with a step moved.

    Parameters
    ----------
    plan : the plan
    at : its place now, from 0
    to : its place afterwards, from 0
    """
    steps = [*plan.coats[:at], *plan.coats[at + 1 :]]
    steps.insert(to, plan.coats[at])
    return with_steps(plan, steps)


def fresh_id(plan: Plan, stem: str) -> str:
    """A step id that the plan does not use yet.

    Parameters
    ----------
    plan : the plan
    stem : what it begins with
    """
    taken = {s.id for s in plan.coats}
    n = 1
    while f"{stem}-{n}" in taken:
        n += 1
    return f"{stem}-{n}"


def ground_under(plan: Plan, place: int) -> str:
    """ "#rrggbb" of what lies under a place of the plan: its last coat that hides, or bare surface.

    Tints, washes and varnishes change it too little to draft by; what they do is seen on the piece.

    Parameters
    ----------
    plan : the plan
    place : int, how many steps lie below
    """
    for under in reversed(plan.coats[: max(place, 0)]):
        if under.kind == "spray" and not under.off and under.mix.hides:
            return under.mix.hex
    return plan.piece.surface


def surface_under(plan: Plan, place: int) -> Surface:
    """How rough it is under a place of the plan: its last sprayed coat, or the bare piece.

    Plaster and cork drink like a matt coat.

    Parameters
    ----------
    plan : the plan
    place : int, how many steps lie below
    """
    for under in reversed(plan.coats[: max(place, 0)]):
        if under.kind == "spray" and not under.off:
            finish = nearest_finish(under.optics.surface)
            return "matt" if finish == "ultra_matt" else finish
    return "matt" if plan.piece.groundwork in ("plaster", "cork") else "bare"
