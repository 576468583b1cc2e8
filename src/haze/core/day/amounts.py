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
ADDITIVE_DROP_UL = 50.0
ADDED_COUNTS = 0.3  # of a whole drop of thinner, a whole drop of what is added (judged)
MULTIPLES = 4  # whole multiples of a mix that are tried
Role = Literal["thinner", "paint", "flow_aid", "retarder"]


@dataclass(frozen=True, slots=True)
class Bottle:
    """What drops come from: its name, its drop [µl], colour as "#rrggbb" and identity if any."""

    name: str
    drop_ul: float
    colour: str | None = None
    id: str = ""


@dataclass(frozen=True, slots=True)
class Poured:
    """One thing that goes into the cup, in pouring order."""

    what: str
    role: Role
    drops: int
    ml: float
    colour: str | None
    id: str = ""

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
    retarder_parts: float = 0.0,
    mix_ml: float,
) -> list[Poured]:
    """Whole drops that make at least `mix_ml` at this thinning, thinner first.

    A mix is poured in whole multiples of its drops. Among the first few multiples the one is taken
    whose thinner, and less so what is added, comes out nearest to whole drops; what is added at all
    is one drop at least.

    Parameters
    ----------
    paints : bottles and drops of the mix
    thinner : its bottle
    thinner_parts, flow_aid_parts, retarder_parts : float [parts to one of paint, by volume]
    mix_ml : float [ml], least volume in the cup
    """
    unit_ul = sum(drops * bottle.drop_ul for bottle, drops in paints)
    paint_ml = mix_ml / (1 + thinner_parts + flow_aid_parts + retarder_parts)
    least = max(1, ceil(ml_to_drops(paint_ml, drop_ul=unit_ul) - 1e-9))
    per_unit = thinner_parts * unit_ul / thinner.drop_ul

    aid, retarder = (Bottle(name, ADDITIVE_DROP_UL) for name in ("flow aid", "retarder"))
    added = [parts * unit_ul / ADDITIVE_DROP_UL for parts in (flow_aid_parts, retarder_parts)]

    def off(n: int) -> float:
        thin = abs(per_unit * n - round(per_unit * n)) / max(per_unit * n, 1.0)
        more = sum(abs(each * n - _some(each * n)) / max(each * n, 1.0) for each in added)
        return thin + ADDED_COUNTS * more + 0.004 * n

    units = min(range(least, least + MULTIPLES), key=off)
    rows: list[tuple[Bottle, Role, int]] = [
        (thinner, "thinner", round(per_unit * units)),
        *((bottle, "paint", drops * units) for bottle, drops in paints),
        (aid, "flow_aid", _some(added[0] * units)),
        (retarder, "retarder", _some(added[1] * units)),
    ]
    return [
        Poured(b.name, role, drops, drops_to_ml(drops, drop_ul=b.drop_ul), b.colour, b.id)
        for b, role, drops in rows
        if drops > 0
    ]


def _some(drops: float) -> int:
    """Whole drops, one at least of what is wanted at all."""
    return max(1, round(drops)) if drops > 0 else 0


def coat_cup(coat: Coat, *, mix_ml: float) -> list[Poured]:
    """What goes into a coat's cup.

    Parameters
    ----------
    coat : gives mix and thinning
    mix_ml : float [ml], least volume in the cup
    """
    return pour(
        [(Bottle(p.name, p.drop_ul, p.masstone, p.id), drops) for p, drops in coat.mix.parts],
        thinner=Bottle(coat.thinner.name, coat.thinner.drop_ul, id=coat.thinner.id),
        thinner_parts=coat.spray.thinner_parts,
        flow_aid_parts=coat.spray.flow_aid_parts,
        retarder_parts=coat.spray.retarder_parts,
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


@dataclass(frozen=True, slots=True)
class Needed:
    """What all cups together take from one bottle: millilitres, and how many cups it goes into."""

    id: str
    what: str
    role: Role
    ml: float
    cups: int
    colour: str | None


def needed(coats: Sequence[CoatAmounts]) -> list[Needed]:
    """What each bottle has to give, paints first, the largest amount first.

    Parameters
    ----------
    coats : all that are sprayed
    """
    found: dict[tuple[Role, str], Needed] = {}
    for coat in coats:
        for one in coat.cup:
            key = one.role, one.id or one.what
            before = found.get(key, Needed(one.id, one.what, one.role, 0.0, 0, one.colour))
            ml, cups = before.ml + one.ml * coat.cup_loads, before.cups + coat.cup_loads
            found[key] = Needed(one.id, one.what, one.role, ml, cups, one.colour)
    return sorted(found.values(), key=lambda n: (n.role != "paint", -n.ml, n.what))


def premix(
    paints: Sequence[tuple[Bottle, int]], *, thinner: Bottle | None, thinner_parts: float, ml: float
) -> list[tuple[str, float]]:
    """What makes a bottle of a mix: names and millilitres, in the order they go in.

    Parameters
    ----------
    paints : bottles and drops of the mix
    thinner : its bottle; None for a premix that is thinned later
    thinner_parts : float [parts to one of paint, by volume]
    ml : float [ml], of the bottle
    """
    unit_ul = sum(drops * bottle.drop_ul for bottle, drops in paints)
    parts = thinner_parts if thinner else 0.0
    paint_ml = ml / (1 + parts)
    rows = [(thinner.name, ml - paint_ml)] if thinner and parts > 0 else []
    return rows + [(b.name, paint_ml * drops * b.drop_ul / unit_ul) for b, drops in paints]
