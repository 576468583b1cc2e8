"""Cautions that follow from the materials of a plan; shown where they matter."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from haze.core.plan.document import Coat, Plan
from haze.core.spray.constants import PAINTS

SOLVENT_THINNERS = ("lacquer_thinner", "spirit")
RATED_PSI = 40.0


@dataclass(frozen=True, slots=True)
class Caution:
    """One caution; `sign` is told by word as well."""

    id: str
    sign: Literal["stop", "mind"]
    text: str


MIST = Caution(
    "mist",
    "mind",
    "Spray mist is breathed in, from water-based paint too. Run the extraction or work in open "
    "air, and wear a particle filter mask.",
)
SOLVENT = Caution(
    "solvent",
    "stop",
    "Solvent vapour: a particle filter is not enough. Wear a vapour cartridge as well, keep flame "
    "and spark away, and change the air well.",
)
ALCOHOL = Caution(
    "alcohol", "mind", "Alcohol thinner burns: no flame or spark near the booth, and air it well."
)
RAGS = Caution(
    "rags",
    "mind",
    "Solvent rags and waste go into a closed metal container; follow your local waste rules.",
)
SKIN = Caution(
    "skin",
    "mind",
    "Wear gloves. Test on card or a glove, never on bare skin; never point air at skin, eyes or "
    "people. Protect your eyes when cleaning a nozzle.",
)
AIR = Caution(
    "air",
    "mind",
    "Stay under the ratings of hose, regulator and tank, drain the water, and unplug before "
    "service.",
)
HIGH = Caution(
    "high_pressure",
    "stop",
    f"Over {RATED_PSI:g} psi: check the ratings of hose, regulator and airbrush before you open "
    "the air.",
)
HOME = Caution("home", "mind", "Keep children and pets away, and no food at the bench.")
LABEL = Caution(
    "label",
    "mind",
    "The maker's label and safety data sheet come first, then local rules for ventilation, "
    "storage and waste. A health worry goes to a doctor. Haze does not judge medical fitness or "
    "certify a booth.",
)


def solvent_in(coat: Coat) -> bool:
    """Whether a coat holds solvent paint or thinner."""
    return PAINTS[coat.paint.kind].chemistry != "water" or coat.thinner.kind in SOLVENT_THINNERS


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
    """All cautions of a session, each once, the gravest first."""
    return _once([*(c for coat in plan.coats for c in coat_cautions(coat)), AIR, HOME, LABEL])


def _once(cautions: Iterable[Caution]) -> list[Caution]:
    kept = {c.id: c for c in cautions}
    return sorted(kept.values(), key=lambda c: c.sign != "stop")
