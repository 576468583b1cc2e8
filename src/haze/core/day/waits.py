"""How long to wait: touch-dry from the model, the rest from one judged table (models.md A10)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.plan.coat import Coat, HandStep
from haze.core.spray.model import Outcome

RECOAT_OVER_TOUCH: dict[str, float] = {"ink": 3.0}
RECOAT_DEFAULT = 1.5
TAPE_S: dict[str, float] = {"lacquer": 4 * 3600.0, "primer": 24 * 3600.0}
TAPE_DEFAULT_S = 2 * 3600.0
SPIRIT_OVER_VARNISH_S = 24 * 3600.0  # a varnish cures so long before spirit may touch it
LEAST_RECOAT_S: dict[str, float] = {"lacquer": 600.0, "enamel_wash": 1800.0, "varnish": 3600.0}


@dataclass(frozen=True, slots=True)
class Waits:
    """Waits after a coat [s]: touch-dry still and blown, and until the next coat may follow."""

    touch_dry_still_s: float
    touch_dry_blown_s: float
    recoat_s: float
    blown: bool


def coat_waits(coat: Coat, outcome: Outcome) -> Waits:
    """Waits of a coat in its room; blown when the coat is dried with the airbrush's air.

    Parameters
    ----------
    outcome : what the setting does
    """
    still, blown = float(outcome.touch_dry_still_s), float(outcome.touch_dry_blown_s)
    touch = blown if coat.spray.blown else still
    recoat = float(recoat_s(coat.paint.kind, np.asarray(touch)))
    return Waits(still, blown, recoat, coat.spray.blown)


def recoat_s(kind: str, touch_dry_s: Array) -> Array:
    """Wait [s] until the next coat may follow.

    Parameters
    ----------
    kind : of the paint
    touch_dry_s : (...) float [s], as it is dried
    """
    factor = RECOAT_OVER_TOUCH.get(kind, RECOAT_DEFAULT)
    return np.asarray(np.maximum(factor * touch_dry_s, LEAST_RECOAT_S.get(kind, 0.0)))


def hand_wait_s(step: HandStep) -> float:
    """Wait [s] after a step by hand."""
    return 60.0 * step.wait_min


def before_tape_s(kind: str) -> float:
    """Least wait [s] after a coat of this paint before tape or a dry brush may touch it.

    Parameters
    ----------
    kind : a paint's kind
    """
    return TAPE_S.get(kind, TAPE_DEFAULT_S)
