"""Paint, thinner and needle that do not go together."""

from __future__ import annotations

from collections.abc import Iterator

from haze.core.drafting.stock import Stock, own_thinner
from haze.core.errors import NothingFitsError
from haze.core.onpiece.facts import Facts
from haze.core.onpiece.painting import Spraying
from haze.core.plan.document import Plan
from haze.core.plan.edits import coat_at, replaced
from haze.core.plan.words import SHELF_LACKS
from haze.core.rules.rule import Finding, Rule, sprayed_done
from haze.core.spray.advice import CLEAN_BELOW
from haze.core.spray.constants import PAINTS, THINNERS, suits


def thinner_spoils(plan: Plan, facts: Facts | None = None) -> Iterator[Finding]:
    """A thinner of another chemistry."""
    for _, coat in sprayed_done(plan):
        for paint in coat.mix.paints:
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


def suiting_thinner(plan: Plan, step: str, stock: Stock) -> Plan:
    """Take a thinner of the paint's own chemistry."""
    at, coat = coat_at(plan, step)
    return replaced(plan, at, coat.model_copy(update={"thinner": own_thinner(coat.paint, stock)}))


THINNER_SPOILS = Rule("thinner_spoils", thinner_spoils, suiting_thinner)


def needle_too_fine(plan: Plan, facts: Facts) -> Iterator[Finding]:
    """Pigment too coarse for the needle."""
    for i, coat in sprayed_done(plan):
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


def wider_needle(plan: Plan, step: str, stock: Stock) -> Plan:
    """The finest of the wider airbrushes that lets this paint through, or the widest."""
    _, coat = coat_at(plan, step)
    wider = sorted(
        (a for a in stock.airbrushes if a.needle_mm > plan.airbrush.needle_mm),
        key=lambda a: a.needle_mm,
    )
    if not wider:
        raise NothingFitsError(
            f"{SHELF_LACKS} airbrush with a needle over {plan.airbrush.needle_mm:g} mm.",
            field="airbrush",
        )
    passing = [
        a
        for a in wider
        if float(Spraying.of(plan.model_copy(update={"airbrush": a}), coat).outcome().no_flow)
        < CLEAN_BELOW
    ]
    return plan.model_copy(update={"airbrush": (passing or wider[-1:])[0]})


NEEDLE_TOO_FINE = Rule("needle_too_fine", needle_too_fine, wider_needle)
