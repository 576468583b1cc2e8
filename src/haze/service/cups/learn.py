"""What trials taught, as JSON for the command line and the web."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from haze.core.plan.base import Strict
from haze.core.plan.knobs import Needle
from haze.core.spray.advice import BOUNDS
from haze.core.spray.calibrate import (
    ARRAYS,
    CLASSES,
    NAMES,
    Belief,
    Look,
    Trial,
    believe,
    tables,
    teaches_most,
)
from haze.core.spray.recipe import rounded
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import HIGH, LOW
from haze.service.cups.setting import AssessIn, setting_of
from haze.service.forms.wire import PaintIn

MOST_TRIALS = 200
CANDIDATES = 96
NEAR = 0.7  # ln: how far from where the painter works a trial is looked for
TURNED = ("thinner_parts", "pressure_psi", "trigger", "distance_mm")
SEED = 5


class TrialIn(Strict):
    """A setting and what it looked like on card."""

    setting: AssessIn
    outcome: Look


class LearnIn(Strict):
    """Trials of one paint through one needle, and settings that are asked after."""

    paint: PaintIn
    needle_mm: Needle
    trials: Annotated[list[TrialIn], Field(max_length=MOST_TRIALS)]
    ask: Annotated[list[AssessIn], Field(max_length=MOST_TRIALS)] = Field(default=[])


class LatentOut(BaseModel):
    """A factor of what the tables say, and its band of eight in ten."""

    mean: float
    low: float
    high: float


class LooksOut(BaseModel):
    """How likely each look is at a setting."""

    clean: float
    spiders: float
    specks: float
    dust: float
    nothing: float


class NextOut(BaseModel):
    """The trial that would teach most, as a setting to spray."""

    setting: dict[str, float]
    clean: float
    bits: float
    why: str


class LearnOut(BaseModel):
    """What is believed after the trials."""

    latents: dict[str, LatentOut]
    ask: list[LooksOut]
    next: NextOut | None


def latents_out(belief: Belief) -> dict[str, LatentOut]:
    """Each factor with its band.

    Parameters
    ----------
    belief : after trials
    """
    logs = belief.resampled(1000)
    return {
        name: LatentOut(
            mean=float(np.exp(belief.gaussian.mean[at])),
            low=float(np.exp(np.quantile(logs[:, at], LOW))),
            high=float(np.exp(np.quantile(logs[:, at], HIGH))),
        )
        for at, name in enumerate(NAMES)
    }


def looks_out(setting: Setting, belief: Belief) -> LooksOut:
    """How likely each look is at one setting.

    Parameters
    ----------
    setting : single
    belief : after trials
    """
    return LooksOut(**dict(zip(CLASSES, map(float, belief.looks(setting)), strict=True)))


def next_trial(setting: Setting, belief: Belief) -> NextOut | None:
    """The setting near this one whose look would teach most; None when none is worth spraying.

    Parameters
    ----------
    setting : single, where the painter works
    belief : as it is now
    """
    rng = np.random.default_rng(SEED)
    turned = {}
    for knob in TURNED:
        low, high = BOUNDS[knob]
        here = max(setting.knob(knob), low)
        turned[knob] = np.clip(here * np.exp(rng.uniform(-NEAR, NEAR, CANDIDATES)), low, high)
    candidates = setting.but(**turned)
    found = teaches_most(candidates, belief)
    if found is None:
        return None
    chosen = rounded(setting.but(**{k: float(v[found.place]) for k, v in turned.items()}))
    return NextOut(
        setting={n: chosen.knob(n) for n in ARRAYS if n in (*TURNED, "speed_mm_s")},
        clean=found.clean,
        bits=found.bits,
        why=f"its look tells most of what is still open, and it comes out clean in "
        f"{found.clean:.0%} of airbrushes like yours",
    )


def learn(given: LearnIn) -> LearnOut:
    """`haze learn`."""
    trials = [Trial(_of_pair(given, t.setting), t.outcome) for t in given.trials]
    belief = believe(trials, tables())
    asked = [_of_pair(given, one) for one in given.ask]
    where = asked[0] if asked else trials[-1].setting if trials else None
    return LearnOut(
        latents=latents_out(belief),
        ask=[looks_out(one, belief) for one in asked],
        next=None if where is None else next_trial(where, belief),
    )


def _of_pair(given: LearnIn, setting: AssessIn) -> Setting:
    """A setting with the paint and needle of the pair, whatever it names itself."""
    same = {"paint": given.paint, "needle_mm": given.needle_mm}
    return setting_of(setting.model_copy(update=same))
