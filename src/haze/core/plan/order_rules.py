"""The rules of order: what in a plan would spoil work, why, and the one change that mends it.

Each rule is a pure function of the plan and of what it does on the piece; it names the step it
concerns. Each fix is a pure function from a plan to a plan that changes nothing else. Thresholds
are judged.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from haze.core.film.difference import hue_turn, oklch_of
from haze.core.film.ladder import CHALK_WARNS, chalk_of
from haze.core.film.paint import is_clear, masstone_rgb
from haze.core.plan import fixes
from haze.core.plan.document import Coat, HandStep, Plan
from haze.core.plan.facts import Facts, Stock, lightness_of_rgb
from haze.core.plan.painting import coat_optics
from haze.core.plan.roles import CLEAR, SPIRIT_ROLES, is_wash
from haze.core.plan.waits import before_tape_s
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.constants import PAINTS, THINNERS, suits

Sign = Literal["mind", "stop"]

WHITE_FROM, DARK_BELOW, SPECKY_STEP = 80.0, 35.0, 45.0  # L*
HUE_TURNS_DEG, HUE_CHROMA, DULLED = 8.0, 0.05, 0.65
TOO_HIGH: dict[str, float] = {"rung": 24.0, "light": 45.0}  # L* between two of them
HIDDEN_SHARE = 0.01
HIGHLIGHT = 90.0  # percentile of the light
SINKS_BY, VEIL_SINKS_BY = 8.0, 30.0  # L*; a veil is the colour itself and may sink farther
GLOW_AT, GLOW_LEAST = 0.35, 4.0
UNDERSIDE_Z, UNDERSIDE_BARE = -0.6, 0.08
COLOUR_TASKS = ("cover", "light", "rung", "tint", "veil", "glow")
LADDER_TASKS = ("light", "rung")


@dataclass(frozen=True, slots=True)
class Finding:
    """What a rule found: on which step, what and why with its number, and what the fix does."""

    rule: str
    step: str
    sign: Sign
    what: str
    fix: str | None


Fix = Callable[[Plan, str, Stock], Plan]


@dataclass(frozen=True, slots=True)
class Rule:
    """A rule: how it looks at a plan, and how it mends one."""

    id: str
    look: Callable[[Plan, Facts], Iterator[Finding]]
    fix: Fix | None


def _steps(plan: Plan) -> Iterator[tuple[int, Coat | HandStep]]:
    for i, step in enumerate(plan.coats):
        if not step.off:
            yield i, step


def _sprayed(plan: Plan) -> Iterator[tuple[int, Coat]]:
    for i, step in _steps(plan):
        if step.kind == "spray":
            yield i, step


def _before(plan: Plan, index: int) -> list[Coat | HandStep]:
    return [s for s in plan.coats[:index] if not s.off]


def _after(plan: Plan, index: int) -> list[Coat | HandStep]:
    return [s for s in plan.coats[index + 1 :] if not s.off]


def _is_clear(step: Coat | HandStep) -> bool:
    return step.kind == "spray" and step.task in CLEAR


def _own_lightness(step: Coat | HandStep) -> float:
    return lightness_of_rgb(masstone_rgb(coat_optics(step)))


def _is_transparent(step: Coat | HandStep) -> bool:
    return is_clear(coat_optics(step))


# colour over colour -------------------------------------------------------------------------------


def white_over_black(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Light, hiding paint straight over a dark ground: the droplets themselves show."""
    for i, coat in _sprayed(plan):
        if coat.task not in LADDER_TASKS or _is_transparent(coat) or _is_clear(coat):
            continue
        own, ground = _own_lightness(coat), lightness_of_rgb(facts.below(i))
        if own < WHITE_FROM or ground > DARK_BELOW or own - ground < SPECKY_STEP:
            continue
        yield Finding(
            "white_over_black",
            coat.id,
            "mind",
            f"{coat.name} straight over dark will speck: the step is {own - ground:.0f} L*. "
            "Put a mid grey between, or thin it further and give more passes.",
            "Add a mid tone under it",
        )


def colour_turns(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A thin film over another colour looks like neither: yellow over black is green."""
    for i, coat in _sprayed(plan):
        if coat.task not in ("cover", "rung") or _is_transparent(coat):
            continue
        own = oklch_of(masstone_rgb(coat_optics(coat)))
        where = facts.landed(i)
        if not where.any() or own[1] < HUE_CHROMA:
            continue
        now = oklch_of(facts.mean_rgb(i + 1, where))
        turn = float(hue_turn(now[2], own[2]))
        # over a light ground a thin film is purer than its masstone: that is no fault
        if abs(turn) < HUE_TURNS_DEG or now[1] > DULLED * own[1]:
            continue
        yield Finding(
            "colour_turns",
            coat.id,
            "mind",
            f"{coat.name} turns {abs(turn):.0f}° of hue and loses "
            f"{1 - now[1] / own[1]:.0%} of its colour over what lies under it: "
            f"{facts.full_um[i]:.1f} µm do not hide it. A light ground of its own hue under it "
            "keeps it clean.",
            "Add a light ground under it",
        )


def step_too_high(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Two rungs so far apart that the edge between them shows."""
    rungs = [(i, c) for i, c in _sprayed(plan) if c.task in LADDER_TASKS and not _is_transparent(c)]
    for (_, low), (i, high) in pairwise(rungs):
        step = _own_lightness(high) - _own_lightness(low)
        dark = lightness_of_rgb(facts.below(i)) <= DARK_BELOW and _own_lightness(high) >= WHITE_FROM
        limit = TOO_HIGH[high.task]
        if step < limit or dark:
            continue
        yield Finding(
            "step_too_high",
            high.id,
            "mind",
            f"{low.name} to {high.name} is one step of {step:.0f} L*; above {limit:.0f} the "
            "edge shows. Put a mix of both between.",
            "Add the mix between",
        )


def chalky(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A highlight that white has robbed of its colour."""
    rungs = [c for _, c in _sprayed(plan) if c.task == "rung"]
    for n, coat in enumerate(rungs):
        if not n:
            continue
        below = max(rungs[:n], key=lambda c: float(oklch_of(masstone_rgb(coat_optics(c)))[1]))
        chalk = chalk_of(masstone_rgb(coat_optics(coat)), middle=masstone_rgb(coat_optics(below)))
        if chalk <= CHALK_WARNS:
            continue
        yield Finding(
            "chalky",
            coat.id,
            "mind",
            f"{coat.name} is chalky: {chalk:.0%} of the colour of {below.name} is lost, more "
            "than its lightness costs. Lighten with a light paint of the same hue.",
            "Take a light paint of its hue",
        )


def transparent_light(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A light coat of transparent paint over dark: it cannot make anything lighter."""
    for i, coat in _sprayed(plan):
        if coat.task not in LADDER_TASKS or not _is_transparent(coat):
            continue
        ground = lightness_of_rgb(facts.below(i))
        if ground >= 40.0:
            continue
        yield Finding(
            "transparent_light",
            coat.id,
            "mind",
            f"{coat.name} is transparent and lies over {ground:.0f} L*: no light comes back "
            "from below it. Take an opaque paint for the light, and this one over it as a tint.",
            "Take an opaque paint near its colour",
        )


# order --------------------------------------------------------------------------------------------


def metal_late(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Metal sprayed over everything after its neighbours are finished."""
    for i, coat in _sprayed(plan):
        if coat.task != "metal" and coat.paint.kind != "metallic":
            continue
        if coat.aim and coat.aim.field == "part":
            continue
        spoiled = [s for s in _before(plan, i) if s.kind == "spray" and s.task in COLOUR_TASKS]
        masked = any(s.kind == "hand" and s.role == "mask_on" for s in _before(plan, i))
        if not spoiled or masked:
            continue
        yield Finding(
            "metal_late",
            coat.id,
            "mind",
            f"{coat.name} dusts over {len(spoiled)} finished "
            f"coat{'s' if len(spoiled) > 1 else ''}, and flake cannot be wiped off. Metals come "
            "first.",
            "Move it before the colours",
        )


def wash_on_matt(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A wash on a matt surface creeps and stains instead of running into the recesses."""
    for i, step in _steps(plan):
        if not is_wash(step):
            continue
        under = [s for s in _before(plan, i) if not is_wash(s) and s.kind == "spray"]
        if not under or coat_optics(under[-1]).surface < 0.02:
            continue
        yield Finding(
            "wash_on_matt",
            step.id,
            "mind",
            f"{step.name} goes on matt {under[-1].name}: it stains flat places and dries cloudy. A "
            "thin gloss under it lets it run and be wiped.",
            "Add gloss under it",
        )


def spirit_unprotected(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Spirit over acrylic that no varnish protects."""
    for i, step in _steps(plan):
        if not _holds_spirit(step):
            continue
        under = [s for s in _before(plan, i) if s.kind == "spray" and not _holds_spirit(s)]
        if not under or _is_clear(under[-1]):
            continue
        yield Finding(
            "spirit_unprotected",
            step.id,
            "stop",
            f"{step.name} brings spirit onto bare {under[-1].name}: rubbing lifts acrylic. Varnish "
            "first and let it cure 24 h.",
            "Add a protecting varnish under it",
        )


def _holds_spirit(step: Coat | HandStep) -> bool:
    if step.kind == "hand" and step.role in SPIRIT_ROLES:
        return True
    if step.paint is not None and PAINTS[step.paint.kind].chemistry == "enamel":
        return True
    return step.kind == "spray" and step.thinner.kind == "spirit"


def ink_unsealed(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Transparent colour over ink that was not sealed: it wakes the ink up again."""
    for i, coat in _sprayed(plan):
        if coat.paint.kind == "ink" or _is_clear(coat) or not _is_transparent(coat):
            continue
        under = [s for s in _before(plan, i) if s.paint is not None]
        if not under or under[-1].paint is None or under[-1].paint.kind != "ink":
            continue
        yield Finding(
            "ink_unsealed",
            coat.id,
            "mind",
            f"{coat.name} lies on unsealed {under[-1].name}: ink dissolves again and bleeds into "
            "what is transparent. A thin varnish between stops it.",
            "Seal the ink under it",
        )


def groundwork_unsealed(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Groundwork that is soft or dissolves, and no seal before the first coat."""
    first = next(_steps(plan), None)
    if plan.piece.groundwork == "none" or first is None:
        return
    _, step = first
    if step.kind == "spray" and step.task == "seal":
        return
    harm = {
        "plaster": "water softens it and it drinks the primer",
        "cork": "it drinks the primer and crumbles",
        "foam": "solvent melts it",
    }[plan.piece.groundwork]
    yield Finding(
        "groundwork_unsealed",
        step.id,
        "stop" if plan.piece.groundwork == "foam" else "mind",
        f"The {plan.piece.groundwork} groundwork is not sealed: {harm}. Seal it first, thin, "
        "twice.",
        "Add a seal first",
    )


def dry_brush_early(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Dry brush or tape over primer that has not cured."""
    for i, step in _steps(plan):
        if step.kind != "hand" or step.role not in ("dry_brush", "mask_on"):
            continue
        waited, kind = 0.0, ""
        for under in reversed(_before(plan, i)):
            if under.kind == "spray":
                kind = under.paint.kind
                break
            waited += under.wait_min * 60.0
        needed = before_tape_s(kind) if kind else 0.0
        if waited >= needed:
            continue
        what = "Tape" if step.role == "mask_on" else "A dry brush"
        yield Finding(
            "dry_brush_early",
            step.id,
            "mind",
            f"{what} comes {_hours(waited)} after {kind.replace('_', ' ')}, which needs "
            f"{_hours(needed)}: it pulls fresh paint off. Let it rest.",
            f"Add a rest of {_hours(needed - waited)} before it",
        )


def _hours(seconds: float) -> str:
    return f"{seconds / 60:.0f} min" if seconds < 3600 else f"{seconds / 3600:.3g} h"


def matt_before_wash(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """The matt varnish before the wash it should follow."""
    for i, coat in _sprayed(plan):
        if coat.task != "matt" or not any(is_wash(s) for s in _after(plan, i)):
            continue
        yield Finding(
            "matt_before_wash",
            coat.id,
            "mind",
            f"{coat.name} comes before a wash: the wash will stain it, and leave its own shine on "
            "top. Matt comes last.",
            "Move it behind the last wash",
        )


# what shows ---------------------------------------------------------------------------------------


def nobody_sees(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A step that changes nothing anybody sees at the end."""
    for i, step in _steps(plan):
        # a ground or a varnish has other work to do than to be seen
        if step.paint is None or _is_clear(step) or (step.kind == "spray" and step.task == "prime"):
            continue
        shown = facts.shown(i)
        if shown >= HIDDEN_SHARE:
            continue
        yield Finding(
            "nobody_sees",
            step.id,
            "mind",
            f"Nobody will see {step.name}: it changes {shown:.1%} of the surface by the end. "
            "Leave it out, or make what comes after thinner.",
            "Switch it off",
        )


def highlight_sinks(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A later tint pulls the highlight below what the light asks for."""
    lights = [i for i, c in _sprayed(plan) if c.task in LADDER_TASKS]
    if not lights:
        return
    top = facts.light >= np.percentile(facts.light, HIGHLIGHT)
    reached = float(facts.lightness(lights[-1] + 1)[top].mean())
    for i, step in _steps(plan):
        tint = step.kind == "spray" and step.task in ("tint", "veil", "wash")
        if i < lights[-1] or not (tint or is_wash(step)):
            continue
        before, after = (float(facts.lightness(n)[top].mean()) for n in (i, i + 1))
        veil = step.kind == "spray" and step.task == "veil"
        if before - after < (VEIL_SINKS_BY if veil else SINKS_BY) or after > 0.85 * reached:
            continue
        yield Finding(
            "highlight_sinks",
            step.id,
            "mind",
            f"{step.name} pulls the highlight down {before - after:.0f} L*, to {after:.0f}: no "
            "longer what the light wants. Lay it thinner, or go lighter before it.",
            "Lay it thinner",
        )


def glow_too_dark(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A glow that is no brighter than what surrounds it."""
    for _, coat in _sprayed(plan):
        glow = facts.glow.get(coat.aim.light or "") if coat.aim else None
        if coat.aim is None or coat.aim.field != "glow" or glow is None:
            continue
        near = glow >= GLOW_AT * max(float(glow.max()), 1e-6)
        around = (glow < 0.15 * max(float(glow.max()), 1e-6)) & facts.landed(0)
        if not near.any() or not around.any():
            continue
        lightness = facts.lightness(len(plan.coats))
        gap = float(lightness[near].mean() - lightness[around].mean())
        if gap >= GLOW_LEAST:
            continue
        yield Finding(
            "glow_too_dark",
            coat.id,
            "mind",
            f"{coat.name} does not glow: next to its source it is {abs(gap):.0f} L* "
            f"{'darker than' if gap < 0 else 'above'} its surroundings. White where it is hottest, "
            "under the colour, makes it shine.",
            "Add white under the glow",
        )


def underside_bare(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """The underside that spray could reach is never covered."""
    prime = next((c for _, c in _sprayed(plan) if c.task == "prime"), None)
    if prime is None or not prime.stations:
        return
    below = facts.reachable & (facts.normals[:, 2] < UNDERSIDE_Z)
    if not below.any():
        return
    bare = float((facts.film_um.sum(axis=0)[below] < 1.0).mean())
    if bare < UNDERSIDE_BARE:
        return
    yield Finding(
        "underside_bare",
        prime.id,
        "mind",
        f"{bare:.0%} of the underside stays bare although spray can reach it. The ground needs "
        "stations from below.",
        "Add stations from below",
    )


# materials ----------------------------------------------------------------------------------------


def thinner_spoils(plan: Plan, facts: Facts | None = None) -> Iterator[Finding]:
    """A thinner of another chemistry."""
    for _, coat in _sprayed(plan):
        for paint in [coat.paint, *(m.paint for m in coat.also)]:
            if suits(PAINTS[paint.kind], THINNERS[coat.thinner.kind]):
                continue
            yield Finding(
                "thinner_spoils",
                coat.id,
                "stop",
                f"{coat.thinner.name} spoils {paint.name}: {paint.kind.replace('_', ' ')} needs a "
                "thinner of its own chemistry.",
                "Take a thinner that suits",
            )
            break


def needle_too_fine(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Pigment too coarse for the needle."""
    for i, coat in _sprayed(plan):
        coarse = PAINTS[coat.paint.kind].top_size_um
        if coarse < 8 or facts.no_flow[i] < CLEAN_BELOW or plan.airbrush.needle_mm >= 0.45:
            continue
        yield Finding(
            "needle_too_fine",
            coat.id,
            "mind",
            f"{coat.paint.name} has flakes up to {coarse:.0f} µm: at this trigger a "
            f"{plan.airbrush.needle_mm:g} mm needle clogs (risk {facts.no_flow[i]:.0%}). Take a "
            "wider needle.",
            "Take a wider airbrush",
        )


RULES: tuple[Rule, ...] = (
    Rule("thinner_spoils", thinner_spoils, fixes.suiting_thinner),
    Rule("groundwork_unsealed", groundwork_unsealed, fixes.seal_first),
    Rule("spirit_unprotected", spirit_unprotected, fixes.varnish_under),
    Rule("white_over_black", white_over_black, fixes.mid_tone_under),
    Rule("colour_turns", colour_turns, fixes.light_ground_under),
    Rule("step_too_high", step_too_high, fixes.mix_between),
    Rule("chalky", chalky, fixes.lighter_of_its_hue),
    Rule("transparent_light", transparent_light, fixes.opaque_instead),
    Rule("metal_late", metal_late, fixes.metal_first),
    Rule("wash_on_matt", wash_on_matt, fixes.gloss_under),
    Rule("ink_unsealed", ink_unsealed, fixes.varnish_under),
    Rule("dry_brush_early", dry_brush_early, fixes.rest_before),
    Rule("matt_before_wash", matt_before_wash, fixes.behind_last_wash),
    Rule("nobody_sees", nobody_sees, fixes.switch_off),
    Rule("highlight_sinks", highlight_sinks, fixes.thinner_tint),
    Rule("glow_too_dark", glow_too_dark, fixes.white_under_glow),
    Rule("underside_bare", underside_bare, fixes.stations_below),
    Rule("needle_too_fine", needle_too_fine, fixes.wider_needle),
)
BY_ID: dict[str, Rule] = {rule.id: rule for rule in RULES}


def findings(plan: Plan, facts: Facts) -> list[Finding]:
    """All findings of a plan, the gravest first; silenced ones are left out."""
    quiet = {(s.rule, s.step) for s in plan.silenced}
    found = [f for rule in RULES for f in rule.look(plan, facts) if (f.rule, f.step) not in quiet]
    order = {step.id: i for i, step in enumerate(plan.coats)}
    return sorted(found, key=lambda f: (f.sign != "stop", order[f.step]))
