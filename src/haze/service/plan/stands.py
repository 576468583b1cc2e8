"""Where a plan stands: what it asks of the hands, and what is to mind first."""

from __future__ import annotations

from haze.core.plan.document import Plan
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.plans import Stands
from haze.service.plan.whole import worked_out


def stands_of(plan: Plan, on: OnPiece) -> Stands:
    """Where a plan stands.

    Parameters
    ----------
    plan : with its coats
    on : its piece
    """
    work, found = worked_out(plan, on), look_over(plan, on).findings
    names = {step.id: step.name for step in plan.done}
    cups = [c for c in work.coats if c.id in names and c.spray.verdict != "clean"]
    first = found[0].what if found else None
    if first is None and cups:
        first = f"{names[cups[0].id]} does not spray clean as it is set."
    return Stands(hands=work.totals.hands, to_mind=len(found) + len(cups), first=first)
