"""How sure a number of the spray model is: the spread of what no table can know of an airbrush.

The same paint from two bottles, the same nozzle from two boxes and two hands differ. Five numbers
carry that: the paint's viscosity, the size of its droplets, how readily it creeps, how wide the jet
spreads and how much a trigger stop lets through. They are the prior that a painter's trials
sharpen; their spreads are judged from how far reports of the trade scatter.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.draws import normals

DRAWS = 64
LOW, HIGH = 0.1, 0.9  # quantiles a band runs between
SPREAD: dict[str, float] = {
    "viscosity": 0.40,
    "droplet": 0.25,
    "creep": 0.50,
    "width": 0.20,
    "flow": 0.20,
}
SEED = 7


@dataclass(frozen=True, slots=True, eq=False)
class Latents:
    """Factors of what is not known, 1 for the tables' own; arrays that broadcast with a setting."""

    viscosity: Array
    droplet: Array
    creep: Array
    width: Array
    flow: Array


@dataclass(frozen=True, slots=True)
class Band:
    """A number and what it is in one of ten and in nine of ten such airbrushes."""

    value: float
    low: float
    high: float


# dry film [µm] of a pass of a base coat in most hands, square to it (models.md A11.10)
USUAL_PASS_UM = Band(1.6, 1.0, 2.6)
NOMINAL = Latents(*(np.asarray(1.0) for _ in SPREAD))


@lru_cache(maxsize=4)
def prior(draws: int = DRAWS) -> Latents:
    """(draws,) factors spread evenly over the prior: a Sobol sequence through the normal quantile.

    Parameters
    ----------
    draws : int, a power of two
    """
    z = normals(len(SPREAD), count=draws, seed=SEED)
    return Latents(*(np.exp(s * z[:, i]) for i, s in enumerate(SPREAD.values())))


def prior_of_paint(number: int) -> Latents:
    """The prior of one of several paints in one airbrush: its jet and its stops are those of all.

    Parameters
    ----------
    number : int, of the paint among those of a day, from 0
    """
    alike = prior()
    order = np.random.default_rng(SEED + number).permutation(DRAWS)
    return replace(
        alike,
        viscosity=alike.viscosity[order],
        droplet=alike.droplet[order],
        creep=alike.creep[order],
    )


def in_turn(draws: Latents) -> Latents:
    """Draws in the order of the prior's widths, so that those of several paints are one airbrush.

    Parameters
    ----------
    draws : (draws,) factors
    """
    place = np.argsort(np.argsort(prior(len(draws.width)).width))
    order = np.argsort(draws.width, kind="stable")[place]
    return Latents(*(getattr(draws, name)[order] for name in SPREAD))


def bands(values: Sequence[Array], spreads: Sequence[Array]) -> list[Band]:
    """The bands of several numbers.

    Parameters
    ----------
    values : (n) float, as given
    spreads : (n) of (draws,) float, of every airbrush like it
    """
    low, high = np.quantile(np.stack(spreads), (LOW, HIGH), axis=1)
    return [Band(*map(float, each)) for each in zip(values, low, high, strict=True)]


def clean_words(share: float) -> str:
    """How sure a verdict is, in words.

    Parameters
    ----------
    share : float [0..1], of airbrushes like it in which the spray is clean
    """
    tenths = round(share * 10)
    if tenths == 10:
        return "clean in 10 of 10 airbrushes like yours"
    if tenths == 0:
        return "clean in none of 10 airbrushes like yours"
    return f"clean in {tenths} of 10 airbrushes like yours"
