"""What painters hold true of settings, as data: the settings of each fact and what must come out.

`make facts` writes docs/facts.md: each fact, what the model says, and the share of settings
scattered by a fifth that keep the verdict.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.spray.advice import CLEAN_BELOW as CLEAN
from haze.core.spray.constants import OWN_THINNER, paint_of
from haze.core.spray.model import Outcome, spray
from haze.core.spray.recipe import line_of
from haze.core.spray.setting import RANGES, Setting, make_setting

SURE = 0.6  # a fault that nobody overlooks
HIDES_UM = 7.5  # a mid grey
SCATTERED = ("thinner_parts", "trigger", "pressure_psi", "distance_mm", "speed_mm_s")
SCATTER, DRAWS = 0.2, 400
USUAL = {
    "thinner_parts": 1.0,
    "needle_mm": 0.3,
    "trigger": 0.4,
    "pressure_psi": 20.0,
    "distance_mm": 75.0,
    "speed_mm_s": 80.0,
}
Holds = Callable[..., Array]


def setting(paint: str, **knobs: object) -> Setting:
    """A setting that differs from the usual one in what is named."""
    thinner = OWN_THINNER[paint_of(paint).chemistry]
    return make_setting(paint, thinner=thinner, **(USUAL | knobs))  # type: ignore[arg-type]


def clean(out: Outcome, *_: object) -> Array:
    return np.asarray(out.worst < CLEAN)


def above(risk: str, limit: float = CLEAN) -> Holds:
    return lambda out, *_: np.asarray(getattr(out, risk) > limit)


def calm(risk: str) -> Holds:
    return lambda out, *_: np.asarray(getattr(out, risk) < CLEAN)


def rises(member: str, by: float = 1.0) -> Holds:
    """From setting to setting, each at least `by` times the one before."""

    def holds(*outs: Outcome) -> Array:
        values = [getattr(o, member) for o in outs]
        pairs = itertools.pairwise(values)
        return np.asarray(np.all([b > by * a for a, b in pairs], axis=0))

    return holds


def both(*tests: Holds) -> Holds:
    return lambda *outs: np.asarray(np.all([t(*outs) for t in tests], axis=0))


def hides_in(low: float, high: float) -> Holds:
    def holds(out: Outcome, *_: object) -> Array:
        passes = HIDES_UM / out.dry_film_um
        return np.asarray((passes >= low) & (passes <= high))

    return holds


def of_the(place: int, test: Holds) -> Holds:
    """A test of one of the settings."""
    return lambda *outs: test(outs[place])


@dataclass(frozen=True, slots=True)
class Fact:
    """`holds` takes the outcome of each setting, in order."""

    says: str
    settings: tuple[Setting, ...]
    holds: Holds


def _two(paint: str, knobs: dict[str, object], **change: object) -> tuple[Setting, Setting]:
    return setting(paint, **knobs), setting(paint, **(knobs | change))


WHISPER = {
    "needle_mm": 0.2,
    "trigger": 0.15,
    "pressure_psi": 5.0,
    "distance_mm": 40.0,
    "speed_mm_s": 60.0,
}
BRISK = {
    "thinner_parts": 0.5,
    "trigger": 0.45,
    "pressure_psi": 28.0,
    "distance_mm": 90.0,
    "speed_mm_s": 70.0,
    "passes": 3.0,
    "rest_s": 20.0,
    "blown": 1.0,
}
CLOSE = {
    "needle_mm": 0.2,
    "trigger": 0.06,
    "pressure_psi": 11.0,
    "distance_mm": 12.0,
    "speed_mm_s": 60.0,
}
LINE = CLOSE | {"thinner_parts": 0.0, "distance_mm": 13.0}
SPECKLE = {"thinner_parts": 0.5, "trigger": 0.4, "pressure_psi": 3.5, "distance_mm": 60.0}
WEAK = {"trigger": 0.8, "pressure_psi": 4.0, "distance_mm": 60.0}
SPIDER = {
    "thinner_parts": 3.0,
    "trigger": 0.5,
    "pressure_psi": 28.0,
    "distance_mm": 40.0,
    "passes": 3.0,
}
DILUTE = {
    "thinner_parts": 8.0,
    "trigger": 0.2,
    "pressure_psi": 17.0,
    "distance_mm": 65.0,
    "passes": 6.0,
}
WHITE = {"thinner_parts": 0.5, "trigger": 0.5, "pressure_psi": 8.0, "speed_mm_s": 120.0}
FLAKE = {"thinner_parts": 0.0, "trigger": 0.5, "pressure_psi": 25.0}

FACTS: tuple[Fact, ...] = (
    *(
        Fact(
            f"neat brush paint gives no useful flow through {needle} mm at {psi} psi",
            (setting("brush_acrylic", thinner_parts=0.0, needle_mm=needle, pressure_psi=psi),),
            above("no_flow", SURE),
        )
        for needle, psi in ((0.2, 10.0), (0.4, 40.0))
    ),
    Fact(
        "brush paint with a fifth of thinner still clogs",
        (setting("brush_acrylic", thinner_parts=0.2),),
        above("no_flow", SURE),
    ),
    *(
        Fact(
            f"brush paint thinned {parts:g}:1 is clean",
            (setting("brush_acrylic", thinner_parts=parts, trigger=0.3, distance_mm=65.0),),
            clean,
        )
        for parts in (1.0, 2.0, 4.0)
    ),
    Fact(
        "thinning costs film for the same wet",
        tuple(setting("brush_acrylic", thinner_parts=p) for p in (4.0, 2.0, 1.0)),
        lambda *o: np.asarray(
            np.all(np.diff([x.dry_film_um / x.wet_film_um for x in o], axis=0) > 0, axis=0)
        ),
    ),
    Fact(
        "half and half at 5 psi, .2 mm, near and slow, is clean",
        (setting("brush_acrylic", **WHISPER),),
        clean,
    ),
    Fact(
        "and covers, in 8 to 40 passes",
        (setting("brush_acrylic", **WHISPER),),
        hides_in(8, 40),
    ),
    Fact(
        "brush paint at 4 psi with the trigger open speckles through .3 mm",
        (setting("brush_acrylic", **WEAK),),
        above("specks"),
    ),
    Fact(
        "and through .2 mm",
        (setting("brush_acrylic", **WEAK, needle_mm=0.2),),
        above("specks"),
    ),
    Fact("quick cover at 28 psi is clean", (setting("airbrush_acrylic", **BRISK),), clean),
    Fact(
        "and through .4 mm",
        (setting("airbrush_acrylic", **BRISK, needle_mm=0.4),),
        clean,
    ),
    Fact(
        "and hides in two to six passes at 70 mm/s",
        (setting("airbrush_acrylic", **BRISK),),
        hides_in(2, 6),
    ),
    Fact(
        "thinner paint at 20 psi is clean",
        (setting("airbrush_acrylic", thinner_parts=1.0, trigger=0.3),),
        clean,
    ),
    Fact(
        "primer nearly neat and half open is clean",
        (setting("primer", thinner_parts=0.2, trigger=0.5, distance_mm=85.0),),
        clean,
    ),
    Fact(
        "varnish nearly neat is clean",
        (setting("varnish", thinner_parts=0.1, trigger=0.45, distance_mm=85.0),),
        clean,
    ),
    Fact("ink sprays neat", (setting("ink", thinner_parts=0.0, trigger=0.2),), clean),
    Fact(
        "ink floods",
        (setting("ink", thinner_parts=0.0, trigger=0.8, distance_mm=40.0, speed_mm_s=40.0),),
        above("spiders", SURE),
    ),
    *(
        Fact(
            f"solvent acrylic thinned {parts:g}:1 is clean",
            (
                setting(
                    "lacquer",
                    thinner_parts=parts,
                    trigger=0.25,
                    pressure_psi=15.0,
                    distance_mm=70.0,
                    speed_mm_s=100.0,
                ),
            ),
            clean,
        )
        for parts in (2.5, 4.0)
    ),
    Fact(
        "fine close work barely open is clean",
        (setting("brush_acrylic", thinner_parts=2.0, **CLOSE),),
        calm("spiders"),
    ),
    Fact("lines from near are clean", (setting("ink", **LINE),), clean),
    Fact(
        "and about a millimetre wide",
        (setting("ink", **LINE),),
        lambda o: np.asarray((o.footprint_mm > 2.0) & (o.footprint_mm < 5.0)),
    ),
    Fact(
        "a transparent at 3.5 psi specks",
        (setting("transparent", **SPECKLE),),
        above("specks"),
    ),
    Fact(
        "is calm at 8 psi",
        (setting("transparent", **(SPECKLE | {"pressure_psi": 8.5, "trigger": 0.3})),),
        calm("specks"),
    ),
    Fact(
        "and specks more as the trigger opens",
        tuple(setting("transparent", **(SPECKLE | {"trigger": t})) for t in (0.15, 0.3, 0.5)),
        rises("specks"),
    ),
    Fact(
        "white over black specks at 8 psi",
        (setting("white", **WHITE),),
        above("specks"),
    ),
    Fact(
        "sooner than dark over dark",
        (setting("airbrush_acrylic", **WHITE), setting("white", **WHITE)),
        rises("specks"),
    ),
    Fact(
        "a grey ground calms it",
        (setting("white", **WHITE, contrast=0.5), setting("white", **WHITE)),
        rises("specks", 1.5),
    ),
    Fact(
        "thin, near, strong and open spiders",
        (setting("brush_acrylic", **SPIDER),),
        above("spiders", SURE),
    ),
    *(
        Fact(
            f"{what} helps",
            _two("brush_acrylic", SPIDER, **change)[::-1],
            lambda a, b: np.asarray(a.spiders < b.spiders - 1e-4),
        )
        for what, change in (
            ("backing off", {"distance_mm": 90.0}),
            ("closing the trigger", {"trigger": 0.2}),
            ("lowering the pressure", {"pressure_psi": 15.0}),
            ("drying between bursts", {"rest_s": 60.0, "blown": 1.0}),
        )
    ),
    Fact(
        "all of it cures",
        (
            setting(
                "brush_acrylic",
                **(
                    SPIDER
                    | {"distance_mm": 90.0, "trigger": 0.2, "pressure_psi": 15.0}
                    | {"rest_s": 60.0, "blown": 1.0}
                ),
            ),
        ),
        clean,
    ),
    Fact(
        "a gloss ground spiders sooner than a matt one",
        (
            setting("airbrush_acrylic", **(CLOSE | {"trigger": 0.08})),
            setting("airbrush_acrylic", **(CLOSE | {"trigger": 0.08}), surface="gloss"),
        ),
        lambda a, b: np.asarray(b.spiders > a.spiders),
    ),
    Fact(
        "six bursts of very dilute paint run without a rest",
        (setting("brush_acrylic", **DILUTE),),
        above("spiders"),
    ),
    Fact(
        "and are clean when each is blown dry",
        (setting("brush_acrylic", **DILUTE, rest_s=30.0, blown=1.0),),
        calm("spiders"),
    ),
    Fact(
        "far, warm and dry air gives dust",
        (setting("airbrush_acrylic", distance_mm=220.0, temperature_c=33.0, humidity_pct=20.0),),
        above("dust"),
    ),
    Fact(
        "solvent acrylic dusts sooner than water paint",
        (
            setting("airbrush_acrylic", distance_mm=120.0),
            setting("lacquer", thinner_parts=2.5, distance_mm=120.0),
        ),
        rises("dust"),
    ),
    Fact(
        "neat metallic clogs fine needles first",
        tuple(setting("metallic", **FLAKE, needle_mm=n) for n in (0.4, 0.3, 0.2, 0.15)),
        both(of_the(3, above("no_flow")), lambda *o: o[0].no_flow < o[3].no_flow),
    ),
    Fact(
        "thinned it sprays from .3 mm",
        (setting("metallic", **(FLAKE | {"thinner_parts": 1.0})),),
        calm("no_flow"),
    ),
    Fact(
        "a thin film is touch-dry in minutes, blown in under two",
        (setting("airbrush_acrylic", speed_mm_s=200.0),),
        lambda o: np.asarray(
            (o.touch_dry_still_s > 40) & (o.touch_dry_still_s < 1200) & (o.touch_dry_blown_s < 120)
        ),
    ),
    Fact(
        "at 80 % humidity drying takes two to three times as long",
        _two("airbrush_acrylic", {}, humidity_pct=80.0),
        lambda a, b: np.asarray(np.abs(b.touch_dry_still_s / a.touch_dry_still_s - 2.6) < 0.6),
    ),
)


def line_mm(**knobs: float) -> float:
    """Width of a line of one stroke of neat ink."""
    s = setting("ink", **(LINE | knobs))
    return float(line_of(spray(s), s, strokes=np.asarray(1.0)))


def scattered(fact: Fact, *, draws: int = DRAWS, seed: int = 1) -> tuple[Setting, ...]:
    """Its settings with every knob of the hand moved by up to a fifth, all of them alike."""
    rng = np.random.default_rng(seed)
    by = {name: rng.uniform(1 - SCATTER, 1 + SCATTER, draws) for name in SCATTERED}
    return tuple(
        s.but(
            **{
                name: np.clip(s.knob(name) * factor, RANGES[name][0], RANGES[name][1])
                for name, factor in by.items()
            }
        )
        for s in fact.settings
    )


def holds(fact: Fact) -> bool:
    """Whether the model shows it at the settings as they stand."""
    return bool(fact.holds(*(spray(s) for s in fact.settings)))


def kept(fact: Fact, *, draws: int = DRAWS) -> float:
    """Share of scattered settings at which it still holds."""
    return float(np.mean(fact.holds(*(spray(s) for s in scattered(fact, draws=draws)))))


def table() -> str:
    """The facts as a table in Markdown."""
    rows = []
    for fact in FACTS:
        out = spray(fact.settings[-1])
        risks = " ".join(
            f"{name.replace('_', ' ')} {float(getattr(out, name)):.2f}"
            for name in ("spiders", "specks", "dust", "no_flow")
        )
        says = f"{risks}; {float(out.dry_film_um):.2f} µm a pass"
        rows.append(
            f"| {fact.says} | {'yes' if holds(fact) else '**no**'} | {says} | {kept(fact):.2f} |"
        )
    return "\n".join(["| fact | holds | of its last setting | kept |", "|---|---|---|---|", *rows])


HEAD = f"""# Facts of the trade

What painters hold true of settings and what the spray model says of them, written by `make facts`.
*Kept* is the share of {DRAWS} settings, each knob of the hand scattered by up to a fifth, at which
the fact still holds. The facts are data in tests/core/spray/facts.py; tests hold the model to them.
"""

if __name__ == "__main__":
    print(HEAD)
    print(table())
    shares = [kept(f) for f in FACTS]
    mean, least = np.mean(shares), min(shares)
    print(f"\nKept in the mean {mean:.2f}, least {least:.2f}, of {len(FACTS)} facts.")
