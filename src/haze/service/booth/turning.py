"""A knob turned at the booth, in all coats of the day that are sprayed from the same cup."""

from __future__ import annotations

from collections.abc import Sequence

from haze.core.day.tasks import cup_key
from haze.core.errors import NotInPlanError
from haze.core.plan.coat import Coat, SprayAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, with_rounds
from haze.core.plan.knobs import DIALS
from haze.service.booth.pressed import Turned
from haze.service.piece.onpiece import OnPiece


def turned_plans(
    plans: Sequence[tuple[str, Plan, OnPiece]], turned: Sequence[Turned]
) -> list[Plan]:
    """The plans of a day as they are sprayed after knobs were turned.

    Every coat with the same mix, thinning and airbrush is turned with it, in all plans; its rounds
    change so that the film stays what it was.

    Parameters
    ----------
    plans : identity, plan and its piece
    turned : what was turned, the first first
    """
    now = [plan for _, plan, _ in plans]
    for one in turned:
        key = _key_of(plans, now, one)
        if key is None or one.knob not in DIALS:
            continue
        now = [_turned(plan, on, key, one) for plan, (_, _, on) in zip(now, plans, strict=True)]
    return now


def _key_of(
    plans: Sequence[tuple[str, Plan, OnPiece]], now: Sequence[Plan], one: Turned
) -> str | None:
    for (identity, _, _), plan in zip(plans, now, strict=True):
        if identity == one.plan:
            try:
                _, coat = coat_at(plan, one.coat)
            except NotInPlanError:
                return None
            return cup_key(plan, coat)
    return None


def _turned(plan: Plan, on: OnPiece, key: str, one: Turned) -> Plan:
    coats = [
        _coat(plan, c, on, one) if c.kind == "spray" and cup_key(plan, c) == key else c
        for c in plan.coats
    ]
    return plan.model_copy(update={"coats": coats})


def _coat(plan: Plan, coat: Coat, on: OnPiece, one: Turned) -> Coat:
    dial = DIALS[one.knob]
    to = min(dial.high, max(dial.low, one.to))
    update: dict[str, float | bool] = {one.knob: to}
    if one.knob == "rest_s":
        update["blown"] = True
    after = coat.model_copy(update={"spray": SprayAt(**coat.spray.model_dump() | update)})
    before_um = float(on.outcome(plan, coat).dry_film_um)
    after_um = float(on.outcome(plan, after).dry_film_um)
    if before_um <= 0 or after_um <= 0:
        return after
    return with_rounds(after, before_um / after_um)
