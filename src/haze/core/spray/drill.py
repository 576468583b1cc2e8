"""A drill: the few cards that together tell most of a paint in an airbrush.

Chosen one after the other, each for what the others will probably leave open: for made-up truths
drawn from the belief the looks of the cards chosen so far are drawn, the belief follows them, and
the card whose look is then expected to tell most is next (greedy expected information: Krause and
Guestrin, Near-optimal nonmyopic value of information in graphical models, 2005).
"""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.calibrate import (
    CLASSES,
    LAPSE,
    NEXT_POINTS,
    Belief,
    chances,
    entropy_bits,
    latents_of,
    spread_out,
)
from haze.core.spray.setting import NUMBERS, Setting

TRUTHS = 64
SEED = 5
LEAST_APART = 0.35  # ln, in one knob at least: what is nearer maps the same place


def drill(candidates: Setting, belief: Belief, *, count: int) -> list[int]:
    """Places of the settings to spray, the first the one that tells most by itself.

    Parameters
    ----------
    candidates : (m,) settings
    belief : as it is now
    count : int, how many; fewer when there is no more that lies apart
    """
    logs = belief.resampled(NEXT_POINTS)
    likely = chances(spread_out(candidates), latents_of(logs.T))
    likely = (1 - LAPSE) * likely + LAPSE / len(CLASSES)  # (5, m, n)
    unsure = entropy_bits(likely)  # (m, n)
    rng = np.random.default_rng(SEED)
    truths = rng.choice(NEXT_POINTS, TRUTHS)
    weights = np.full((TRUTHS, NEXT_POINTS), 1 / NEXT_POINTS)
    turned = _turned(candidates)
    near = np.zeros(likely.shape[1], dtype=bool)
    chosen: list[int] = []
    while len(chosen) < count and not near.all():
        foreseen = np.einsum("kmn,tn->ktm", likely, weights)
        bits = (entropy_bits(foreseen) - weights @ unsure.T).mean(axis=0)
        best = int(np.argmax(np.where(near, -np.inf, bits)))
        chosen.append(best)
        near |= np.abs(turned - turned[:, best : best + 1]).max(axis=0) < LEAST_APART
        looks = _drawn(likely[:, best, truths], rng)
        weights = weights * likely[looks, best]
        weights = weights / weights.sum(axis=1, keepdims=True)
    return chosen


def _turned(candidates: Setting) -> Array:
    """(k, m) logarithms of the knobs in which the candidates differ."""
    members = [getattr(candidates, name) for name in NUMBERS]
    return np.asarray(np.log(np.maximum(np.array([v for v in members if v.ndim]), 1e-3)))


def _drawn(shares: Array, rng: np.random.Generator) -> Array:
    """(t,) int: a look for each column of (5, t) shares."""
    reached = np.cumsum(shares, axis=0)
    at = (reached < rng.uniform(size=shares.shape[1])).sum(axis=0)
    return np.asarray(np.minimum(at, len(CLASSES) - 1))
