"""What paints, airbrushes and plans of a file are called where it is taken in."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TypeVar

from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.paint import AirbrushUsed, PaintUsed
from haze.service.cards.cards import CardBody
from haze.service.cups.trials import AirbrushNamed, PaintNamed

Named = TypeVar("Named", PaintUsed, AirbrushUsed, PaintNamed, AirbrushNamed)


@dataclass(frozen=True, slots=True)
class Called:
    """What paints, airbrushes and plans of a file are called here, by their identities there."""

    paints: dict[str, str] = field(default_factory=dict)
    airbrushes: dict[str, str] = field(default_factory=dict)
    plans: dict[str, str] = field(default_factory=dict)

    def paint(self, there: str) -> str:
        """A paint's identity here."""
        return self.paints.get(there, there)

    def airbrush(self, there: str) -> str:
        """An airbrush's identity here."""
        return self.airbrushes.get(there, there)

    def plan(self, there: str | None) -> str | None:
        """A plan's identity here."""
        return None if there is None else self.plans.get(there, there)


def _as(one: Named, identity: str) -> Named:
    return one.model_copy(update={"id": identity})


def with_names(plan: Plan, called: Called) -> Plan:
    """A plan whose paints and airbrush are called as they are here; their values stay.

    Parameters
    ----------
    plan : of a file
    called : identities here, by those in the file
    """

    def paint(used: PaintUsed) -> PaintUsed:
        return _as(used, called.paint(used.id))

    def changed(one: Coat | HandStep) -> Coat | HandStep:
        if one.kind == "hand":
            return one if one.paint is None else one.model_copy(update={"paint": paint(one.paint)})
        also = [m.model_copy(update={"paint": paint(m.paint)}) for m in one.also]
        return one.model_copy(update={"paint": paint(one.paint), "also": also})

    airbrush = _as(plan.airbrush, called.airbrush(plan.airbrush.id))
    return plan.model_copy(update={"airbrush": airbrush, "coats": [changed(c) for c in plan.coats]})


def card_with_names(asked: CardBody, called: Called) -> CardBody:
    """What a card was made for, called as here.

    Parameters
    ----------
    asked : of a file
    called : identities here, by those in the file
    """
    parts = [
        p.model_copy(update={"paint": _as(p.paint, called.paint(p.paint.id))}) for p in asked.parts
    ]
    there = {
        "paint": _as(asked.paint, called.paint(asked.paint.id)),
        "airbrush": _as(asked.airbrush, called.airbrush(asked.airbrush.id)),
        "plan": called.plan(asked.plan),
        "parts": parts,
    }
    return asked.model_copy(update=there)
