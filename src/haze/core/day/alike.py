"""What a coat needs in airbrushes like this one: rounds to the same film, and its wait then."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from haze.core.arrays import Array
from haze.core.day.waits import recoat_s
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import HIGH, LOW, Latents

MOST_TIMES = 8.0  # as many rounds nobody sprays: the setting is changed before


@dataclass(frozen=True, slots=True)
class Alike:
    """In each airbrush alike: rounds over those planned, and the wait [s] to the next coat.

    Both (draws,) float.
    """

    rounds: Array
    recoat_s: Array


def alike_of(setting: Setting, *, kind: str, outcome: Outcome, latents: Latents) -> Alike:
    """A coat sprayed until its planned film lies, in airbrushes alike.

    Parameters
    ----------
    setting : one, its passes those of the busiest side
    kind : of its paint
    outcome : what the model tells of it
    latents : (draws,) of the airbrushes and of this paint
    """
    each = spray(setting, latents).dry_film_um
    times = np.asarray(outcome.dry_film_um) / np.maximum(each, 1e-9)
    rounds = np.clip(times, 1 / setting.passes, MOST_TIMES)
    there = spray(replace(setting, passes=setting.passes * rounds), latents)
    touch = np.where(setting.blown > 0.5, there.touch_dry_blown_s, there.touch_dry_still_s)
    return Alike(rounds, recoat_s(kind, touch))


def rounds_between(planned: int, alike: Alike) -> tuple[int, int]:
    """Rounds from the busiest side in one of ten and in nine of ten airbrushes alike.

    Parameters
    ----------
    planned : int, rounds from it
    alike : of the coat
    """
    low, high = np.quantile(alike.rounds, (LOW, HIGH)) * planned
    return max(1, round(float(low))), max(1, round(float(high)))


def alike_words(planned: int, alike: Alike) -> str:
    """How many rounds most airbrushes need for the film that is planned.

    Parameters
    ----------
    planned : int, rounds from the busiest side
    alike : of the coat
    """
    low, high = rounds_between(planned, alike)
    many = f"{low}" if low == high else f"{low} to {high}"
    return f"{many} in most airbrushes until this film lies"
