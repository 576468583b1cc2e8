"""Colour over colour: what turns, specks, jumps or goes chalky."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from itertools import pairwise

from haze.core.drafting.coats import drafted
from haze.core.drafting.stock import Stock, pick, suited
from haze.core.errors import IncompatibleError, NothingFitsError
from haze.core.film.difference import hue_turn, oklch_of
from haze.core.film.ladder_ends import CHALK_WARNS, chalk_of
from haze.core.film.srgb import linear_of_hex, tone_of_rgb
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import Coat
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, fresh_id, ground_under, inserted, replaced
from haze.core.plan.mix import MOST_DROPS, Mix
from haze.core.plan.paint import PaintUsed
from haze.core.rules.rule import LADDER_TASKS, Finding, Rule, is_varnish, sprayed_done
from haze.core.spray.constants import PAINTS

WHITE_FROM, DARK_BELOW, SPECKY_STEP = 80.0, 35.0, 45.0  # L*
HUE_TURNS_DEG, HUE_CHROMA, DULLED = 8.0, 0.05, 0.65
GREY_CHROMA = 0.03  # OKLab; a grey or an off-white has no colour to lose
TOO_HIGH: dict[str, float] = {"rung": 24.0, "light": 45.0}  # L* between two of them


def white_over_black(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Light, hiding paint straight over a dark ground: the droplets themselves show."""
    for i, coat in sprayed_done(plan):
        if coat.task not in LADDER_TASKS or coat.mix.clear or is_varnish(coat):
            continue
        own, ground = coat.mix.tone, tone_of_rgb(facts.below(i))
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


def mid_tone_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A grey half way between the ground and the light coat, from the same stations."""
    at, coat = coat_at(plan, step)
    dark = ground_under(plan, at)
    ground = tone_of_rgb(coat.mix.rgb)
    middle = 0.5 * (ground + tone_of_rgb(linear_of_hex(dark)))

    def off(paint: PaintUsed) -> float:
        chroma = float(paint.lch[1])
        return abs(paint.tone - middle) + 120 * chroma

    paint = pick(
        stock,
        lambda p: p.hides and abs(p.tone - middle) < 15,
        off,
        f"opaque paint near {middle:.0f} L*",
    )
    mid = drafted(
        plan,
        stock,
        stem="mid",
        task=coat.task,
        paint=paint,
        stations=[s.station for s in coat.stations],
        over=dark,
        aim=coat.aim,
    )
    return inserted(plan, at, mid)


WHITE_OVER_BLACK = Rule("white_over_black", white_over_black, mid_tone_under)


def colour_turns(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A thin film over another colour looks like neither: yellow over black is green."""
    for i, coat in sprayed_done(plan):
        if coat.task not in ("cover", "rung") or coat.mix.clear:
            continue
        own = coat.mix.lch
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


def light_ground_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A light paint of the same hue, or white, under a colour that turns; as much as covers."""
    at, coat = coat_at(plan, step)
    own = coat.mix.lch

    def off(paint: PaintUsed) -> float:
        lch = paint.lch
        turn = abs(float(hue_turn(lch[2], own[2]))) if lch[1] > 0.03 else 20.0
        return turn + 100 * abs(float(lch[0]) - 0.9)

    paint = pick(
        stock,
        lambda p: p.hides and p.opacity == "opaque" and p.id != coat.paint.id and p.tone > 68,
        off,
        "light opaque paint",
    )
    ground = drafted(
        plan,
        stock,
        stem="ground",
        task="light",
        paint=paint,
        stations=[s.station for s in coat.stations],
        over=ground_under(plan, at),
        aim=coat.aim,
        film_um=20.0,
    )
    return inserted(plan, at, ground)


COLOUR_TURNS = Rule("colour_turns", colour_turns, light_ground_under)


def step_too_high(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Two rungs so far apart that the edge between them shows."""
    rungs = [(i, c) for i, c in sprayed_done(plan) if c.task in LADDER_TASKS and not c.mix.clear]
    for (_, low), (i, high) in pairwise(rungs):
        step = high.mix.tone - low.mix.tone
        dark = tone_of_rgb(facts.below(i)) <= DARK_BELOW and high.mix.tone >= WHITE_FROM
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


def mix_between(plan: Plan, step: str, stock: Stock) -> Plan:
    """A rung of both paints, one to one, between two that lie too far apart."""
    at, high = coat_at(plan, step)
    below = [
        c for c in plan.coats[:at] if c.kind == "spray" and not c.off and c.task in LADDER_TASKS
    ]
    if not below or below[-1].kind != "spray":
        raise NothingFitsError("There is no rung below to mix with.", field="step")
    low = below[-1]
    if PAINTS[low.paint.kind].chemistry != PAINTS[high.paint.kind].chemistry:
        raise IncompatibleError(
            f"{low.paint.name} and {high.paint.name} do not mix.", field="paint"
        )
    identity = fresh_id(plan, "between")
    mix = _half_way(low.mix, high.mix)
    rung = high.mixed_as(mix).model_copy(
        update={
            "id": identity,
            "name": mix.name,
            "stations": [
                s.model_copy(update={"id": f"{identity}-{n}"})
                for n, s in enumerate(high.stations, start=1)
            ],
        }
    )
    return inserted(plan, at, rung)


def _half_way(low: Mix, high: Mix) -> Mix:
    """The darker mix once and the lighter so often that both land nearest to half way."""
    goal = 0.5 * (low.tone + high.tone)
    mixes = [_together(low, high, times) for times in range(1, 9)]
    fitting = [mix for mix in mixes if max(d for _, d in mix.parts) <= MOST_DROPS] or mixes[:1]
    return min(fitting, key=lambda mix: abs(mix.tone - goal))


def _together(low: Mix, high: Mix, times: int) -> Mix:
    drops = Counter({paint.id: count for paint, count in low.parts})
    drops.update({paint.id: count * times for paint, count in high.parts})
    paints = {paint.id: paint for paint in (*low.paints, *high.paints)}
    return Mix.of(*((paints[identity], count) for identity, count in drops.items())).most_first()


STEP_TOO_HIGH = Rule("step_too_high", step_too_high, mix_between)


def chalky(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A highlight that white has robbed of its colour.

    It is judged by the colour that was asked for, or by the strongest rung below it; a gradient
    that was asked for ends where it was asked to.
    """
    asked = plan.asked.colours if plan.asked else ()
    if len(asked) > 1:
        return
    rungs = [c for _, c in sprayed_done(plan) if c.task == "rung"]
    for n, coat in enumerate(rungs):
        if not n:
            continue
        below = max(rungs[:n], key=lambda c: float(c.mix.lch[1]))
        middle = linear_of_hex(asked[0]) if asked else below.mix.rgb
        chalk = chalk_of(coat.mix.rgb, middle=middle)
        if chalk <= CHALK_WARNS or oklch_of(middle)[1] < GREY_CHROMA:
            continue
        yield Finding(
            "chalky",
            coat.id,
            "mind",
            f"{coat.name} is chalky: {chalk:.0%} of the colour "
            f"{'you asked for' if asked else f'of {below.name}'} is lost, more than its "
            "lightness costs. Lighten with a light paint of the same hue.",
            "Take a light paint of its hue",
        )


def lighter_of_its_hue(plan: Plan, step: str, stock: Stock) -> Plan:
    """A light paint of the ladder's hue instead of a chalky one."""
    at, coat = coat_at(plan, step)
    rungs = [c for c in plan.coats[:at] if c.kind == "spray" and not c.off and c.task == "rung"]
    strongest = max(rungs, key=lambda c: float(c.mix.lch[1]))
    middle = strongest.mix.rgb
    hue = float(oklch_of(middle)[2])
    wanted = tone_of_rgb(coat.mix.rgb)

    def fits(paint: PaintUsed) -> bool:
        rgb = paint.rgb
        _, chroma, own = (float(v) for v in oklch_of(rgb))
        near = chroma > 0.03 and abs(float(hue_turn(own, hue))) < 45
        lighter = paint.tone > tone_of_rgb(middle) + 6
        return paint.hides and near and lighter and chalk_of(rgb, middle=middle) <= CHALK_WARNS

    paint = pick(stock, fits, lambda p: abs(p.tone - wanted), "light, strong paint of this hue")
    return replaced(plan, at, suited(_only(paint, coat), stock))


def _only(paint: PaintUsed, coat: Coat) -> Coat:
    return coat.mixed_as(Mix.of((paint, 1))).model_copy(update={"name": paint.name})


CHALKY = Rule("chalky", chalky, lighter_of_its_hue)


def transparent_light(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A light coat of transparent paint over dark: it cannot make anything lighter."""
    for i, coat in sprayed_done(plan):
        if coat.task not in LADDER_TASKS or not coat.mix.clear:
            continue
        ground = tone_of_rgb(facts.below(i))
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


def opaque_instead(plan: Plan, step: str, stock: Stock) -> Plan:
    """The opaque paint nearest in colour instead of a transparent one."""
    at, coat = coat_at(plan, step)
    own = coat.mix.lch
    ground = tone_of_rgb(linear_of_hex(ground_under(plan, at)))

    def off(paint: PaintUsed) -> float:
        lch = paint.lch
        turn = abs(float(hue_turn(lch[2], own[2]))) if own[1] > 0.03 else 0.0
        return turn + 60 * abs(float(lch[1] - own[1]))

    paint = pick(
        stock,
        lambda p: p.hides and p.tone > max(ground + 8, 40),
        off,
        "opaque paint lighter than the ground",
    )
    return replaced(plan, at, suited(_only(paint, coat), stock))


TRANSPARENT_LIGHT = Rule("transparent_light", transparent_light, opaque_instead)
