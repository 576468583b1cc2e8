"""Which fault a card shows, and how many specks an eye would count, by a few measures.

Both add up curves, one for each measure: straight between a few places, flat beyond them (Hastie
and Tibshirani 1986). Sums by look go through a softmax; that of specks is the logarithm of their
count. The table stands in `outcome.json` beside this file, fitted to simulated cards by
`tests/bench/fit_outcome.py`; it can be read, and every curve of it says how much a measure speaks
for a fault.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from haze.core.arrays import Array
from haze.core.inspect.reading.features import NAMES, features
from haze.core.inspect.reading.measures import WORKED, Measures
from haze.core.inspect.trial_card import FAULT_FROM
from haze.core.spray.calibrate import CLASSES, Look

SURE = 0.95  # from which a first look may be called very likely
STEEP = 4.0
NOTHING_UM = 0.03  # film of one pass under which nothing came
SILENT = {
    "at": [0.0, 1.0, 2.0, 3.0, 4.0],
    **{curve: [0.0] * 5 for curve in (*CLASSES, "ln_specks")},
}


@dataclass(frozen=True, slots=True)
class Table:
    """The fitted table.

    Attributes
    ----------
    at : (k, n) float, places on each measure, rising
    looks : (5, k, n) float, what each look gets there
    offsets : (5,) float, of each look
    specks : (k, n) float, what ln(1 + specks [1/cm²]) gets there
    specks_offset : float
    """

    at: Array
    looks: Array
    offsets: Array
    specks: Array
    specks_offset: float


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
    # a measure that was not fitted yet says nothing, so that cards can be read to fit it
    rows = [kept["measures"].get(name, SILENT) for name in NAMES]
    return Table(
        at=np.array([r["at"] for r in rows]),
        looks=np.array([[r[look] for r in rows] for look in CLASSES]),
        offsets=np.array([kept["offsets"][look] for look in CLASSES]),
        specks=np.array([r["ln_specks"] for r in rows]),
        specks_offset=kept["offsets"]["ln_specks"],
    )


def added_up(values: Array, at: Array, curves: Array) -> Array:
    """(...,) float: what curves give for measures, added up.

    Parameters
    ----------
    values : (..., k) float, in the order of `features.NAMES`
    at : (k, n) float, places on each measure
    curves : (k, n) float, what is given there
    """
    each = [np.interp(values[..., i], at[i], curves[i]) for i in range(len(at))]
    return np.asarray(np.sum(each, axis=0))


def specks_per_cm2(m: Measures) -> float:
    """Specks [1/cm²] that an eye would count on one pass.

    Parameters
    ----------
    m : measures of a card
    """
    by = table()
    return max(float(np.expm1(added_up(features(m), by.at, by.specks) + by.specks_offset)), 0.0)


def shares_of(values: Array, by: Table) -> Array:
    """(..., 5) how likely each look is, in the order of `CLASSES`.

    Parameters
    ----------
    values : (..., k) float, in the order of `features.NAMES`
    by : the table
    """
    score = np.stack([added_up(values, by.at, look) for look in by.looks], axis=-1) + by.offsets
    score = score - score.max(axis=-1, keepdims=True)
    return np.asarray(np.exp(score) / np.exp(score).sum(axis=-1, keepdims=True))


def _clean_with(finger_mm: float) -> float:
    """How far a card can be clean with so many fingers [mm] where the setting itself was sprayed.

    By what a fault is, whatever cards that were fitted showed: half at the limit, hardly at twice.
    """
    return float(1 / (1 + (finger_mm / FAULT_FROM["finger_mm"]) ** STEEP))


def likely(m: Measures) -> list[Likely]:
    """Looks by how likely they are, the likeliest first.

    Parameters
    ----------
    m : measures of a card
    """
    if not m.lines or (all(line.sigma_mm == 0 for line in m.lines) and m.pass_um < NOTHING_UM):
        return [Likely("nothing", 0.97), Likely("clean", 0.03)]
    shares = shares_of(features(m), table())
    shares[CLASSES.index("clean")] *= _clean_with(m.fingers.within(WORKED)[:, 2].sum())
    shares = shares / shares.sum()
    order = np.argsort(-shares)
    return [Likely(CLASSES[i], float(shares[i])) for i in order]
