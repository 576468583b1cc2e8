"""What shows at the end, and what does not."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from haze.core.drafting.coats import drafted
from haze.core.drafting.stock import Stock, pick
from haze.core.drafting.targets import wanted_colours
from haze.core.film.srgb import linear_of_hex, tone_of_rgb
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import MOST_STATIONS, StationAt
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, ground_under, index_of, inserted, replaced
from haze.core.rules.colour import DARK_BELOW, WHITE_FROM
from haze.core.rules.rule import LADDER_TASKS, Finding, Rule, is_varnish, sprayed_done, steps_done

HIDDEN_SHARE = 0.01
HIGHLIGHT = 90.0  # percentile of the light
SINKS_BY, VEIL_SINKS_BY = 8.0, 30.0  # L*; a veil is the colour itself and may sink farther
GLOW_AT, GLOW_LEAST = 0.35, 4.0
UNDERSIDE_Z, MOST_BARE = -0.6, 0.08
MORE_FILM = 0.45  # of a tint's passes that stay when it is laid thinner (judged)
BELOW: tuple[tuple[float, float], ...] = ((45, -50), (135, -50), (225, -50), (315, -50))


def nobody_sees(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A step that changes nothing anybody sees at the end."""
    for i, step in steps_done(plan):
        # a ground or a varnish has other work to do than to be seen
        if (
            step.paint is None
            or is_varnish(step)
            or (step.kind == "spray" and step.task == "prime")
        ):
            continue
        shown = facts.shown(i)
        if shown >= HIDDEN_SHARE or _bridges(plan, facts, i):
            continue
        yield Finding(
            "nobody_sees",
            step.id,
            "mind",
            f"{step.name} will not show: it changes {shown:.1%} of the surface by the end. "
            "Leave it out, or make what comes after thinner.",
            "Switch it off",
        )


def _bridges(plan: Plan, facts: Facts, place: int) -> bool:
    """Whether a light coat lies under a white that would speck without it."""
    after = [c for i, c in sprayed_done(plan) if i > place and c.task in LADDER_TASKS]
    own = plan.coats[place]
    return (
        own.kind == "spray"
        and own.task in LADDER_TASKS
        and bool(after)
        and after[0].mix.tone >= WHITE_FROM
        and tone_of_rgb(facts.below(place)) <= DARK_BELOW
    )


def switch_off(plan: Plan, step: str, stock: Stock) -> Plan:
    """Leave a step out without losing it."""
    at = index_of(plan, step)
    return replaced(plan, at, plan.coats[at].model_copy(update={"off": True}))


NOBODY_SEES = Rule("nobody_sees", nobody_sees, switch_off)


def highlight_sinks(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A later tint pulls the highlight below what the light asks for."""
    lights = [i for i, c in sprayed_done(plan) if c.task in LADDER_TASKS]
    if not lights:
        return
    top = facts.light >= np.percentile(facts.light, HIGHLIGHT)
    reached = float(facts.lightness(lights[-1] + 1)[top].mean())
    asked = asked_light(plan)
    for i, step in steps_done(plan):
        tint = step.kind == "spray" and step.task in ("tint", "veil", "wash")
        if i < lights[-1] or not (tint or step.washes):
            continue
        before, after = (float(facts.lightness(n)[top].mean()) for n in (i, i + 1))
        veil = step.kind == "spray" and step.task == "veil"
        if before - after < (VEIL_SINKS_BY if veil else SINKS_BY) or after > 0.85 * reached:
            continue
        if asked is not None and after >= asked - SINKS_BY:
            continue  # it was laid too bright on purpose, to end where it was asked to
        yield Finding(
            "highlight_sinks",
            step.id,
            "mind",
            f"{step.name} pulls the highlight down {before - after:.0f} L*, to {after:.0f}: no "
            "longer what the light wants. Lay it thinner, or go lighter before it.",
            "Lay it thinner",
        )


def asked_light(plan: Plan) -> float | None:
    """L* the highlight was asked to end at; None for a plan without an asked colour.

    Parameters
    ----------
    plan : its gradient may run from dark to light along another way than the light
    """
    if plan.asked is None:
        return None
    wanted = wanted_colours(np.stack([linear_of_hex(c) for c in plan.asked.colours]))
    tones = [tone_of_rgb(rgb) for rgb in wanted]
    return tones[-1] if plan.asked.along == "light" else min(tones)


def thinner_tint(plan: Plan, step: str, stock: Stock) -> Plan:
    """Fewer passes of a tint; a wash by brush a good deal weaker."""
    at = index_of(plan, step)
    one = plan.coats[at]
    if one.kind == "hand":
        weaker = one.model_copy(update={"strength": max(0.05, one.strength * MORE_FILM)})
        return replaced(plan, at, weaker)
    if one.aim:
        aim = one.aim.model_copy(update={"passes": max(1, int(one.aim.passes * MORE_FILM))})
        return replaced(plan, at, one.model_copy(update={"aim": aim}))
    stations = [
        s.model_copy(update={"passes": max(1, int(s.passes * MORE_FILM))}) for s in one.stations
    ]
    changed = one.model_copy(update={"stations": stations})
    if changed == one:
        # one pass is the least: a faster hand lays less in it
        spray = one.spray.model_copy(update={"speed_mm_s": min(1000.0, one.spray.speed_mm_s * 2)})
        changed = one.model_copy(update={"spray": spray})
    return replaced(plan, at, changed)


HIGHLIGHT_SINKS = Rule("highlight_sinks", highlight_sinks, thinner_tint)


def glow_too_dark(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A glow that is no brighter than what surrounds it."""
    for _, coat in sprayed_done(plan):
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


def white_under_glow(plan: Plan, step: str, stock: Stock) -> Plan:
    """White round the same glow, under its colour."""
    at, coat = coat_at(plan, step)
    paint = pick(
        stock,
        lambda p: p.hides and p.tone > 88,
        lambda p: -p.tone,
        "white",
    )
    white = drafted(
        plan,
        stock,
        stem="hot",
        task="glow",
        paint=paint,
        stations=[],
        over=ground_under(plan, at),
        aim=coat.aim,
        film_um=24.0,
    )
    return inserted(plan, at, white)


GLOW_TOO_DARK = Rule("glow_too_dark", glow_too_dark, white_under_glow)


def underside_bare(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """The underside that spray could reach is never covered."""
    prime = next((c for _, c in sprayed_done(plan) if c.task == "prime"), None)
    if prime is None or not prime.stations:
        return
    below = facts.reachable & (facts.normals[:, 2] < UNDERSIDE_Z)
    if not below.any():
        return
    bare = float((facts.film_um.sum(axis=0)[below] < 1.0).mean())
    if bare < MOST_BARE:
        return
    yield Finding(
        "underside_bare",
        prime.id,
        "mind",
        f"{bare:.0%} of the underside stays bare although spray can reach it. The ground needs "
        "stations from below.",
        "Add stations from below",
    )


def stations_below(plan: Plan, step: str, stock: Stock) -> Plan:
    """Stations from below for the ground coat."""
    at, coat = coat_at(plan, step)
    passes = max(s.passes for s in coat.stations)
    taken = {s.id for c in plan.sprayed for s in c.stations}
    added: list[StationAt] = []
    for azimuth, elevation in BELOW:
        n = 1
        while f"{coat.id}-below-{n}"[-64:] in taken:
            n += 1
        name = f"{coat.id}-below-{n}"[-64:]
        taken.add(name)
        added.append(
            StationAt(
                id=name, azimuth_deg=azimuth, elevation_deg=elevation, spread_deg=25, passes=passes
            )
        )
    room = MOST_STATIONS - len(coat.stations)
    return replaced(plan, at, coat.model_copy(update={"stations": [*coat.stations, *added[:room]]}))


UNDERSIDE_BARE = Rule("underside_bare", underside_bare, stations_below)
