"""Practice: cards of which one names the fault and the one change, from plain to subtle.

Every card is made, so what it shows is known (`trial_card.Truth`). Which comes next follows the
boxes of Leitner (So lernt man lernen, 1972): a look that was named rightly waits twice as long, one
that was missed comes again at once, and so does what it was taken for.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from haze.core.arrays import Array
from haze.core.errors import HazeError
from haze.core.inspect.trial_card import FAULT_FROM, SprayedCard, Truth, sprayed_card, truth_of
from haze.core.spray.advice import BOUNDS, CLEAN_BELOW, apply, cost_of
from haze.core.spray.calibrate import CLASSES, Look
from haze.core.spray.model import (
    RISKS,
    dusty_share,
    one_pass,
    specks_seen_cm2,
    spray,
    wet_numbers,
)
from haze.core.spray.recipe import rounded
from haze.core.spray.setting import Setting, one_of
from haze.core.spray.unsure import NOMINAL, Latents

Level = Literal[0, 1, 2]
Change = Literal[
    "leave",
    "nearer",
    "farther",
    "more_thinner",
    "less_thinner",
    "more_pressure",
    "less_pressure",
    "more_trigger",
    "less_trigger",
    "faster",
    "slower",
    "retarder",
]
Worth = Literal["best", "cures", "helps", "little", "worse"]
WORTHS: tuple[Worth, ...] = ("best", "cures", "helps", "little", "worse")
LEVELS: tuple[Level, ...] = (0, 1, 2)
# how many times past its limit a fault is, plain first; a clean card, how far below it
STRENGTHS: dict[Look, tuple[tuple[float, float], ...]] = {
    "clean": ((0.0, 0.35), (0.2, 0.6), (0.5, 0.9)),
    "spiders": ((9.0, 60.0), (3.5, 9.0), (1.15, 3.5)),
    "specks": ((4.0, 40.0), (2.0, 4.0), (1.2, 2.0)),
    "dust": ((1.9, 9.0), (1.5, 1.9), (1.15, 1.5)),
    "nothing": ((1.45, 2.0), (1.2, 1.45), (1.03, 1.2)),
}
CREPT = ((2.3, 9.0), (1.6, 2.6), (1.45, 2.0))  # spider numbers of a pass that leave them so
RISK_OF: dict[Look, str] = dict(zip(CLASSES[1:], RISKS, strict=True))
TURNS: dict[Change, tuple[str, bool]] = {
    "nearer": ("distance_mm", False),
    "farther": ("distance_mm", True),
    "more_thinner": ("thinner_parts", True),
    "less_thinner": ("thinner_parts", False),
    "more_pressure": ("pressure_psi", True),
    "less_pressure": ("pressure_psi", False),
    "more_trigger": ("trigger", True),
    "less_trigger": ("trigger", False),
    "faster": ("speed_mm_s", True),
    "slower": ("speed_mm_s", False),
    "retarder": ("retarder_parts", True),
}
PX_MM = 10.0
DRAWN, TRIES = 3000, 16
STEPS = 33
HELPS, HURTS = 1.0, 0.5  # ln of the odds that a change must move
NEAR_BEST = 1.3  # a change that is hardly longer than the shortest is as good
BOXES = (1, 2, 4, 8, 16, 32)  # cards until it comes again
RECENT = 10
MOST_BOXES_A_LEVEL = 2


class NoCardError(HazeError):
    """No setting of what is there shows what is asked."""

    code = "no_card"


@dataclass(frozen=True, slots=True)
class Sheet:
    """A card to practise on: what it was sprayed with, and what it shows."""

    setting: Setting
    look: Look
    level: Level
    truth: Truth
    seed: int


@dataclass(frozen=True, slots=True)
class Judged:
    """What one change would do: `cures` alone, `helps`, does `little`, or makes it `worse`.

    `to` is the value at which it is cured, else the one at which the worst fault is least; `value`
    where the knob stands; `cost` |ln| of the way; `before` and `after` risks of the worst fault.
    """

    change: Change
    does: Worth
    knob: str | None
    value: float | None
    to: float | None
    cost: float
    before: float
    after: float


def sheet(
    look: Look,
    level: Level,
    draw: Callable[[Generator, int], Setting],
    *,
    latents: Latents = NOMINAL,
    seed: int,
) -> Sheet:
    """A card that shows a look as plainly as the level asks.

    Parameters
    ----------
    look : one of the five that a card shows
    level : 0 plain, 2 subtle
    draw : makes (n,) settings of what the painter has
    latents : single factors of that airbrush
    seed : int; the same makes the same card

    Raises
    ------
    NoCardError when no setting that is drawn shows it
    """
    low, high = STRENGTHS[look][level]
    many = draw(np.random.default_rng(seed), DRAWN)
    for at in np.flatnonzero(_as_foreseen(many, look, level, latents))[:TRIES]:
        setting = rounded(one_of(many, int(at)))
        truth = truth_of(on_card(setting, latents=latents, seed=seed))
        if truth.look == look and low <= max(truth.strengths.values()) <= high:
            return Sheet(setting, look, level, truth, seed)
    raise NoCardError(f"No setting of these paints and airbrushes shows {look} so.", field="look")


def on_card(setting: Setting, *, latents: Latents = NOMINAL, seed: int) -> SprayedCard:
    """The card of a sheet.

    Parameters
    ----------
    setting : of single values
    latents : single factors of that airbrush
    seed : int
    """
    return sprayed_card(setting, latents=latents, px_mm=PX_MM, seed=seed)


def _as_foreseen(many: Setting, look: Look, level: Level, latents: Latents) -> NDArray[np.bool_]:
    """(n,) which settings may show it, before a card is sprayed with any."""
    out, one = spray(many, latents), one_pass(many, latents)
    crept, _ = wet_numbers(many, one, one.wet, creep=latents.creep)
    foreseen: dict[Look, Array] = {
        "spiders": crept,
        "specks": specks_seen_cm2(many, one) / FAULT_FROM["specks_cm2"],
        "dust": dusty_share(many, one) / FAULT_FROM["dusty"],
        "nothing": out.no_flow / FAULT_FROM["stops"],
    }
    if look == "clean":
        strongest = np.max([foreseen[name] for name in RISK_OF], axis=0)
        low, high = STRENGTHS["clean"][level]
        return np.asarray((out.worst < CLEAN_BELOW) & (strongest >= low) & (strongest <= high))
    others = [foreseen[name] for name in RISK_OF if name != look]
    limits = getattr(out, RISK_OF[look]) >= out.worst
    low, high = CREPT[level] if look == "spiders" else STRENGTHS[look][level]
    own = foreseen[look]
    apart = np.max(others, axis=0) < 1
    return np.asarray(limits & apart & (own >= low) & (own <= high))


def judge(setting: Setting, latents: Latents = NOMINAL) -> list[Judged]:
    """What every single change would do, the best first.

    Parameters
    ----------
    setting : single
    latents : single factors of that airbrush
    """
    before = float(spray(setting, latents).worst)
    leave: Worth = "best" if before < CLEAN_BELOW else "little"
    found = [Judged("leave", leave, None, None, None, 0.0, before, before)]
    found += [_turned(change, setting, before, latents) for change in TURNS]
    least = min((one.cost for one in found if one.does == "cures"), default=np.inf)
    found = [
        replace(o, does="best") if o.does == "cures" and o.cost <= NEAR_BEST * least else o
        for o in found
    ]
    return sorted(found, key=lambda o: (WORTHS.index(o.does), o.cost))


def well_changed(judged: Sequence[Judged], change: Change) -> bool:
    """Whether a change cures it; where none does alone, whether it helps.

    Parameters
    ----------
    judged : every change
    change : the one that was made
    """
    does = {one.change: one.does for one in judged}
    right = ("best", "cures") if "best" in does.values() else ("helps",)
    return does[change] in right


def _turned(change: Change, setting: Setting, before: float, latents: Latents) -> Judged:
    """A knob turned one way only, as far as it goes."""
    knob, up = TURNS[change]
    low, high = BOUNDS[knob]
    here = setting.knob(knob)
    start, end = (max(here, low), high) if up else (min(here, high), low)
    values = np.geomspace(start, end, STEPS)[1:]
    risk = spray(apply(setting, knob, values, latents=latents), latents).worst
    cost = cost_of(setting, knob, values)
    cured = np.flatnonzero(risk < CLEAN_BELOW)
    odds = _log_odds(risk) - _log_odds(np.array(before))
    if before < CLEAN_BELOW:
        spoilt = np.flatnonzero(risk >= CLEAN_BELOW)
        does, at = ("worse", spoilt[0]) if len(spoilt) else ("little", len(values) - 1)
    elif len(cured):
        does, at = "cures", cured[0]
    elif odds.min() < -HELPS:
        does, at = "helps", int(np.argmin(risk))
    else:
        does, at = ("worse" if odds.max() > HURTS else "little"), int(np.argmax(risk))
    return Judged(
        change,
        does,  # type: ignore[arg-type]
        knob,
        here,
        float(values[at]),
        float(cost[at]),
        before,
        float(risk[at]),
    )


def _log_odds(risk: Array) -> Array:
    """Tells more from much where a risk is all but certain."""
    p = np.clip(risk, 1e-9, 1 - 1e-9)
    return np.asarray(np.log(p / (1 - p)))


# what comes next ---------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer: what was shown and how subtle, what it was taken for, and the change's worth."""

    look: Look
    level: Level
    named: Look
    changed_well: bool

    @property
    def right(self) -> bool:
        """Whether the look was named."""
        return self.named == self.look


@dataclass(frozen=True, slots=True)
class LookStanding:
    """How one look is known.

    Attributes
    ----------
    asked, right : int, of the last `RECENT` cards of it
    changed_well : int, of these, whose change was right too
    box : int, of Leitner's
    level : how subtle the next one is
    taken_for : what it was mistaken for most, if ever lately
    since : int, cards since it was shown; a large number when it never was
    """

    asked: int
    right: int
    changed_well: int
    box: int
    level: Level
    taken_for: Look | None
    since: int


NEVER = 10_000


def standings(answers: Sequence[Answer]) -> dict[Look, LookStanding]:
    """How every look is known.

    Parameters
    ----------
    answers : the oldest first
    """
    boxes: dict[Look, int] = dict.fromkeys(CLASSES, 0)
    since: dict[Look, int] = dict.fromkeys(CLASSES, NEVER)
    for place, one in enumerate(answers):
        since[one.look] = len(answers) - place
        if one.right:
            boxes[one.look] = min(boxes[one.look] + 1, len(BOXES) - 1)
        else:
            boxes[one.look] = 0
            boxes[one.named] = max(boxes[one.named] - 1, 0)
    return {
        look: _standing([a for a in answers if a.look == look], boxes[look], since[look])
        for look in CLASSES
    }


def _standing(of: list[Answer], box: int, since: int) -> LookStanding:
    lately = of[-RECENT:]
    wrong = Counter(a.named for a in lately if not a.right)
    return LookStanding(
        asked=len(lately),
        right=sum(a.right for a in lately),
        changed_well=sum(a.right and a.changed_well for a in lately),
        box=box,
        level=LEVELS[min(box // MOST_BOXES_A_LEVEL, len(LEVELS) - 1)],
        taken_for=wrong.most_common(1)[0][0] if wrong else None,
        since=since,
    )


def comes_next(answers: Sequence[Answer], *, seed: int) -> tuple[Look, Level]:
    """Which look is shown next, and how subtle: what has waited longest for its box.

    Parameters
    ----------
    answers : the oldest first
    seed : int, decides among those that are due alike, so that no order can be learned
    """
    rng = np.random.default_rng(seed)
    found = standings(answers)
    overdue = {
        look: min(now.since, 2 * BOXES[-1]) / BOXES[now.box] * float(rng.lognormal(0, 0.5))
        for look, now in found.items()
    }
    look = max(overdue, key=overdue.__getitem__)
    return look, found[look].level
