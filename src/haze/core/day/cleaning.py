"""Cleaning between cups: how thoroughly, how long, with what, and what must be tried afterwards.

All judged (models.md part E and P27): minutes of the trade, by what was sprayed and what follows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from haze.core.plan.coat import Coat
from haze.core.spray.constants import PAINTS, Chemistry

RINSE_S = 120.0
TO_LIGHT_S = 240.0  # a dark rest shows in a light paint
THOROUGH_S = 480.0
LIGHTER_BY = 12.0  # L*, from where the next paint counts as a lighter one
# flakes settle in the nozzle, binder of the others sets fast and stays
CLINGING = ("metallic", "varnish", "primer", "lacquer")
Level = Literal["rinse", "thorough"]
LIQUIDS: dict[Chemistry, str] = {
    "water": "water, then airbrush cleaner",
    "lacquer": "lacquer thinner",
    "enamel": "white spirit",
}


@dataclass(frozen=True, slots=True)
class Cleaning:
    """How a cup is cleaned out; `card` when the first spray afterwards is not to be trusted."""

    level: Level
    seconds: float
    liquid: str
    why: str
    steps: tuple[str, ...]
    card: bool

    @property
    def words(self) -> str:
        """All of it in sentences."""
        return " ".join(self.steps)


def cleaning(coat: Coat, following: Coat | None) -> Cleaning:
    """How an airbrush is cleaned after a coat.

    Parameters
    ----------
    coat : in the cup now
    following : the next sprayed coat of the plan; None after the last
    """
    kinds = [p.kind for p in coat.mix.paints]
    chemistry = PAINTS[kinds[0]].chemistry
    liquid = LIQUIDS[chemistry]
    clings = next((kind for kind in kinds if kind in CLINGING), None)
    if following is None:
        return _thorough(liquid, "the airbrush is put away clean", card=False)
    other = PAINTS[following.paint.kind].chemistry
    if clings:
        return _thorough(liquid, f"{clings} stays in the nozzle", card=True)
    if other != chemistry:
        return _thorough(liquid, "the next paint is of another chemistry", card=True)
    lighter = following.paint.tone - coat.paint.tone >= LIGHTER_BY
    why = (
        "a dark rest would show in the lighter paint" if lighter else "the next one hides the rest"
    )
    until = "until it runs clear on white paper" if lighter else "until it runs clear"
    steps = (f"Empty the cup and wipe it out; spray {_first(liquid)} through {until}.",)
    return Cleaning("rinse", TO_LIGHT_S if lighter else RINSE_S, liquid, why, steps, card=False)


def _first(liquid: str) -> str:
    return liquid.split(",")[0]


def _thorough(liquid: str, why: str, *, card: bool) -> Cleaning:
    steps = [
        f"Clean thoroughly: empty the cup and spray {liquid} through.",
        "Draw the needle and wipe it from behind to the tip, clean the nozzle, put it together.",
    ]
    if card:
        steps.append("Then a card first: the first spray after it is not to be trusted.")
    return Cleaning("thorough", THOROUGH_S, liquid, why, tuple(steps), card)
