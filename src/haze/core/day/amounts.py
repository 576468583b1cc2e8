"""How much to mix, and whole drops in pouring order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Literal

from haze.core.plan.coat import Coat
from haze.core.spray.model import Outcome
from haze.core.units import drops_to_ml, ml_to_drops

CUP_REST_ML = 0.08  # stays in a small gravity cup and its nozzle (judged)
TRIAL_ML = 0.05
MOST_COUNTED = 20  # drops; above that one measures
FLOW_AID_DROP_UL = 50.0
MULTIPLES = 4  # whole multiples of a mix that are tried
Role = Literal["thinner", "paint", "flow_aid"]


@dataclass(frozen=True, slots=True)
class Bottle:
    """What drops come from: its name, its drop [µl], and its colour as "#rrggbb" if it has one."""

    name: str
    drop_ul: float
    colour: str | None = None


@dataclass(frozen=True, slots=True)
class Poured:
    """One thing that goes into the cup, in pouring order."""

    what: str
    role: Role
    drops: int
    ml: float
    colour: str | None

    @property
    def counted(self) -> bool:
        """Whether one counts its drops; more than twenty are measured."""
        return self.drops <= MOST_COUNTED


@dataclass(frozen=True, slots=True)
class CoatAmounts:
    """What one coat needs, for all copies."""

    spray_ml: float
    mix_ml: float
    cup: list[Poured]
    cup_loads: int


def pour(
    paints: Sequence[tuple[Bottle, int]],
    *,
    thinner: Bottle,
    thinner_parts: float,
    flow_aid_parts: float,
    mix_ml: float,
) -> list[Poured]:
    """Whole drops that make at least `mix_ml` at this thinning, thinner first.

    A mix is poured in whole multiples of its drops. Among the first few multiples the one is taken
    whose thinner comes out nearest to a whole drop.

    Parameters
    ----------
    paints : bottles and drops of the mix
    thinner : its bottle
    thinner_parts, flow_aid_parts : float [parts to one of paint, by volume]
    mix_ml : float [ml], least volume in the cup
    """
    unit_ul = sum(drops * bottle.drop_ul for bottle, drops in paints)
    paint_ml = mix_ml / (1 + thinner_parts + flow_aid_parts)
    least = max(1, ceil(ml_to_drops(paint_ml, drop_ul=unit_ul) - 1e-9))
    per_unit = thinner_parts * unit_ul / thinner.drop_ul

    def off(n: int) -> float:
        return abs(per_unit * n - round(per_unit * n)) / max(per_unit * n, 1.0) + 0.004 * n

    units = min(range(least, least + MULTIPLES), key=off)
    aid = Bottle("flow aid", FLOW_AID_DROP_UL)
    rows: list[tuple[Bottle, Role, int]] = [
        (thinner, "thinner", round(per_unit * units)),
        *((bottle, "paint", drops * units) for bottle, drops in paints),
        (aid, "flow_aid", round(flow_aid_parts * units * unit_ul / aid.drop_ul)),
    ]
    return [
        Poured(b.name, role, drops, drops_to_ml(drops, drop_ul=b.drop_ul), b.colour)
        for b, role, drops in rows
        if drops > 0
    ]


def coat_cup(coat: Coat, *, mix_ml: float) -> list[Poured]:
    """What goes into a coat's cup.

    Parameters
    ----------
    coat : gives mix and thinning
    mix_ml : float [ml], least volume in the cup
    """
    return pour(
        [(Bottle(p.name, p.drop_ul, p.masstone), drops) for p, drops in coat.mix.parts],
        thinner=Bottle(coat.thinner.name, coat.thinner.drop_ul),
        thinner_parts=coat.spray.thinner_parts,
        flow_aid_parts=coat.spray.flow_aid_parts,
        mix_ml=mix_ml,
    )


def drops_words(poured: Poured) -> str:
    """How much of one thing: drops as far as one counts them, then millilitres.

    Parameters
    ----------
    poured : what goes into the cup
    """
    if not poured.counted:
        return f"{poured.ml:.1f} ml"
    return f"{poured.drops} drop{'' if poured.drops == 1 else 's'}"


def coat_amounts(
    coat: Coat, *, outcome: Outcome, strokes_s: float, copies: int, cup_ml: float
) -> CoatAmounts:
    """Volume, time and cup of one coat.

    Parameters
    ----------
    coat : what is sprayed
    outcome : of its setting
    strokes_s : float [s], trigger down for one copy
    copies : int
    cup_ml : float [ml], what the cup holds
    """
    spray_ml = float(outcome.flow_ml_min) * strokes_s / 60.0 * copies
    mix_ml = spray_ml + CUP_REST_ML + TRIAL_ML
    loads = max(1, ceil(mix_ml / cup_ml))
    # several loads are mixed alike, each with its own rest in the cup
    load_ml = (spray_ml + TRIAL_ML) / loads + CUP_REST_ML
    cup = coat_cup(coat, mix_ml=load_ml)
    return CoatAmounts(spray_ml, load_ml * loads, cup, loads)
