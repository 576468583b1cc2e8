"""What to change: the smallest change of one knob, or of two, that makes a setting clean.

Advice never hides a fault: for specks it moves neither nearer nor slower (that only floods them
away), pressures stay in the trade's range, and when thinner is added the trigger is closed so that
the flow holds.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.model import RISKS, Outcome, flow_ml_min, spray
from haze.core.spray.setting import Setting, side_by_side
from haze.core.spray.unsure import NOMINAL, Latents

CLEAN_BELOW = 0.3
STOP_ABOVE = 0.6

# thinner comes first, so that a pair's second knob never meets it unexpanded
BOUNDS: dict[str, tuple[float, float]] = {
    "thinner_parts": (0.1, 6.0),
    "trigger": (0.05, 1.0),
    "pressure_psi": (4.0, 35.0),
    "distance_mm": (15.0, 180.0),
    "speed_mm_s": (30.0, 400.0),
    "rest_s": (5.0, 120.0),
    "retarder_parts": (0.03, 0.3),
}
FROM_NONE = ("rest_s", "retarder_parts")  # what begins at nothing is counted from its least
REASONS = {
    ("thinner_parts", True): "thinner paint flows and breaks up finer",
    ("thinner_parts", False): "thicker paint stays where it lands",
    ("trigger", True): "more paint comes through",
    ("trigger", False): "less paint lands at once",
    ("pressure_psi", True): "faster air makes finer droplets",
    ("pressure_psi", False): "softer air pushes the wet film less",
    ("distance_mm", True): "the jet is weaker and wider where it lands",
    ("distance_mm", False): "droplets land before they dry",
    ("speed_mm_s", True): "less paint lands at once",
    ("speed_mm_s", False): "more paint lands in each pass",
    ("retarder_parts", True): "paint dries later, in the air and on the tip",
    ("retarder_parts", False): "it dries soon enough without",
    ("rest_s", True): "the film gels before the next pass",
    ("rest_s", False): "the film needs no longer rest",
}
RISK_WORDS = {
    "spiders": "it spiders or runs",
    "specks": "specks show",
    "dust": "it lands as dust",
    "no_flow": "it clogs or does not flow",
}
STEPS = 41
PAIR_STEPS = 15
DRIED_REST = "rest_s"


@dataclass(frozen=True, slots=True)
class Advice:
    """One change: from and to in the knob's own unit; `alongside` belongs to it."""

    knob: str
    value: float
    to: float
    why: str
    alongside: tuple[Advice, ...] = ()

    def knobs(self) -> dict[str, float]:
        """Every knob this advice turns, with the value it turns it to."""
        return {self.knob: self.to} | {a.knob: a.to for a in self.alongside}


def verdict(outcome: Outcome) -> tuple[str, str | None]:
    """`clean`, `mind` or `stop`, and the risk that limits (None when clean).

    Parameters
    ----------
    outcome : what the setting does
    """
    risks = {name: float(getattr(outcome, name)) for name in RISKS}
    limiting = max(risks, key=lambda name: risks[name])
    worst = risks[limiting]
    if worst < CLEAN_BELOW:
        return "clean", None
    return ("stop" if worst > STOP_ABOVE else "mind"), limiting


def _candidates(setting: Setting, knob: str, limiting: str, steps: int) -> Array:
    low, high = BOUNDS[knob]
    here = setting.knob(knob)
    if limiting == "specks" and knob in ("distance_mm", "speed_mm_s"):
        low = max(low, here)
    if low >= high:
        return np.zeros(0)
    return np.asarray(np.geomspace(low, high, steps))


def _holding_flow(setting: Setting, parts: Array, latents: Latents) -> Array:
    """Trigger stops that keep the flow of `setting` when its thinner becomes `parts`."""
    stops = np.linspace(0.05, 1.0, 39)
    goal = float(flow_ml_min(setting, latents))
    flow = flow_ml_min(setting.but(thinner_parts=parts[:, None], trigger=stops[None, :]), latents)
    best = np.argmin(np.abs(np.log(np.maximum(flow, 1e-9) / max(goal, 1e-9))), axis=1)
    return np.asarray(np.minimum(stops[best], setting.knob("trigger")))


def apply(setting: Setting, knob: str, values: Array, *, latents: Latents = NOMINAL) -> Setting:
    """The setting with a knob turned, and with what must move with it.

    Parameters
    ----------
    setting : single
    knob : one of `BOUNDS`
    values : (...) float, in the knob's own unit
    latents : single factors that are believed
    """
    changed = setting.but(**{knob: values})
    if knob == DRIED_REST:
        return changed.but(blown=1.0)
    if knob == "thinner_parts":
        flat = np.atleast_1d(values).ravel()
        more = flat > setting.knob("thinner_parts")
        held = _holding_flow(setting, flat, latents)
        trigger = np.where(more, held, setting.knob("trigger")).reshape(np.shape(values))
        return changed.but(trigger=trigger)
    return changed


def _knobs(setting: Setting) -> Iterable[str]:
    for knob in BOUNDS:
        if knob == DRIED_REST and setting.knob("passes") < 2:
            continue
        yield knob


def _advice(
    setting: Setting, knob: str, to: float, latents: Latents, alongside: tuple[Advice, ...] = ()
) -> Advice:
    """One change with all that must move with it: more thinner closes the trigger."""
    here = setting.knob(knob)
    if knob == "thinner_parts" and to > here:
        trigger = float(_holding_flow(setting, np.array([to]), latents)[0])
        held = Advice("trigger", setting.knob("trigger"), trigger, "keeps the flow as it was")
        alongside = (held, *alongside)
    return Advice(knob, here, to, REASONS[(knob, to > here)], alongside)


def advise(
    setting: Setting, latents: Latents = NOMINAL, does: Outcome | None = None
) -> list[Advice]:
    """Changes that make a single setting clean, best first; empty when it is clean already.

    One knob at a time, ordered by |ln(to/from)|; when no single knob is enough, the smallest pair
    as one entry.

    Parameters
    ----------
    setting : single
    latents : single factors that are believed
    does : what the setting does by them, where it is known already
    """
    _, limiting = verdict(does or spray(setting, latents))
    if limiting is None:
        return []
    tried = {
        knob: values
        for knob in _knobs(setting)
        if len(values := _candidates(setting, knob, limiting, STEPS))
    }
    turned = [apply(setting, knob, values, latents=latents) for knob, values in tried.items()]
    worst = spray(side_by_side(turned), latents).worst.reshape(len(tried), STEPS)
    single: list[tuple[float, Advice]] = []
    for (knob, values), risk in zip(tried.items(), worst, strict=True):
        cost = np.where(risk < CLEAN_BELOW, cost_of(setting, knob, values), np.inf)
        best = int(np.argmin(cost))
        if np.isfinite(cost[best]):
            to = float(values[best])
            single.append((float(cost[best]), _advice(setting, knob, to, latents)))
    if single:
        return [found for _, found in sorted(single, key=lambda pair: pair[0])]
    return _best_pair(setting, limiting, latents)


def _best_pair(setting: Setting, limiting: str, latents: Latents) -> list[Advice]:
    tried = {
        knob: values
        for knob in _knobs(setting)
        if len(values := _candidates(setting, knob, limiting, PAIR_STEPS))
    }
    # thinner already moves the trigger
    pairs = [p for p in combinations(tried, 2) if set(p) != {"thinner_parts", "trigger"}]
    firsts = {knob: apply(setting, knob, a[:, None], latents=latents) for knob, a in tried.items()}
    grids = [apply(firsts[one], two, tried[two][None, :], latents=latents) for one, two in pairs]
    if not grids:
        return []
    worst = spray(side_by_side(grids), latents).worst.reshape(len(pairs), PAIR_STEPS, PAIR_STEPS)
    costs = {knob: cost_of(setting, knob, values) for knob, values in tried.items()}
    cost = np.stack([costs[one][:, None] + costs[two] for one, two in pairs])
    cost = np.where(worst < CLEAN_BELOW, cost, np.inf)
    at, row, column = np.unravel_index(int(np.argmin(cost)), cost.shape)
    if not np.isfinite(cost[at, row, column]):
        return []
    first, second = pairs[int(at)]
    one, two = float(tried[first][row]), float(tried[second][column])
    return [_advice(setting, first, one, latents, (_advice(setting, second, two, latents),))]


def cost_of(setting: Setting, knob: str, values: Array) -> Array:
    """|ln(to/from)| of each value; what may be none is counted from its least.

    Parameters
    ----------
    setting : single
    knob : one of `BOUNDS`
    values : (...) float, in the knob's own unit
    """
    here = max(setting.knob(knob), BOUNDS[knob][0] if knob in FROM_NONE else 1e-3)
    return np.asarray(np.abs(np.log(values / here)))
