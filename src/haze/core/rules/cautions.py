"""Cautions that follow from the materials of a plan; shown where they matter."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.roles import SPIRIT_ROLES
from haze.core.spray.constants import PAINTS

SOLVENT_THINNERS = ("lacquer_thinner", "spirit")
RATED_PSI = 40.0


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution; `sign` stands beside a word, `short` reminds of it where room is scarce."""

    id: str
    sign: Literal["stop", "mind"]
    short: str
    text: str


MIST = Caution(
    "mist",
    "mind",
    "Mist: extraction and a particle filter mask",
    "Spray mist is breathed in, from water-based paint too. Run the extraction or work in open "
    "air, and wear a particle filter mask.",
)
SOLVENT = Caution(
    "solvent",
    "stop",
    "Solvent vapour: vapour cartridge, no flame, air it",
    "Solvent vapour: a particle filter is not enough. Wear a vapour cartridge as well, keep flame "
    "and spark away, and change the air well.",
)
ALCOHOL = Caution(
    "alcohol",
    "mind",
    "Alcohol burns: no flame, air it well",
    "Alcohol thinner burns: no flame or spark near the booth, and air it well.",
)
RAGS = Caution(
    "rags",
    "mind",
    "Solvent rags into a closed metal container",
    "Solvent rags and waste go into a closed metal container; follow your local waste rules.",
)
SKIN = Caution(
    "skin",
    "mind",
    "Gloves; card, never skin; mind your eyes",
    "Wear gloves. Test on card or a glove, never on bare skin; never point air at skin, eyes or "
    "people. Protect your eyes when cleaning a nozzle.",
)
AIR = Caution(
    "air",
    "mind",
    "Stay under the ratings; drain the water",
    "Stay under the ratings of hose, regulator and tank, drain the water, and unplug before "
    "service.",
)
HIGH = Caution(
    "high_pressure",
    "stop",
    f"Over {RATED_PSI:g} psi: check all ratings",
    f"Over {RATED_PSI:g} psi: check the ratings of hose, regulator and airbrush before you open "
    "the air.",
)
HOME = Caution(
    "home",
    "mind",
    "No children, pets or food at the bench",
    "Keep children and pets away, and no food at the bench.",
)
LABEL = Caution(
    "label",
    "mind",
    "Label and data sheet come first",
    "The maker's label and safety data sheet come first, then local rules for ventilation, "
    "storage and waste. A health worry goes to a doctor. Haze does not judge medical fitness or "
    "certify a booth.",
)
BY_HAND = Caution(
    "by_hand",
    "mind",
    "Gloves; no brush between the lips",
    "Wear gloves, and do not shape a brush with your lips.",
)


def solvent_in(step: Coat | HandStep) -> bool:
    """Whether a step holds solvent paint, thinner or spirit."""
    paints = step.mix.paints if step.mix else ()
    if any(PAINTS[p.kind].chemistry != "water" for p in paints):
        return True
    if step.kind == "hand":
        return step.role in SPIRIT_ROLES
    return step.thinner.kind in SOLVENT_THINNERS


def step_cautions(step: Coat | HandStep) -> list[Caution]:
    """What this step's materials need, the gravest first."""
    if step.off:
        return []
    if step.kind == "spray":
        return coat_cautions(step)
    found = [SOLVENT, RAGS] if solvent_in(step) else []
    return [*found, BY_HAND] if step.paint else found


def coat_cautions(coat: Coat) -> list[Caution]:
    """What this coat's materials and pressure need, the gravest first."""
    found: list[Caution] = []
    if solvent_in(coat):
        found += [SOLVENT, RAGS]
    if coat.thinner.kind == "alcohol":
        found.append(ALCOHOL)
    if coat.spray.pressure_psi > RATED_PSI:
        found.append(HIGH)
    return [*found, MIST, SKIN]


def plan_cautions(plan: Plan) -> list[Caution]:
    """All cautions of a session, each once, the gravest first.

    Parameters
    ----------
    plan : with all its steps
    """
    return _once([*(c for step in plan.coats for c in step_cautions(step)), AIR, HOME, LABEL])


def _once(cautions: Iterable[Caution]) -> list[Caution]:
    kept = {c.id: c for c in cautions}
    return sorted(kept.values(), key=lambda c: c.sign != "stop")
