"""Where a plan stands: what it asks of the hands, and what is to mind first."""

from __future__ import annotations

from pathlib import Path

from pydantic import ValidationError

from haze.core.plan.document import Plan
from haze.service.piece.files import cached_as, write_whole
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.findings import look_over
from haze.service.plan.plans import PlanSummary, Stands
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


def _path(one: PlanSummary, folder: Path, taught: str) -> Path:
    what = f"{one.id} {one.version} {one.updated_at} {taught}"
    return cached_as(folder, what, "stands.json")


def known_stands(one: PlanSummary, folder: Path, *, taught: str) -> Stands | None:
    """Where a plan stands as it was found before; None when it was not.

    Parameters
    ----------
    one : the plan as it is listed
    folder : the cache folder
    taught : fingerprint of the trials that count
    """
    try:
        return Stands.model_validate_json(_path(one, folder, taught).read_bytes())
    except (FileNotFoundError, ValidationError):
        return None


def keep_stands(one: PlanSummary, found: Stands, folder: Path, *, taught: str) -> None:
    """Keep where a plan stands for the next start.

    Parameters
    ----------
    one : the plan as it is listed
    found : where it stands
    folder : the cache folder
    taught : fingerprint of the trials that count
    """
    write_whole(
        _path(one, folder, taught), lambda file: file.write(found.model_dump_json().encode())
    )
