"""Which fault a card shows: a multinomial logistic regression over a few measures.

Its table stands in `outcome.json` beside this file, fitted by `tests/bench/fit_outcome.py` to
simulated cards; it can be read, and every number of it says how much a measure speaks for a fault.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from haze.core.arrays import Array
from haze.core.inspect.reading.features import NAMES, features
from haze.core.inspect.reading.measures import Measures
from haze.core.inspect.reading.specks import Specks
from haze.core.spray.calibrate import CLASSES, Look

SURE = 0.9  # from which a first look may be called very likely
NOTHING_UM = 0.03  # film of one pass under which nothing came


@dataclass(frozen=True, slots=True)
class Table:
    """The fitted table: (k,) mean and spread of each measure, (5, k) weights, (5,) offsets.

    `by_eye` (5,) are offset and weights of specks by their steps.
    """

    mean: Array
    spread: Array
    weights: Array
    offsets: Array
    by_eye: Array


@dataclass(frozen=True, slots=True)
class Likely:
    """A look a card may show, and how likely it is."""

    look: Look
    share: float


@cache
def table() -> Table:
    """The table that is shipped."""
    text = (resources.files("haze.core.inspect.reading") / "outcome.json").read_text("utf-8")
    kept = json.loads(text)
    rows = [kept["measures"][name] for name in NAMES]
    return Table(
        mean=np.array([r["mean"] for r in rows]),
        spread=np.array([r["spread"] for r in rows]),
        weights=np.array([[r[look] for r in rows] for look in CLASSES]),
        offsets=np.array([kept["offsets"][look] for look in CLASSES]),
        by_eye=np.array(kept["specks_by_eye"]),
    )


def specks_per_cm2(found: Specks) -> float:
    """Specks [1/cm²] that an eye would count, by how many are how visible.

    Parameters
    ----------
    found : of one pass
    """
    by = table().by_eye
    return max(float(np.expm1(by[0] + np.log1p(found.steps) @ by[1:])), 0.0)


def shares_of(values: Array, by: Table) -> Array:
    """(..., 5) how likely each look is, in the order of `CLASSES`.

    Parameters
    ----------
    values : (..., k) float, in the order of `features.NAMES`
    by : the table
    """
    z = (values - by.mean) / by.spread
    score = np.clip(z, -4, 4) @ by.weights.T + by.offsets
    score = score - score.max(axis=-1, keepdims=True)
    return np.asarray(np.exp(score) / np.exp(score).sum(axis=-1, keepdims=True))


def likely(m: Measures) -> list[Likely]:
    """Looks by how likely they are, the likeliest first.

    Parameters
    ----------
    m : measures of a card
    """
    if not m.lines or (all(line.sigma_mm == 0 for line in m.lines) and m.pass_um < NOTHING_UM):
        return [Likely("nothing", 0.97), Likely("clean", 0.03)]
    shares = shares_of(features(m), table())
    order = np.argsort(-shares)
    return [Likely(CLASSES[i], float(shares[i])) for i in order]
