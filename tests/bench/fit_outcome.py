"""Fits the table by which a card's fault is judged to simulated cards; writes it where it is read.

    cd tests && python -m bench.fit_outcome COUNT

Takes about eight seconds of a processor for each card.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

import numpy as np
from scipy.optimize import minimize

from bench.photographed import CardTried, tried
from haze.core.inspect.reading import outcome
from haze.core.inspect.reading.features import NAMES, features
from haze.core.inspect.reading.outcome import Table
from haze.core.spray.calibrate import CLASSES

FIRST_SEED = 1000
PULL = 1.2  # towards nought: half of it times the square of each weight
TARGET = Path(outcome.__file__).with_name("outcome.json")


def fitted(values: np.ndarray, looks: np.ndarray, by_eye: np.ndarray, pull: float = PULL) -> Table:
    """Multinomial logistic regression, its weights held small.

    Parameters
    ----------
    values : (n, k) float, measures of each card
    looks : (n,) int, places in `CLASSES`
    by_eye : (5,) offset and weights of the specks that an eye counts
    pull : how strongly weights are held
    """
    mean, spread = values.mean(axis=0), values.std(axis=0) + 1e-6
    z = np.clip((values - mean) / spread, -4, 4)
    wanted = np.eye(len(CLASSES))[looks]
    split = len(CLASSES) * z.shape[1]

    def loss(free: np.ndarray) -> tuple[float, np.ndarray]:
        weights = free[:split].reshape(len(CLASSES), -1)
        score = z @ weights.T + free[split:]
        score -= score.max(axis=1, keepdims=True)
        shares = np.exp(score) / np.exp(score).sum(axis=1, keepdims=True)
        off = shares - wanted
        slope = np.concatenate([(off.T @ z + 2 * pull * weights).ravel(), off.sum(axis=0)])
        missed = -np.log((shares * wanted).sum(axis=1) + 1e-12).sum()
        return float(missed + pull * np.sum(weights**2)), slope

    start = np.zeros(split + len(CLASSES))
    free = minimize(loss, start, jac=True, method="L-BFGS-B", options={"maxiter": 3000}).x
    return Table(mean, spread, free[:split].reshape(len(CLASSES), -1), free[split:], by_eye)


def written(table: Table) -> str:
    """The table as JSON that can be read.

    Parameters
    ----------
    table : as fitted
    """
    rows = {
        name: {
            "mean": round(float(table.mean[i]), 4),
            "spread": round(float(table.spread[i]), 4),
            **{look: round(float(table.weights[j, i]), 3) for j, look in enumerate(CLASSES)},
        }
        for i, name in enumerate(NAMES)
    }
    offsets = {look: round(float(table.offsets[j]), 3) for j, look in enumerate(CLASSES)}
    about = "How a card's fault is judged: score of a look = offset + sum of weight x (measure - "
    about += "mean) / spread, held within 4 spreads; shares are their softmax."
    kept = {
        "about": about,
        "measures": rows,
        "offsets": offsets,
        "specks_by_eye": [round(float(v), 3) for v in table.by_eye],
    }
    return json.dumps(kept, indent=1) + "\n"


def specks_by_eye(steps: np.ndarray, specks: np.ndarray) -> np.ndarray:
    """(5,) offset and weights: logarithm of specks a cm² by those of the steps.

    Parameters
    ----------
    steps : (n, 4) float [1/cm²]
    specks : (n,) float [1/cm²], by the model
    """
    terms = np.column_stack([np.ones(len(steps)), np.log1p(steps)])
    damped = np.diag([0.0, 1.0, 1.0, 1.0, 1.0]) * 0.5
    left = np.vstack([terms, damped])
    right = np.concatenate([np.log1p(specks), np.zeros(5)])
    return np.asarray(np.linalg.lstsq(left, right, rcond=None)[0])


def fit(cards: list[CardTried]) -> str:
    """The table from cards that were read."""
    read = [c for c in cards if c.measures is not None]
    values = np.array([features(c.measures) for c in read if c.measures])
    looks = np.array([CLASSES.index(c.truth.look) for c in read])
    steps = np.array([c.measures.specks.steps for c in read if c.measures])
    no_dust = np.array([c.truth.look != "dust" for c in read])
    specks = np.array([c.truth.specks_cm2 for c in read])
    return written(fitted(values, looks, specks_by_eye(steps[no_dust], specks[no_dust])))


if __name__ == "__main__":
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    TARGET.write_text(fit(tried(range(FIRST_SEED, FIRST_SEED + count))), "utf-8")
    print(f"{TARGET.name} written from {count} cards")
