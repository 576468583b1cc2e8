"""All rules together, and what they find in a plan."""

from __future__ import annotations

from haze.core.onpiece.facts import Facts
from haze.core.plan.document import Plan
from haze.core.rules.colour import (
    CHALKY,
    COLOUR_TURNS,
    STEP_TOO_HIGH,
    TRANSPARENT_LIGHT,
    WHITE_OVER_BLACK,
)
from haze.core.rules.finished import MASK_LEFT, OVER_FINISHED, OVERSPRAY
from haze.core.rules.materials import NEEDLE_TOO_FINE, THINNER_SPOILS
from haze.core.rules.order import (
    DRY_BRUSH_EARLY,
    GROUNDWORK_UNSEALED,
    INK_UNSEALED,
    MATT_BEFORE_WASH,
    METAL_LATE,
    SPIRIT_UNPROTECTED,
    WASH_ON_MATT,
)
from haze.core.rules.rule import Finding, Rule
from haze.core.rules.shows import GLOW_TOO_DARK, HIGHLIGHT_SINKS, NOBODY_SEES, UNDERSIDE_BARE

RULES: tuple[Rule, ...] = (
    THINNER_SPOILS,
    GROUNDWORK_UNSEALED,
    SPIRIT_UNPROTECTED,
    WHITE_OVER_BLACK,
    COLOUR_TURNS,
    STEP_TOO_HIGH,
    CHALKY,
    TRANSPARENT_LIGHT,
    METAL_LATE,
    WASH_ON_MATT,
    INK_UNSEALED,
    DRY_BRUSH_EARLY,
    MATT_BEFORE_WASH,
    MASK_LEFT,
    OVER_FINISHED,
    OVERSPRAY,
    NOBODY_SEES,
    HIGHLIGHT_SINKS,
    GLOW_TOO_DARK,
    UNDERSIDE_BARE,
    NEEDLE_TOO_FINE,
)
BY_ID: dict[str, Rule] = {rule.id: rule for rule in RULES}


def findings(plan: Plan, facts: Facts) -> list[Finding]:
    """All findings of a plan, the gravest first; silenced ones are left out.

    Parameters
    ----------
    plan : the plan
    facts : what it does on its piece
    """
    quiet = {(s.rule, s.step) for s in plan.silenced}
    found = [f for rule in RULES for f in rule.look(plan, facts) if (f.rule, f.step) not in quiet]
    order = {step.id: i for i, step in enumerate(plan.coats)}
    return sorted(found, key=lambda f: (f.sign != "stop", order[f.step]))
