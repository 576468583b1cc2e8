"""Trouble: from what is seen on the piece to its likeliest cause and the one knob to turn.

What the spray model knows of (spiders, specks, dust, nothing) is reasoned backwards: the symptom is
taken for seen, what is believed of the airbrush follows it, and each knob is asked how far it has
to go until the fault is gone in most airbrushes that would show it. The nearer a cure, the likelier
the cause. What it does not know of (a band, a bare spot, a cloudy wash) comes from the trade, in
the order in which a painter looks; of those a number decides only where the model has one.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.advice import BOUNDS, CLEAN_BELOW, DRIED_REST, apply, cost_of
from haze.core.spray.calibrate import LAPSE, Belief, Look, chances, latents_of
from haze.core.spray.model import Outcome, spray
from haze.core.spray.setting import Setting

Symptom = Literal[
    "spiders",
    "specks",
    "dust",
    "spitting",
    "nothing",
    "tip_dry",
    "pooled",
    "chalky",
    "band",
    "overspray",
    "bare",
    "duller",
    "shifted",
    "cloudy_wash",
    "dark_wash",
    "lifting",
]
POINTS = 96
MOST_AIRBRUSHES = 0.8  # a cure must hold in so many of those that show the fault
UNEXPECTED_BELOW = 0.12  # so unlikely a symptom is not what the model expects here
STEPS = 33
CURED = "there it is gone in most airbrushes that would show it here"
LEAST_STEP = 0.12  # ln: a hand that turns a knob by less has turned nothing
SELDOM = 0.005
WIDER = 1.6  # how much farther apart beliefs lie after what they do not explain


@dataclass(frozen=True, slots=True)
class Trouble:
    """A symptom: its words, the model's fault it is (None when it knows none), and the repair."""

    label: str
    fault: str | None
    repair: str


TROUBLES: dict[Symptom, Trouble] = {
    "spiders": Trouble(
        "Spiders or runs",
        "spiders",
        "Stop. Wick the wet legs off with the corner of a dry tissue, let it dry, and go over it "
        "with a lighter coat from farther off. Legs that have dried are rubbed flat first.",
    ),
    "specks": Trouble(
        "Visible specks",
        "specks",
        "Let it dry and mist the same colour over it, thinner and finer; over a mid tone the "
        "specks of a light coat close sooner.",
    ),
    "dust": Trouble(
        "Dust, feels like sandpaper",
        "dust",
        "Let it dry and rub it off with a soft dry brush; what stays is rubbed with the finest "
        "pad. A coat of gloss makes it smooth again, and it can be dulled at the end.",
    ),
    "spitting": Trouble(
        "Spitting",
        "no_flow",
        "Wick the drops off while they are wet. Spray on card until it runs evenly, then go on.",
    ),
    "nothing": Trouble(
        "Nothing comes out",
        "no_flow",
        "Nothing on the piece is lost. Close the trigger, wipe the tip, blow back with a cloth "
        "over the nozzle at low pressure, and spray on card first.",
    ),
    "tip_dry": Trouble(
        "The tip dries",
        "no_flow",
        "Wipe the needle's tip with a brush wet with thinner; spray on card before you go on.",
    ),
    "pooled": Trouble(
        "Pools in recesses, sticky film",
        "spiders",
        "Lift what stands in recesses with a dry brush while it is wet. Sticky film must dry "
        "through before anything comes over it, a day for a thick one.",
    ),
    "chalky": Trouble(
        "A chalky blotch of light colour",
        None,
        "Glaze the blotch with the colour below it, thinned far, until the edge goes; then the "
        "light colour again in thin rounds.",
    ),
    "band": Trouble(
        "A hard edge or a band",
        None,
        "Mist the darker neighbour back over the edge from farther off, then the light one again.",
    ),
    "overspray": Trouble(
        "Overspray on finished work",
        None,
        "Wet mist wipes off with thinner of its own kind on a brush within minutes; dry, it is "
        "gone over with the colour that stood there.",
    ),
    "bare": Trouble(
        "A bare spot",
        None,
        "Turn the piece until the spot faces you and give it a round by itself.",
    ),
    "duller": Trouble(
        "Duller or darker after drying",
        None,
        "Gloss over it shows the colour as it was wet; satin keeps most of it.",
    ),
    "shifted": Trouble(
        "The colour has shifted, such as a greenish yellow",
        None,
        "Lay an opaque warm mid tone or white under it, then the colour again in thin rounds.",
    ),
    "cloudy_wash": Trouble(
        "The wash dries cloudy",
        None,
        "Wet it again with its own thinner, lift it with a clean brush, gloss before the next.",
    ),
    "dark_wash": Trouble(
        "The wash is too dark",
        None,
        "Within its working time wipe it from the raised places with a brush damp with its "
        "thinner; dry, go over the raised places with their colour.",
    ),
    "lifting": Trouble(
        "It lifts or melts under the next coat",
        None,
        "Stop and let everything dry through. Rub loose edges flat, seal with a thin varnish of "
        "another chemistry, then go on.",
    ),
}
# what a card shows of them: a trial by itself
ON_CARD: dict[Symptom, Look] = {
    **{name: name for name in get_args(Symptom) if name in get_args(Look)},
    "spitting": "nothing",
}
# a knob and a direction that is not here is no cause: nearer and slower only flood specks away
CAUSES: dict[tuple[str, str, bool], str] = {
    ("spiders", "thinner_parts", False): "the paint is too thin to stay where it lands",
    ("spiders", "thinner_parts", True): "the paint is too thick to break up fine",
    ("spiders", "trigger", False): "too much paint comes at once",
    ("spiders", "pressure_psi", False): "the air pushes the wet film along",
    ("spiders", "distance_mm", True): "the airbrush is too near",
    ("spiders", "speed_mm_s", True): "the hand is too slow",
    ("spiders", "rest_s", True): "the next round comes onto wet paint",
    ("specks", "thinner_parts", True): "the paint is too thick to break up fine",
    ("specks", "pressure_psi", True): "the air is too weak to break the paint up",
    ("specks", "trigger", False): "more paint comes than the air can break up",
    ("specks", "trigger", True): "so little paint comes that single droplets show",
    ("dust", "distance_mm", False): "droplets dry on a long way",
    ("dust", "pressure_psi", False): "droplets are so fine that they dry in the air",
    ("dust", "trigger", True): "so little paint comes that it dries in the air",
    ("dust", "retarder_parts", True): "the paint dries too fast for this room",
    ("no_flow", "retarder_parts", True): "the paint dries on the tip",
    ("dust", "thinner_parts", False): "there is little but thinner in the droplets",
    ("no_flow", "thinner_parts", True): "the paint is too thick for this needle",
    ("no_flow", "pressure_psi", True): "the air draws too little",
    ("no_flow", "trigger", True): "the needle is hardly open",
}
# what no number of the setting tells, and each trade's first look
BESIDE: dict[Symptom, str] = {
    "spiders": "a needle that does not seat, which spits before it sprays",
    "pooled": "a recess that gets mist from every side",
    "specks": "dried paint on the tip, or grit in the cup",
    "dust": "a fan that blows between airbrush and piece",
    "spitting": "a bent tip, a loose nozzle, or water from the hose",
    "nothing": "dried paint in the nozzle, or a closed air valve",
    "tip_dry": "paint dried on the needle since the last cup",
}
# causes the trade knows, nearest first: (what, knob to turn, factor, why it helps)
TRADE: dict[Symptom, tuple[tuple[str, str | None, float, str], ...]] = {
    "chalky": (
        ("the light coat is too thick a step above what lies below", None, 1, "add a mid tone"),
        ("too much paint came in one round", "trigger", 0.7, "thinner rounds join softly"),
        ("white does the lightening", None, 1, "lighten along the hue instead"),
    ),
    "band": (
        ("strokes lie too far apart for this distance", "distance_mm", 1.4, "wider strokes join"),
        ("the stream began or ended on the piece", None, 1, "begin and end beside it"),
        ("too much paint came in one round", "trigger", 0.7, "more and thinner rounds"),
    ),
    "overspray": (
        ("mist travels past the piece", "pressure_psi", 0.75, "softer air carries less mist"),
        ("the airbrush is far off", "distance_mm", 0.6, "the spot is smaller"),
        ("finished work was not covered", None, 1, "mask it, or hold a card before it"),
    ),
    "bare": (
        ("a part stands in the way from every side sprayed", None, 1, "one more side"),
        ("too few rounds", "passes", 1.5, "another round reaches what the first left"),
        ("so little paint comes that hollows get none", "trigger", 1.3, "more comes through"),
    ),
    "duller": (
        ("matt scatters light, and wet paint is glossy", None, 1, "judge it dry, or glossed"),
        ("binder is milky until it is dry", None, 1, "wait, then look again"),
    ),
    "shifted": (
        (
            "a thin film shows the dark below: yellow over black turns green",
            "passes",
            1.5,
            "thicker",
        ),
        ("it went over a ground of another hue", None, 1, "white or a warm tone under it"),
    ),
    "cloudy_wash": (
        ("it went over a matt coat, which drinks it", None, 1, "gloss before the wash"),
        ("damp air or a coat not dry below", None, 1, "a warmer, drier room; wait longer"),
    ),
    "dark_wash": (
        ("it was laid too strong", "thinner_parts", 1.5, "thinner goes into recesses only"),
        ("it was pulled too late", None, 1, "pull it within its working time"),
    ),
    "lifting": (
        ("the coat below was not dry through", "rest_s", 2.0, "wait for its recoat time"),
        ("its solvent bites what lies below", None, 1, "seal it, or take the same chemistry"),
    ),
}


@dataclass(frozen=True, slots=True)
class Cause:
    """One cause: how likely among all [0..1], and the knob with where it goes; None for no knob."""

    cause: str
    share: float
    knob: str | None
    value: float | None
    to: float | None
    why: str


@dataclass(frozen=True, slots=True)
class Diagnosis:
    """What a symptom comes from, how likely the model held it here, and how to save the piece."""

    causes: tuple[Cause, ...]
    expected: float | None
    unexpected: str | None
    repair: str


def diagnose(setting: Setting, symptom: Symptom, belief: Belief) -> Diagnosis:
    """Causes of a symptom at a setting, likeliest first.

    Parameters
    ----------
    setting : single, as it was sprayed
    symptom : what is seen
    belief : of this paint in this airbrush
    """
    about = TROUBLES[symptom]
    if about.fault is None:
        return Diagnosis(_of_the_trade(setting, symptom), None, None, about.repair)
    logs, expected = _after_seeing(setting, about.fault, belief)
    doubt = None
    if expected < UNEXPECTED_BELOW:
        middle = logs.mean(axis=0)
        logs = middle + WIDER * (logs - middle)
        often = (
            "hardly any airbrush" if expected < SELDOM else f"{100 * expected:.0f} % of airbrushes"
        )
        doubt = (
            f"At this setting the model expects it in {often} like yours. Look first for "
            f"{BESIDE[symptom]}; a trial logged here makes it believe you."
        )
    causes = _by_nearest_cure(setting, about.fault, logs)
    return Diagnosis(causes or (_no_knob(symptom),), expected, doubt, about.repair)


FAULTS = ("clean", "spiders", "specks", "dust", "no_flow")


def _after_seeing(setting: Setting, fault: str, belief: Belief) -> tuple[Array, float]:
    """(n, 5) points of what is believed once the fault is seen, and how likely it was."""
    likely = chances(setting, latents_of(belief.logs.T))[FAULTS.index(fault)]
    expected = float(belief.weights @ likely)
    weighed = belief.weights * ((1 - LAPSE) * likely + LAPSE / len(FAULTS))
    return Belief(belief.logs, weighed / weighed.sum()).resampled(POINTS), expected


def _by_nearest_cure(setting: Setting, fault: str, logs: Array) -> tuple[Cause, ...]:
    alike = latents_of(logs.T)
    found: list[tuple[float, Cause]] = []
    for knob in BOUNDS:
        if knob == DRIED_REST and setting.knob("passes") < 2:
            continue
        cure = _cure(setting, fault, knob, lambda s: spray(s, alike))
        if cure is None:
            continue
        to, cost = cure
        here = setting.knob(knob)
        cause = CAUSES.get((fault, knob, to > here))
        if cause is None:
            continue
        found.append((cost, Cause(cause, 0.0, knob, here, to, "")))
    nearness = np.array([1.0 / (0.1 + cost) for cost, _ in found])
    shares = nearness / nearness.sum() if found else nearness
    causes = [
        Cause(c.cause, float(share), c.knob, c.value, c.to, CURED)
        for (_, c), share in zip(found, shares, strict=True)
    ]
    return tuple(sorted(causes, key=lambda c: -c.share))


def _cure(
    setting: Setting, fault: str, knob: str, look: Callable[[Setting], Outcome]
) -> tuple[float, float] | None:
    """The nearest value of a knob at which the fault is gone and no other begins, and its cost."""
    low, high = BOUNDS[knob]
    values = np.geomspace(low, high, STEPS)
    outcome = look(apply(setting, knob, values[:, None]))
    gone = np.mean(getattr(outcome, fault) < CLEAN_BELOW, axis=1) >= MOST_AIRBRUSHES
    others = np.median(outcome.worst, axis=1) < CLEAN_BELOW
    cost = cost_of(setting, knob, values)
    cost = np.where(gone & others & (cost >= LEAST_STEP), cost, np.inf)
    best = int(np.argmin(cost))
    return (float(values[best]), float(cost[best])) if np.isfinite(cost[best]) else None


def _no_knob(symptom: Symptom) -> Cause:
    return Cause(
        "no single knob cures it in most airbrushes that show it here",
        1.0,
        None,
        None,
        None,
        f"look for {BESIDE[symptom]}, then begin again from a recipe",
    )


def _of_the_trade(setting: Setting, symptom: Symptom) -> tuple[Cause, ...]:
    rows = TRADE[symptom]
    weight = np.array([0.5**place for place in range(len(rows))])
    out = []
    for (cause, knob, factor, why), share in zip(rows, weight / weight.sum(), strict=True):
        here = None if knob is None else setting.knob(knob)
        to = None if here is None else here * factor
        out.append(Cause(cause, float(share), knob, here, to, why))
    return tuple(out)
