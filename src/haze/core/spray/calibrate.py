"""What trials teach: the factors of this paint in this airbrush, learned from what cards showed.

A trial is a setting and what it looked like. The model says how likely each look is for every set
of factors (`chances`); Bayes' rule turns trials into a belief. Factors are shared: a paint's
viscosity and creep are partly those of its kind, an airbrush's droplets, jet and stops partly those
of all its needles, so that a new bottle begins better than the tables.

1. Of every other paint and needle tried, what its trials say is kept as a Gaussian of the factors'
   logarithms (Laplace's idea, moments instead of curvature: Minka 2001, *A family of algorithms
   for approximate Bayesian inference*). Those add up exactly, since the parts are Gaussian.
2. They give a prior for the pair at hand; its own trials weigh points of that prior, then points
   round their mean (adaptive importance sampling, Cappé et al. 2004, *Population Monte Carlo*).
3. The next trial that teaches most is the one whose look tells most about the factors, in bits
   (Lindley 1956), among those worth spraying anyway.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.constants import PaintKind
from haze.core.spray.draws import normals
from haze.core.spray.model import RISKS, dry_film_um, spray
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import DRAWS, NOMINAL, SPREAD, Latents, prior

Look = Literal["clean", "spiders", "specks", "dust", "nothing", "pooled", "tip_dry"]
NAMES = tuple(SPREAD)
CLASSES: tuple[Look, ...] = ("clean", "spiders", "specks", "dust", "nothing")
# pooled paint is too much of it, as spiders are; a dry tip is one way to get nothing
CLASS_OF: dict[Look, int] = {
    "clean": 0,
    "spiders": 1,
    "specks": 2,
    "dust": 3,
    "nothing": 4,
    "pooled": 1,
    "tip_dry": 4,
}
LAPSE = 0.06  # of trials are logged wrong, or went wrong for another reason (judged)
SHARED = 0.5  # of each factor's variance belongs to the kind, or to the airbrush (judged)
OF_PAINT = ("viscosity", "creep")
SEED = 11
EVALUATIONS = 16_000  # of the model for one belief: what an answer at once allows
MOST_POINTS, LEAST_POINTS = 1024, 128
WIDER = 1.3  # second points lie wider than the first say, so that tails are kept
ODD_BELOW = 0.08  # a look less likely than that by all other trials is pointed out
WORTH_SPRAYING = 0.6
NEXT_POINTS = 192


@dataclass(frozen=True, slots=True)
class PaintThrough:
    """Which paint through which needle of which airbrush; names are identities."""

    kind: PaintKind
    paint: str
    airbrush: str
    needle_mm: float

    def parts(self, name: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The two parts a factor is made of: what is shared, and what is this pair's own.

        Parameters
        ----------
        name : of the factor
        """
        if name in OF_PAINT:
            return (name, "kind", self.kind), (name, "paint", self.paint)
        needle = f"{self.airbrush} {self.needle_mm:g}"
        return (name, "airbrush", self.airbrush), (name, "needle", needle)


@dataclass(frozen=True, slots=True)
class Measured:
    """What the photo of a card measured, over what the model says of it by the tables alone.

    Attributes
    ----------
    width : float [-], footprint of the lines over that of the tables; None when not measured
    width_unsure : float [-], spread of its logarithm
    film : float [-], dry film of one pass over that of the tables; None when not measured
    film_unsure : float [-], spread of its logarithm: the hand's pace is in it
    """

    width: float | None = None
    width_unsure: float = 0.1
    film: float | None = None
    film_unsure: float = 0.3


@dataclass(frozen=True, slots=True, eq=False)
class Trial:
    """One setting sprayed on card and what it looked like, and measured where it was."""

    setting: Setting
    look: Look
    measured: Measured | None = None

    @property
    def seen(self) -> int:
        """The class of its look, as an index of `CLASSES`."""
        return CLASS_OF[self.look]


@dataclass(frozen=True, slots=True, eq=False)
class Gaussian:
    """A normal distribution of the logarithms of the factors: mean (5,), cov (5, 5)."""

    mean: Array
    cov: Array


def tables() -> Gaussian:
    """What is believed before any trial."""
    return Gaussian(np.zeros(len(NAMES)), np.diag(np.square(list(SPREAD.values()))))


@dataclass(frozen=True, eq=False)
class Belief:
    """What is believed of the factors after trials.

    Attributes
    ----------
    logs : (n, 5) float, logarithms of the factors
    weights : (n,) float, sum 1
    trials : int, of this paint through this needle
    """

    logs: Array
    weights: Array
    trials: int = 0

    @cached_property
    def gaussian(self) -> Gaussian:
        """Its mean and covariance."""
        mean = self.weights @ self.logs
        off = self.logs - mean
        return Gaussian(mean, (off * self.weights[:, None]).T @ off)

    @cached_property
    def point(self) -> Latents:
        """The factors in the middle of it."""
        return latents_of(self.gaussian.mean)

    @cached_property
    def draws(self) -> Latents:
        """(64,) factors that stand for it, all alike likely."""
        return latents_of(self.resampled(DRAWS).T)

    def resampled(self, count: int) -> Array:
        """(count, 5) of its points, each as often as it is likely; the same every time.

        They are taken evenly along the direction in which it is least sure (systematic resampling,
        Kitagawa 1996).

        Parameters
        ----------
        count : int
        """
        along = np.linalg.eigh(self.gaussian.cov)[1][:, -1]
        order = np.argsort(self.logs @ along, kind="stable")
        reached = np.cumsum(self.weights[order])
        at = np.searchsorted(reached, (np.arange(count) + 0.5) / count * reached[-1])
        return np.asarray(self.logs[order[np.minimum(at, len(order) - 1)]])

    def looks(self, settings: Setting) -> Array:
        """(5, ...) how likely each look is at every setting, lapses left out.

        Parameters
        ----------
        settings : one, or an array of them
        """
        shape = np.broadcast(*(getattr(settings, n) for n in ARRAYS)).shape
        logs, weights = self.logs, self.weights
        if len(logs) * int(np.prod(shape)) > EVALUATIONS:
            logs, weights = self.resampled(NEXT_POINTS), np.full(NEXT_POINTS, 1 / NEXT_POINTS)
        each = chances(spread_out(settings), latents_of(logs.T)) @ weights
        return np.asarray(each.reshape((len(CLASSES), *shape)))


def believed(belief: Belief | None) -> tuple[Latents, Latents]:
    """The single factors that are believed, and (64,) of airbrushes alike.

    Parameters
    ----------
    belief : None for what the tables say
    """
    return (NOMINAL, prior()) if belief is None else (belief.point, belief.draws)


Known = Callable[[PaintThrough], Belief | None]


def nothing_known(through: PaintThrough) -> Belief | None:
    """Nobody has tried anything.

    Parameters
    ----------
    through : whichever paint and needle
    """
    del through
    return None


ARRAYS = tuple(f for f in Setting.__dataclass_fields__ if f not in ("paint", "thinner"))


def spread_out(settings: Setting) -> Setting:
    """Settings with an axis more, last, for the factors.

    Parameters
    ----------
    settings : one, or an array of them
    """
    return settings.but(**{n: np.asarray(getattr(settings, n))[..., None] for n in ARRAYS})


def latents_of(logs: Array) -> Latents:
    """Factors from their logarithms.

    Parameters
    ----------
    logs : (5, ...) float
    """
    return Latents(*np.exp(logs))


def chances(settings: Setting, latents: Latents) -> Array:
    """(5, ...) how likely each look is: clean when no fault strikes, else in proportion to odds.

    Parameters
    ----------
    settings : broadcast with the factors
    latents : factors
    """
    out = spray(settings, latents)
    risk = np.clip(np.stack([getattr(out, name) for name in RISKS]), 1e-9, 1 - 1e-9)
    clean = np.prod(1 - risk, axis=0)
    odds = risk / (1 - risk)
    return np.concatenate([clean[None], (1 - clean) * odds / odds.sum(axis=0)])


def _likely(trials: Sequence[Trial], logs: Array) -> Array:
    """(trials, n) log of how likely each trial's look is at every point, lapses counted."""
    out = np.empty((len(trials), len(logs)))
    by_thinner: dict[str, list[int]] = {}
    for place, trial in enumerate(trials):
        by_thinner.setdefault(trial.setting.thinner.kind, []).append(place)
    for places in by_thinner.values():
        first = trials[places[0]].setting
        rows = {n: np.array([trials[p].setting.knob(n) for p in places])[:, None] for n in ARRAYS}
        each = chances(first.but(**rows), latents_of(logs.T))
        seen = each[[trials[p].seen for p in places], np.arange(len(places))]
        out[places] = np.log((1 - LAPSE) * seen + LAPSE / len(CLASSES))
    for place, trial in enumerate(trials):
        if trial.measured is not None:
            out[place] += _measured_likely(trial.setting, trial.measured, logs)
    return out


def _measured_likely(setting: Setting, m: Measured, logs: Array) -> Array:
    """(n,) log of how likely what was measured is, up to a constant; lapses counted."""
    found = np.zeros(len(logs))
    if m.width is not None:
        off = (np.log(m.width) - logs[:, NAMES.index("width")]) / m.width_unsure
        found += _lapsing(off)
    if m.film is not None:
        film = dry_film_um(spread_out(setting), latents_of(logs.T)).reshape(-1)
        nominal = float(dry_film_um(setting))
        off = (np.log(m.film) - np.log(np.maximum(film, 1e-6) / max(nominal, 1e-6))) / m.film_unsure
        found += _lapsing(off)
    return found


def _lapsing(off: Array) -> Array:
    """Log of a normal with the tails of a mistake: one in so many is read or sprayed wrong."""
    return np.asarray(np.log((1 - LAPSE) * np.exp(-0.5 * off * off) + LAPSE * 0.05))


def _points(around: Gaussian, count: int) -> Array:
    return np.asarray(
        around.mean + normals(len(NAMES), count=count, seed=SEED) @ np.linalg.cholesky(around.cov).T
    )


def _log_density(logs: Array, of: Gaussian) -> Array:
    """Up to the constant that all normal distributions share."""
    factor = np.linalg.cholesky(of.cov)
    z = np.linalg.solve(factor, (logs - of.mean).T)
    return np.asarray(-0.5 * np.sum(z * z, axis=0) - np.sum(np.log(np.diag(factor))))


def _weights(logs: Array) -> Array:
    weights = np.exp(logs - logs.max())
    return np.asarray(weights / weights.sum())


def believe(trials: Sequence[Trial], before: Gaussian) -> Belief:
    """What is believed of a paint through a needle after its trials.

    Parameters
    ----------
    trials : of this paint through this needle
    before : what is believed without them
    """
    if not trials:
        return Belief(_points(before, MOST_POINTS), np.full(MOST_POINTS, 1 / MOST_POINTS))
    fit = EVALUATIONS // (2 * len(trials))
    count = 1 << int(np.log2(np.clip(fit, LEAST_POINTS, MOST_POINTS)))
    around = before
    for _ in range(2):
        logs = _points(around, count)
        weights = _weights(
            _likely(trials, logs).sum(axis=0)
            + _log_density(logs, before)
            - _log_density(logs, around)
        )
        found = Belief(logs, weights, len(trials))
        fitted = found.gaussian
        around = Gaussian(fitted.mean, WIDER**2 * fitted.cov + 1e-4 * before.cov)
    return found


@dataclass(frozen=True, slots=True, eq=False)
class Message:
    """What the trials of a pair say by themselves: precision (5, 5) and precision × mean (5,)."""

    precision: Array
    pull: Array


def message(trials: Sequence[Trial]) -> Message:
    """What trials add to what the tables say, as a Gaussian factor.

    Parameters
    ----------
    trials : of one pair
    """
    base = tables()
    found = believe(trials, base).gaussian
    own = np.linalg.inv(base.cov)
    values, axes = np.linalg.eigh(np.linalg.inv(found.cov) - own)
    precision = axes @ np.diag(np.maximum(values, 0.0)) @ axes.T
    return Message(precision, (precision + own) @ found.mean)


def before_trials(pair: PaintThrough, others: Mapping[PaintThrough, Message]) -> Gaussian:
    """What is believed of a pair from the trials of others alone.

    Parameters
    ----------
    pair : a paint through a needle
    others : what trials of other pairs say
    """
    others = {other: said for other, said in others.items() if other != pair}
    parts: dict[tuple[str, ...], int] = {}
    variances: list[float] = []
    for one in (pair, *others):
        for name, spread in SPREAD.items():
            for part, share in zip(one.parts(name), (SHARED, 1 - SHARED), strict=True):
                if part not in parts:
                    parts[part] = len(parts)
                    variances.append(share * spread**2)

    def rows(one: PaintThrough) -> Array:
        out = np.zeros((len(NAMES), len(parts)))
        for row, name in enumerate(NAMES):
            for part in one.parts(name):
                out[row, parts[part]] = 1.0
        return out

    precision, pull = np.diag(1 / np.array(variances)), np.zeros(len(parts))
    for other, said in others.items():
        made_of = rows(other)
        precision = precision + made_of.T @ said.precision @ made_of
        pull = pull + made_of.T @ said.pull
    cov, made_of = np.linalg.inv(precision), rows(pair)
    return Gaussian(made_of @ (cov @ pull), made_of @ cov @ made_of.T)


def odd_ones(trials: Sequence[Trial], belief: Belief) -> list[int]:
    """Places of the trials whose look all the others together make unlikely.

    Parameters
    ----------
    trials : those the belief comes from
    belief : after them
    """
    if len(trials) < 2:
        return []
    # without one: its weight is taken out again, 1/p(one) = mean of 1/likelihood (Gelfand 1992)
    likely = np.exp(_likely(trials, belief.logs))
    without = 1.0 / np.sum(belief.weights / likely, axis=1)
    return [place for place, share in enumerate(without) if share < ODD_BELOW]


@dataclass(frozen=True, slots=True)
class Teaching:
    """A setting to try next: its place among those looked at, bits it tells, share clean."""

    place: int
    bits: float
    clean: float


def teaches_most(candidates: Setting, belief: Belief) -> Teaching | None:
    """The candidate whose look tells most about the factors and that is worth spraying anyway.

    Parameters
    ----------
    candidates : (m,) settings
    belief : as it is now
    """
    logs = belief.resampled(NEXT_POINTS)
    each = (1 - LAPSE) * chances(spread_out(candidates), latents_of(logs.T)) + LAPSE / len(CLASSES)
    mean = each.mean(axis=-1)
    bits = entropy_bits(mean) - entropy_bits(each).mean(axis=-1)
    clean = (mean[0] - LAPSE / len(CLASSES)) / (1 - LAPSE)
    worth = np.where(clean >= WORTH_SPRAYING, bits, -np.inf)
    best = int(np.argmax(worth))
    if not np.isfinite(worth[best]):
        return None
    return Teaching(best, float(bits[best]), float(clean[best]))


def entropy_bits(p: Array) -> Array:
    """Entropy [bits] of shares along the first axis.

    Parameters
    ----------
    p : (k, ...) float, shares that sum to 1
    """
    return np.asarray(-np.sum(p * np.log2(p), axis=0))
