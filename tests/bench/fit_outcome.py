"""Fits the table by which a card's fault is judged to simulated cards; writes it where it is read.

    cd tests && python -m bench.fit_outcome [COUNT]

Takes about eight seconds of a processor for each card.
"""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path

import numpy as np
from scipy.optimize import minimize

from bench.photographed import CardTried, tried
from haze.core.inspect.reading import outcome
from haze.core.inspect.reading.features import NAMES, features
from haze.core.inspect.reading.outcome import Table
from haze.core.inspect.trial_card import FAULT_FROM
from haze.core.spray.calibrate import CLASSES

FIRST_SEED, COUNT = 1300, 330
KNOTS = 5
RIDGE, BEND = 0.2, 0.2  # how strongly curves are held low, and straight
SPECKS_RIDGE = 2.0
NEAR_E = 1.0  # cards within so many e-folds of the limit of specks say most about its side
FAR_WEIGHT = 0.1
CURVE = re.compile(r"\[[^\]]*\]")  # written on one line
TARGET = Path(outcome.__file__).with_name("outcome.json")


def places(values: np.ndarray) -> np.ndarray:
    """(k, n) float: where the curves of measures bend, by how cards spread over them.

    Parameters
    ----------
    values : (n, k) float, measures of each card
    """
    found = []
    for measure in values.T:
        low, high = np.quantile(measure, [0.01, 0.99])
        inner = measure[(measure > low) & (measure < high)]
        at = np.quantile(inner, np.linspace(0, 1, KNOTS)) if len(inner) else np.zeros(KNOTS)
        at[0], at[-1] = low, max(high, low + 1e-3)
        found.append(np.maximum.accumulate(at + np.arange(KNOTS) * 1e-3))
    return np.array(found)


def hats(values: np.ndarray, at: np.ndarray) -> np.ndarray:
    """(n, k x knots) float: share of each place in each card's measures.

    Parameters
    ----------
    values : (n, k) float
    at : (k, knots) float
    """
    ones = np.eye(at.shape[1])
    each = [[np.interp(m, a, one) for one in ones] for m, a in zip(values.T, at, strict=True)]
    return np.concatenate(each).T


def held(count: int) -> np.ndarray:
    """(count x knots) squared: what holds curves low and straight.

    Parameters
    ----------
    count : of measures
    """
    bends = np.diff(np.eye(KNOTS), 2, axis=0)
    return np.asarray(np.kron(np.eye(count), RIDGE * np.eye(KNOTS) + BEND * bends.T @ bends))


def fitted(shown: np.ndarray, looks: np.ndarray, hold: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Multinomial logistic regression: (5, d) weights and (5,) offsets.

    Parameters
    ----------
    shown : (n, d) float, of each card
    looks : (n,) int, places in `CLASSES`
    hold : (d, d) float, penalty of the weights
    """
    wanted = np.eye(len(CLASSES))[looks]
    split = len(CLASSES) * shown.shape[1]

    def loss(free: np.ndarray) -> tuple[float, np.ndarray]:
        weights = free[:split].reshape(len(CLASSES), -1)
        score = shown @ weights.T + free[split:]
        score -= score.max(axis=1, keepdims=True)
        shares = np.exp(score) / np.exp(score).sum(axis=1, keepdims=True)
        off = shares - wanted
        pull = weights @ hold
        slope = np.concatenate([(off.T @ shown + 2 * pull).ravel(), off.sum(axis=0)])
        missed = -np.log((shares * wanted).sum(axis=1) + 1e-12).sum()
        return float(missed + np.sum(weights * pull)), slope

    start = np.zeros(split + len(CLASSES))
    free = minimize(loss, start, jac=True, method="L-BFGS-B", options={"maxiter": 3000}).x
    return free[:split].reshape(len(CLASSES), -1), free[split:]


def specks_fitted(shown: np.ndarray, specks: np.ndarray) -> tuple[np.ndarray, float]:
    """Ridge regression of ln(1 + specks): (d,) weights and their offset.

    Parameters
    ----------
    shown : (n, d) float, of each card
    specks : (n,) float [1/cm²], by the model
    """
    wanted = np.log1p(specks)
    off = (wanted - np.log1p(FAULT_FROM["specks_cm2"])) / NEAR_E
    weight = np.exp(-(off**2)) + FAR_WEIGHT
    terms = np.column_stack([shown, np.ones(len(shown))])
    damped = np.diag([SPECKS_RIDGE] * shown.shape[1] + [0.0])
    found = np.linalg.solve(
        terms.T @ (terms * weight[:, None]) + damped, terms.T @ (wanted * weight)
    )
    return found[:-1], float(found[-1])


def fit(cards: list[CardTried]) -> Table:
    """The table from cards that were read.

    Parameters
    ----------
    cards : tried
    """
    read = [c for c in cards if c.measures is not None]
    values = np.array([features(c.measures) for c in read if c.measures])
    looks = np.array([CLASSES.index(c.truth.look) for c in read])
    at = places(values)
    shown = hats(values, at)
    weights, offsets = fitted(shown, looks, held(len(at)))
    counted = np.array([c.truth.look != "dust" for c in read])
    specks = np.array([c.truth.specks_cm2 for c in read])
    by, offset = specks_fitted(shown[counted], specks[counted])
    curves = weights.reshape(len(CLASSES), *at.shape)
    return Table(at, curves, offsets, by.reshape(at.shape), offset)


def written(table: Table) -> str:
    """The table as JSON that can be read.

    Parameters
    ----------
    table : as fitted
    """
    rows = {
        name: {
            "at": _short(table.at[i], 4),
            **{look: _short(table.looks[j, i], 3) for j, look in enumerate(CLASSES)},
            "ln_specks": _short(table.specks[i], 3),
        }
        for i, name in enumerate(NAMES)
    }
    offsets = {look: round(float(table.offsets[j]), 3) for j, look in enumerate(CLASSES)}
    about = "How a card is judged. Each measure has a curve for each look, straight between the "
    about += "places `at`, flat beyond; score of a look = offset + its curves, shares are their "
    about += "softmax. ln_specks adds up to ln(1 + specks per cm2 that an eye counts on one pass)."
    kept = {
        "about": about,
        "offsets": {**offsets, "ln_specks": round(table.specks_offset, 3)},
        "measures": rows,
    }
    text = json.dumps(kept, indent=1)
    return CURVE.sub(lambda found: " ".join(found[0].split()), text) + "\n"


def _short(curve: np.ndarray, digits: int) -> list[float]:
    return [round(float(v), digits) for v in curve]


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else COUNT
    cards = tried(range(FIRST_SEED, FIRST_SEED + count))
    TARGET.write_text(written(fit(cards)), "utf-8")
    print(f"{TARGET.name} written from {count} cards")
