"""Finished work: what is sprayed over it, what drifts onto it, and the masks that keep it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from haze.core.drafting.stock import Stock
from haze.core.onpiece.facts import Facts
from haze.core.plan.coat import Aim, Coat, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, fresh_id, index_of, inserted
from haze.core.rules.rule import Finding, Rule, is_varnish, sprayed_done, steps_done

BESIDE_SHARE = 0.004  # of the surface: less overspray than that nobody looks for (judged)
OVER_SHARE = 0.25  # of a finished part


def _names(plan: Plan) -> dict[str, str]:
    return {part.id: part.name for part in plan.piece.parts or ()}


def _addressed(step: Coat | HandStep) -> str | None:
    """The part a step goes to alone; None when it goes to more."""
    if step.paint is None:
        return None
    if step.aim and step.aim.field == "part" and not step.aim.reversed:
        return step.aim.part
    return step.part if step.kind == "hand" else None


def overspray(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A coat for one part that colours what lies beside it, to the end."""
    for i, coat in sprayed_done(plan):
        part = _addressed(coat)
        meant = facts.meant.get(coat.id)
        if part is None or meant is None or is_varnish(coat):
            continue
        off = facts.visibly_changed(i) & ~meant
        if off.mean() < BESIDE_SHARE:
            continue
        names = _names(plan)
        hit = max(facts.parts, key=lambda p: float((off & facts.parts[p]).sum()), default=part)
        on = f" on {names[hit].lower()}" if hit in names and hit != part else ""
        yield Finding(
            "overspray",
            coat.id,
            "mind",
            f"Overspray of {coat.name} goes past {names.get(part, 'its part').lower()}: "
            f"{off.mean():.1%} of the surface{on} changes colour by "
            "the end. Mask round it, or come nearer.",
            "Mask round it",
        )


def mask_round(plan: Plan, step: str, stock: Stock) -> Plan:
    """Everything but where an aimed coat goes under a mask, only while it is sprayed."""
    at, coat = coat_at(plan, step)
    assert coat.aim is not None
    return _masked(plan, at, at + 1, coat.aim.model_copy(update={"reversed": True}))


OVERSPRAY = Rule("overspray", overspray, mask_round)


def _finished(plan: Plan, index: int) -> list[str]:
    """Parts that have colour of their own before a step and get none after it, unmasked there."""
    done = [s for s in plan.coats[:index] if not s.off]
    coloured = _parts_of(done)
    own = set(coloured)
    for step in done:
        if step.kind == "hand" and step.role == "mask_on":
            own.discard(step.part or "")
        elif step.kind == "hand" and step.role == "mask_off":
            own |= {part for part in coloured if step.part in (None, part)}
    return sorted(own - _parts_of(plan.coats[index + 1 :]))


def _parts_of(steps: Iterable[Coat | HandStep]) -> set[str]:
    """Parts that steps give a colour of their own."""
    return {part for s in steps if not s.off and (part := _addressed(s))}


def over_finished(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A coat that covers a part whose own colour was laid before."""
    for i, coat in sprayed_done(plan):
        glows = coat.aim is not None and coat.aim.field == "glow"  # meant to lie over everything
        if glows or _addressed(coat) or coat.seen_through or is_varnish(coat):
            continue
        for part in _finished(plan, i):
            where = facts.parts.get(part)
            if where is None or not where.any():
                continue
            share = float(facts.visibly_changed(i)[where].mean())
            if share < OVER_SHARE:
                continue
            name = _names(plan).get(part, "a part").lower()
            yield Finding(
                "over_finished",
                coat.id,
                "mind",
                f"{coat.name} goes over {name}, which has its own colour already: {share:.0%} of "
                "it changes. Mask it, or paint it afterwards.",
                f"Mask {name}",
            )
            break


def mask_finished(plan: Plan, step: str, stock: Stock) -> Plan:
    """Finished parts under a mask until the next step that is meant for them."""
    at = index_of(plan, step)
    for part in reversed(_finished(plan, at)):
        rest = plan.coats[at + 1 :]
        meant = (
            n
            for n, s in enumerate(rest)
            if not s.off and (s.seen_through or is_varnish(s) or _addressed(s) == part)
        )
        plan = _masked(plan, at, at + 1 + next(meant, len(rest)), part)
    return plan


OVER_FINISHED = Rule("over_finished", over_finished, mask_finished)


def _masked(plan: Plan, on: int, off: int, what: str | Aim) -> Plan:
    """A mask over a part or a zone before one place, and off again before another."""
    region = {"part": what} if isinstance(what, str) else {"aim": what}
    for place, role in ((off, "mask_off"), (on, "mask_on")):
        step = HandStep.model_validate(
            {
                "id": fresh_id(plan, role.replace("_", "-")),
                "name": "Mask on" if role == "mask_on" else "Mask off",
                "role": role,
                "mask": "putty",
                **region,
            }
        )
        plan = inserted(plan, place, step)
    return plan


def mask_left(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """A mask that is never taken off."""
    for i, step in steps_done(plan):
        if step.kind != "hand" or step.role != "mask_on":
            continue
        mine = {"part": step.part, "aim": step.aim}
        if any(
            s.kind == "hand"
            and s.role == "mask_off"
            and ((s.part is None and s.aim is None) or {"part": s.part, "aim": s.aim} == mine)
            for s in plan.coats[i + 1 :]
            if not s.off
        ):
            continue
        yield Finding(
            "mask_left",
            step.id,
            "mind",
            f"{step.name} is never taken off: what lies under it stays as it is now. Take it off "
            "before the last varnish.",
            "Take it off",
        )


def take_off(plan: Plan, step: str, stock: Stock) -> Plan:
    """The mask off before the varnish that ends the plan, or at the end."""
    at = index_of(plan, step)
    mask = plan.coats[at]
    assert mask.kind == "hand"
    place = len(plan.coats)
    while place - 1 > at and is_varnish(plan.coats[place - 1]):
        place -= 1
    off = mask.model_copy(
        update={"id": fresh_id(plan, "mask-off"), "name": "Mask off", "role": "mask_off"}
    )
    return inserted(plan, place, off)


MASK_LEFT = Rule("mask_left", mask_left, take_off)
