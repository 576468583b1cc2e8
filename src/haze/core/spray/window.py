"""The window: two knobs across a field, and where each of the four faults begins.

The fault of every setting is worked out at what is believed of the airbrush; how sure that is comes
from the same field in many airbrushes alike, looked at on a coarser grid: the logarithm of the odds
of a fault is smooth in every knob, so that a cubic spline through the coarse grid stands for it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicSpline
from scipy.ndimage import distance_transform_edt

from haze.core.arrays import Array
from haze.core.errors import OutOfRangeError, UnknownNameError
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.model import RISKS, Outcome, spray
from haze.core.spray.setting import RANGES, Setting, side_by_side
from haze.core.spray.unsure import HIGH, LOW, Latents

MIXED = ("thinner_parts", "flow_aid_parts", "retarder_parts")
SET = ("needle_mm", "trigger", "pressure_psi", "distance_mm", "speed_mm_s")
AXES = (*MIXED, *SET, "temperature_c", "humidity_pct", "passes", "rest_s", "contrast")
MOST_STEPS, LEAST_STEPS = 200, 4
COARSE = 15  # knots an axis of the coarse grid
MOST_ODDS = 7.0  # ln; what is surer than 1 in 1,000 makes no difference to a contour
STRIP = 1.2  # of ln odds round the limit
LEAST_CELLS = 10  # a region smaller than so many settings gets no word


@dataclass(frozen=True, slots=True)
class Axis:
    """One knob of a window, from one value to another."""

    knob: str
    low: float
    high: float
    steps: int

    def __post_init__(self) -> None:
        if self.knob not in AXES:
            raise UnknownNameError(
                f"knob is {self.knob!r}; accepted are {', '.join(AXES)}.", field="knob"
            )
        least, most, unit = RANGES[self.knob]
        if not least <= self.low < self.high <= most:
            raise OutOfRangeError(
                f"{self.knob} goes from {self.low:g} to {self.high:g}; accepted is {least:g} to "
                f"{most:g} {unit}".rstrip()
                + ", the first below the second.",
                field=self.knob,
            )
        if not LEAST_STEPS <= self.steps <= MOST_STEPS:
            raise OutOfRangeError(
                f"steps is {self.steps}; accepted is {LEAST_STEPS} to {MOST_STEPS}.", field="steps"
            )

    @property
    def values(self) -> Array:
        """(steps,) float, evenly from low to high."""
        return np.linspace(self.low, self.high, self.steps)


@dataclass(frozen=True, slots=True)
class Word:
    """Where the name of a region stands: places on the two axes [0..1], and its share of all."""

    across: float
    up: float
    share: float


@dataclass(frozen=True, slots=True)
class Window:
    """Four risks over two knobs, and how sure they are; rows run along `up`.

    Attributes
    ----------
    across, up : the axes
    risks : (rows, columns) float [0..1] of each fault, at what is believed
    beyond : (rows, columns) float [0..1] share of airbrushes alike in which each fault strikes
    clean_share : (rows, columns) float [0..1], of airbrushes alike in which no fault strikes
    words : where the name of each region stands
    """

    across: Axis
    up: Axis
    risks: dict[str, Array]
    beyond: dict[str, Array]
    clean_share: Array
    words: dict[str, Word]


def window(setting: Setting, *, across: Axis, up: Axis, latents: Latents, alike: Latents) -> Window:
    """A field of settings round one.

    Parameters
    ----------
    setting : gives every knob that is not on an axis
    across, up : two different knobs
    latents : single factors that are believed
    alike : (draws,) factors of airbrushes alike

    Raises
    ------
    OutOfRangeError
    """
    if across.knob == up.knob:
        raise OutOfRangeError("across and up are the same knob; take two.", field="up")
    columns, rows = across.values, up.values
    out = spray(setting.but(**{across.knob: columns[None, :], up.knob: rows[:, None]}), latents)
    shape = (len(rows), len(columns))
    risks = {name: np.broadcast_to(getattr(out, name), shape) for name in RISKS}
    struck = _struck(setting, across, up, alike)
    beyond = {name: each.mean(axis=0) for name, each in struck.items()}
    clean = 1.0 - np.max(np.stack(list(struck.values())), axis=0).mean(axis=0)
    return Window(across, up, risks, beyond, clean, _words(risks))


def _struck(setting: Setting, across: Axis, up: Axis, alike: Latents) -> dict[str, Array]:
    """(draws, rows, columns) float for each fault: 1 where it strikes in an airbrush, else 0.

    Between lies a strip of the odds, so that as few as 64 airbrushes draw a smooth line.
    """
    knots_across = np.linspace(across.low, across.high, min(COARSE, across.steps))
    knots_up = np.linspace(up.low, up.high, min(COARSE, up.steps))
    draws = Latents(*(np.atleast_1d(getattr(alike, n))[:, None, None] for n in Latents.__slots__))
    coarse = spray(
        setting.but(**{across.knob: knots_across[None, None, :], up.knob: knots_up[None, :, None]}),
        draws,
    )
    finer_across = CubicSpline(knots_across, np.eye(len(knots_across)))(across.values)
    finer_up = CubicSpline(knots_up, np.eye(len(knots_up)))(up.values)
    limit = _odds(np.asarray(CLEAN_BELOW))
    found = {}
    for name in RISKS:
        odds = _odds(_full(coarse, name)).astype(np.float32)
        finer = np.matmul(np.matmul(finer_up, odds), finer_across.T)
        found[name] = np.clip(0.5 + (finer - limit) / STRIP, 0.0, 1.0)
    return found


def _full(out: Outcome, name: str) -> Array:
    return np.asarray(getattr(out, name))


def _odds(risk: Array) -> Array:
    inside = np.clip(risk, 1e-9, 1 - 1e-9)
    return np.asarray(np.clip(np.log(inside / (1 - inside)), -MOST_ODDS, MOST_ODDS))


def _words(risks: dict[str, Array]) -> dict[str, Word]:
    """For each region the place farthest from its edge; where two overlap the worse one counts."""
    stacked = np.stack([risks[name] for name in RISKS])
    worst = np.argmax(stacked, axis=0)
    found = {}
    for number, name in enumerate(RISKS):
        region = (worst == number) & (stacked[number] >= CLEAN_BELOW)
        if region.sum() < LEAST_CELLS:
            continue
        depth = distance_transform_edt(np.pad(region, 1))[1:-1, 1:-1]
        rows, columns = np.indices(region.shape)
        middle = rows[region].mean(), columns[region].mean()
        # along a strip many places are as deep: the one nearest its middle
        depth = depth - 0.05 * np.hypot(rows - middle[0], columns - middle[1])
        row, column = np.unravel_index(int(np.argmax(depth)), depth.shape)
        last = np.array(region.shape) - 1
        found[name] = Word(float(column / last[1]), float(row / last[0]), float(region.mean()))
    return found


@dataclass(frozen=True, slots=True)
class Edge:
    """Where a knob leaves the clean field, and the fault that begins there.

    `low` and `high` hold it in eight of ten airbrushes alike.
    """

    value: float
    low: float
    high: float
    fault: str


EDGE_STEPS, ALIKE_STEPS = 96, 8


def edges(
    setting: Setting, most: Mapping[str, float], *, latents: Latents, alike: Latents
) -> dict[str, Edge]:
    """Where each knob, turned one way alone, leaves the clean field.

    A knob that does not leave it, or that never was in it, is left out.

    Parameters
    ----------
    setting : single
    most : for each knob, in its own unit, as far as it is turned
    latents : single factors that are believed
    alike : (draws,) factors of airbrushes alike
    """
    here = {knob: max(setting.knob(knob), 1e-3) for knob in most}
    fine = {k: np.geomspace(here[k], max(end, 1e-3), EDGE_STEPS) for k, end in most.items()}
    out = spray(side_by_side([setting.but(**{k: v}) for k, v in fine.items()]), latents)
    struck = np.asarray(out.worst >= CLEAN_BELOW).reshape(len(fine), EDGE_STEPS)
    found = {}
    for row, (knob, values) in enumerate(fine.items()):
        if struck[row, 0] or not struck[row].any():
            continue
        first = int(np.argmax(struck[row]))
        at = row * EDGE_STEPS + first
        fault = max(RISKS, key=lambda name: float(getattr(out, name)[at]))
        found[knob] = (float(values[first]), fault)
    if not found:
        return {}
    coarse = {knob: np.geomspace(here[knob], max(most[knob], 1e-3), ALIKE_STEPS) for knob in found}
    bands = _bands(setting, coarse, alike)
    return {
        # the coarse steps must not push the single value out of its own band
        knob: Edge(at, min(band[0], at), max(band[1], at), fault)
        for (knob, (at, fault)), band in zip(found.items(), bands, strict=True)
    }


def _bands(
    setting: Setting, coarse: Mapping[str, Array], alike: Latents
) -> list[tuple[float, float]]:
    """For each knob the values that hold its edge in eight of ten airbrushes alike."""
    every = side_by_side([setting.but(**{k: v}) for k, v in coarse.items()])
    draws = Latents(*(np.atleast_1d(getattr(alike, n))[:, None] for n in Latents.__slots__))
    odds = _odds(spray(every, draws).worst).reshape(-1, len(coarse), ALIKE_STEPS)
    limit = float(_odds(np.asarray(CLEAN_BELOW)))
    bands = []
    for row, values in enumerate(coarse.values()):
        crossed = _first_crossing(odds[:, row], limit)
        at = np.interp(crossed, np.arange(ALIKE_STEPS), np.log(values))
        low, high = np.exp(np.quantile(at, (LOW, HIGH)))
        bands.append((float(low), float(high)))
    return bands


def _first_crossing(odds: Array, limit: float) -> Array:
    """(draws,) float: the step at which each row first exceeds a limit, its last when never."""
    over = odds >= limit
    last = odds.shape[1] - 1
    first = np.where(over.any(axis=1), np.argmax(over, axis=1), last)
    rows = np.arange(len(odds))
    before, after = odds[rows, np.maximum(first - 1, 0)], odds[rows, first]
    share = np.clip((limit - before) / np.where(after > before, after - before, 1.0), 0.0, 1.0)
    inside = over[rows, first] & (first > 0)
    return np.asarray(np.where(inside, first - 1 + share, first), dtype=np.float64)
