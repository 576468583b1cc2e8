"""What must come before what."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import ceil

from haze.core.day.waits import SPIRIT_OVER_VARNISH_S, before_tape_s
from haze.core.drafting.coats import GROUND, drafted
from haze.core.drafting.stock import Stock, varnish_of
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import fresh_id, ground_under, index_of, inserted, moved
from haze.core.plan.roles import ALL_ROUND, SPIRIT_ROLES, TaskName
from haze.core.rules.rule import Finding, Rule, after, before, is_varnish, sprayed_done, steps_done
from haze.core.spray.constants import PAINTS

COLOUR_TASKS = ("cover", "light", "rung", "tint", "veil", "glow")


def groundwork_unsealed(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Groundwork that is soft or dissolves, and no seal before the first coat."""
    first = next(steps_done(plan), None)
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


def seal_first(plan: Plan, step: str, stock: Stock) -> Plan:
    """Begin with a thin seal all round."""
    paint = varnish_of(stock, ("matt", "satin", "ultra_matt", "gloss"))
    seal = drafted(
        plan,
        stock,
        stem="seal",
        task="seal",
        paint=paint,
        stations=GROUND,
        over=plan.piece.surface,
    )
    return inserted(plan, index_of(plan, step), seal)


GROUNDWORK_UNSEALED = Rule("groundwork_unsealed", groundwork_unsealed, seal_first)


def spirit_unprotected(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Spirit over acrylic that no varnish protects."""
    for i, step in steps_done(plan):
        if not _holds_spirit(step):
            continue
        under = [s for s in before(plan, i) if s.kind == "spray" and not _holds_spirit(s)]
        if not under or is_varnish(under[-1]):
            continue
        yield Finding(
            "spirit_unprotected",
            step.id,
            "stop",
            f"{step.name} brings spirit onto bare {under[-1].name}: rubbing lifts acrylic. Varnish "
            f"first and let it cure {_hours(SPIRIT_OVER_VARNISH_S)}.",
            "Add a protecting varnish under it",
        )


def _holds_spirit(step: Coat | HandStep) -> bool:
    if step.kind == "hand" and step.role in SPIRIT_ROLES:
        return True
    if step.paint is not None and PAINTS[step.paint.kind].chemistry == "enamel":
        return True
    return step.kind == "spray" and step.thinner.kind == "spirit"


def varnish_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A protecting varnish under a step."""
    return _varnished(plan, step, stock, ("satin", "gloss"))


def _varnished(plan: Plan, step: str, stock: Stock, finishes: Sequence[str]) -> Plan:
    at = index_of(plan, step)
    paint = varnish_of(stock, finishes)
    task: TaskName = "gloss" if paint.finish == "gloss" else "satin"
    coat = drafted(
        plan,
        stock,
        stem="varnish",
        task=task,
        paint=paint,
        stations=GROUND,
        over=ground_under(plan, at),
    )
    return inserted(plan, at, coat)


SPIRIT_UNPROTECTED = Rule("spirit_unprotected", spirit_unprotected, varnish_under)


def metal_late(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Metal sprayed over everything after its neighbours are finished."""
    for i, coat in sprayed_done(plan):
        if coat.task != "metal" and coat.paint.kind != "metallic":
            continue
        if coat.aim and coat.aim.field == "part":
            continue
        spoiled = [s for s in before(plan, i) if s.kind == "spray" and s.task in COLOUR_TASKS]
        masked = any(s.kind == "hand" and s.role == "mask_on" for s in before(plan, i))
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


def metal_first(plan: Plan, step: str, stock: Stock) -> Plan:
    """Metal straight after the grounds, before the first colour."""
    at = index_of(plan, step)
    first = next(
        i for i, s in enumerate(plan.coats) if s.kind != "spray" or s.task not in ALL_ROUND
    )
    return moved(plan, at, min(first, at))


METAL_LATE = Rule("metal_late", metal_late, metal_first)


def wash_on_matt(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A wash on a matt surface creeps and stains instead of running into the recesses."""
    for i, step in steps_done(plan):
        if not step.washes:
            continue
        under = [s for s in before(plan, i) if not s.washes and s.kind == "spray"]
        if not under or under[-1].optics.surface < 0.02:
            continue
        yield Finding(
            "wash_on_matt",
            step.id,
            "mind",
            f"{step.name} goes on matt {under[-1].name}: it stains flat places and dries cloudy. A "
            "thin gloss under it lets it run and be wiped.",
            "Add gloss under it",
        )


def gloss_under(plan: Plan, step: str, stock: Stock) -> Plan:
    """A gloss varnish under a wash."""
    return _varnished(plan, step, stock, ("gloss", "satin"))


WASH_ON_MATT = Rule("wash_on_matt", wash_on_matt, gloss_under)


def ink_unsealed(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Transparent colour over ink that was not sealed: it wakes the ink up again."""
    for i, coat in sprayed_done(plan):
        if coat.paint.kind == "ink" or is_varnish(coat) or not coat.mix.clear:
            continue
        under = [s for s in before(plan, i) if s.paint is not None]
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


INK_UNSEALED = Rule("ink_unsealed", ink_unsealed, varnish_under)


def dry_brush_early(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Dry brush or tape over primer that has not cured."""
    for i, step in steps_done(plan):
        if step.kind != "hand" or not (
            step.role == "dry_brush" or (step.masks and step.masks.pulls)
        ):
            continue
        waited, kind = _since_spray(before(plan, i))
        needed = before_tape_s(kind) if kind else 0.0
        if waited >= needed:
            continue
        what = step.masks.label.capitalize() if step.masks else "A dry brush"
        yield Finding(
            "dry_brush_early",
            step.id,
            "mind",
            f"{what} comes {_hours(waited)} after {kind.replace('_', ' ')}, which needs "
            f"{_hours(needed)}: it pulls fresh paint off. Let it rest.",
            f"Add a rest of {_hours(needed - waited)} before it",
        )


def _since_spray(below: Sequence[Coat | HandStep]) -> tuple[float, str]:
    """Seconds waited since the last sprayed coat, and its kind of paint; "" without one."""
    waited = 0.0
    for under in reversed(below):
        if under.kind == "spray":
            return waited, under.paint.kind
        waited += under.wait_min * 60.0
    return waited, ""


def _hours(seconds: float) -> str:
    return f"{seconds / 60:.0f} min" if seconds < 3600 else f"{seconds / 3600:.3g} h"


def rest_before(plan: Plan, step: str, stock: Stock) -> Plan:
    """A rest that lets the paint below cure."""
    at = index_of(plan, step)
    waited, kind = _since_spray(before(plan, at))
    minutes = ceil((before_tape_s(kind) - waited) / 60.0)
    rest = HandStep(id=fresh_id(plan, "rest"), name="Let it cure", role="rest", minutes=minutes)
    return inserted(plan, at, rest)


DRY_BRUSH_EARLY = Rule("dry_brush_early", dry_brush_early, rest_before)


def matt_before_wash(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """The matt varnish before the wash it should follow."""
    for i, coat in sprayed_done(plan):
        if coat.task != "matt" or not any(s.washes for s in after(plan, i)):
            continue
        yield Finding(
            "matt_before_wash",
            coat.id,
            "mind",
            f"{coat.name} comes before a wash: the wash will stain it, and leave its own shine on "
            "top. Matt comes last.",
            "Move it behind the last wash",
        )


def behind_last_wash(plan: Plan, step: str, stock: Stock) -> Plan:
    """The matt varnish behind the last wash."""
    at = index_of(plan, step)
    last = max(i for i, s in enumerate(plan.coats) if s.washes and not s.off)
    return moved(plan, at, last)


MATT_BEFORE_WASH = Rule("matt_before_wash", matt_before_wash, behind_last_wash)
