"""What trials teach, on painters made up; and the speed of the window and of an update."""

from __future__ import annotations

import time
from dataclasses import dataclass, field

import numpy as np
from figures import median, say

from haze.core.arrays import Array
from haze.core.spray.calibrate import (
    ARRAYS,
    CLASSES,
    LAPSE,
    NAMES,
    Belief,
    Look,
    Trial,
    believe,
    chances,
    latents_of,
    tables,
    teaches_most,
)
from haze.core.spray.constants import OWN_THINNER, paint_of
from haze.core.spray.model import spray
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import NOMINAL, SPREAD, prior
from haze.core.spray.window import Axis, window

PAINTERS = 200
ASKED = 200
WRONG = 0.05  # of logs
CANDIDATES = 64
MOST_TRIALS = 10
TOLD_AFTER = (3, 6, 10)
KINDS = ("airbrush_acrylic", "brush_acrylic", "white", "transparent", "primer")
NEEDLES = (0.2, 0.3, 0.4)
SEED = 23


@dataclass
class Study:
    """Log losses by name, and whether the truth lay in the band, over all painters."""

    loss: dict[str, list[float]] = field(default_factory=dict)
    within: list[list[bool]] = field(default_factory=list)
    better: list[bool] = field(default_factory=list)
    updates_s: list[float] = field(default_factory=list)

    def note(self, name: str, loss: float) -> None:
        self.loss.setdefault(name, []).append(loss)


class Painter:
    """Somebody whose paint and airbrush differ from the tables, and who logs a little wrongly."""

    def __init__(self, number: int, rng: np.random.Generator) -> None:
        self.kind, self.needle = KINDS[number % len(KINDS)], NEEDLES[number % len(NEEDLES)]
        self.rng = rng
        self.hidden = rng.normal(0, list(SPREAD.values()))
        self.asked = self.scatter(ASKED)
        self.truth = chances(self.asked, latents_of(self.hidden))
        self.seen = np.array([self._drawn(self.truth[:, i]) for i in range(ASKED)])

    def _drawn(self, each: Array) -> int:
        return int(self.rng.choice(len(CLASSES), p=each / each.sum()))

    def scatter(self, count: int) -> Setting:
        """Settings a painter might try."""
        draw = self.rng.uniform
        return make_setting(
            self.kind,
            thinner=OWN_THINNER[paint_of(self.kind).chemistry],
            needle_mm=self.needle,
            thinner_parts=draw(0.1, 4, count),
            trigger=draw(0.15, 0.6, count),
            pressure_psi=draw(5, 35, count),
            distance_mm=draw(25, 120, count),
            speed_mm_s=draw(40, 160, count),
            passes=2.0,
        )

    def look(self, setting: Setting) -> Look:
        """What the card shows, or what is logged by mistake."""
        if self.rng.random() < WRONG:
            return CLASSES[int(self.rng.integers(len(CLASSES)))]  # type: ignore[return-value]
        return CLASSES[self._drawn(chances(setting, latents_of(self.hidden)).ravel())]  # type: ignore[return-value]

    def loss(self, each: Array) -> float:
        told = (1 - LAPSE) * each + LAPSE / len(CLASSES)
        return float(-np.log(told[self.seen, np.arange(ASKED)]).mean())


def _single(many: Setting, place: int) -> Setting:
    rows = {n: np.asarray(getattr(many, n)) for n in ARRAYS}
    return many.but(**{n: row[place] if row.ndim else row for n, row in rows.items()})


def _taught(painter: Painter, study: Study, *, chosen: bool) -> None:
    belief, trials = believe([], tables()), []
    before = painter.loss(belief.looks(painter.asked))
    for count in range(1, MOST_TRIALS + 1):
        candidates = painter.scatter(CANDIDATES)
        found = teaches_most(candidates, belief) if chosen else None
        setting = _single(candidates, found.place if found else 0)
        trials.append(Trial(setting, painter.look(setting)))
        begun = time.perf_counter()
        belief = believe(trials, tables())
        study.updates_s.append(time.perf_counter() - begun)
        how = "chosen" if chosen else "random"
        if count in TOLD_AFTER:
            study.note(f"{count} {how}", painter.loss(belief.looks(painter.asked)))
        if chosen and count == 8:
            study.better.append(painter.loss(belief.looks(painter.asked)) < before)
            study.within.append(_within(painter, belief))


def _within(painter: Painter, belief: Belief) -> list[bool]:
    below = belief.weights @ (belief.logs < painter.hidden)
    return [0.1 <= share <= 0.9 for share in below]


def learning() -> None:
    """Log loss on settings not tried, by trials; the reach is that of the design's own study."""
    study, rng = Study(), np.random.default_rng(SEED)
    for number in range(PAINTERS):
        painter = Painter(number, rng)
        study.note("the tables as told", painter.loss(chances(painter.asked, NOMINAL)))
        study.note("the prior", painter.loss(believe([], tables()).looks(painter.asked)))
        study.note("the truth known", painter.loss(painter.truth))
        for chosen in (False, True):
            _taught(painter, study, chosen=chosen)
    reach = {"the prior": ".74", "6 random": ".64", "6 chosen": ".585", "the truth known": ".53"}
    for name, losses in study.loss.items():
        say(f"log loss, {name}", f"{np.mean(losses):.3f}", reach.get(name, "-"))
    say("better than before after 8 trials", f"{np.mean(study.better):.0%}", ">= 90 %")
    cover = np.mean(study.within, axis=0)
    told = ", ".join(f"{n} {c:.0%}" for n, c in zip(NAMES, cover, strict=True))
    say("truth within the band of eight in ten", f"{cover.mean():.0%}", f"75 to 85 %: {told}")
    late = np.quantile(study.updates_s, 0.95)
    say(
        "an update, one to ten trials",
        f"{np.median(study.updates_s) * 1e3:.0f} ms, p95 {late * 1e3:.0f} ms",
        "< 150 ms",
    )


def windows() -> None:
    """The window with its bands, against one setting at a time."""
    s = _single(Painter(0, np.random.default_rng(1)).scatter(1), 0)
    across, up = Axis("thinner_parts", 0.0, 4.5, 40), Axis("pressure_psi", 2.0, 36.0, 40)
    whole = median(lambda: window(s, across=across, up=up, latents=NOMINAL, alike=prior()))
    one = median(lambda: spray(s), 50)
    say("window 40 x 40 with its bands", f"{whole * 1e3:.0f} ms", "<= 150 ms")
    say(
        "one setting at a time takes",
        f"{1600 * one / whole:.0f} x as long",
        ">= 100 x without bands",
    )
    plain = median(
        lambda: spray(s.but(thinner_parts=across.values[None, :], pressure_psi=up.values[:, None]))
    )
    say("window 40 x 40 without bands", f"{plain * 1e3:.0f} ms", "<= 100 ms")
    say("one setting at a time takes", f"{1600 * one / plain:.0f} x as long", ">= 100 x")


if __name__ == "__main__":
    windows()
    learning()
