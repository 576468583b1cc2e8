"""The layers each order of colour may lay, lowest first: their mixes, sweeps and rounds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from haze.core.drafting.pools import Pools
from haze.core.drafting.sites import (
    AWAY,
    BASE,
    BELOW,
    END,
    END_WIDE,
    EVERY,
    HIGH,
    LIGHT,
    MIDDLE,
    PANELS,
    PLACES,
    RAMPS,
    START,
    START_WIDE,
    TOP,
    WIDE,
)
from haze.core.plan.mix import Mix
from haze.core.plan.roles import TaskName

ROUNDS = (1, 2, 3, 4, 6, 8, 12)
OR_NONE = (0, *ROUNDS)
Over = Literal["ground", "white", "asked"]


@dataclass(frozen=True, slots=True)
class Open:
    """A slot that is to be chosen: its mixes, its ways as (sweep, rounds), what it goes over."""

    mixes: list[Mix]
    ways: list[tuple[int, int]]
    judged: tuple[int, ...]
    over: Over = "asked"
    glaze: bool = False
    lit: bool = False  # a white under clears


EVERYWHERE = tuple(range(len(PLACES)))


def _ways(sweeps: Sequence[int], rounds: Sequence[int]) -> list[tuple[int, int]]:
    found = [(s, n) for s in sweeps for n in rounds if n > 0]
    return found + ([(sweeps[0], 0)] if 0 in rounds else [])


def _climb(pools: Pools) -> list[Open]:
    return [
        Open([*pools.opaque(0), *pools.whites()], _ways((BASE,), (2, 3, 4, 6)), (), "ground"),
        Open(
            pools.opaque(MIDDLE, paints=3),
            _ways((BASE, EVERY, WIDE, LIGHT), ROUNDS),
            (0, 1, 2),
        ),
        Open(pools.lights(3), _ways((LIGHT, HIGH), OR_NONE), (0, 1, 2, 3)),
        Open(pools.lights(4), _ways((HIGH, TOP), OR_NONE), EVERYWHERE),
        *_fade(pools),
        *_glaze(pools),
        *_shade(pools),
    ]


def _fade(pools: Pools) -> list[Open]:
    """Something lighter in the middle of panels."""
    return [Open(pools.lighter(), _ways((PANELS,), (1, 2, 3)), EVERYWHERE)]


def _shade(pools: Pools) -> list[Open]:
    """A deep clear on the side away from the light, where the shelf has one."""
    clears = pools.dark_clears()
    return [Open(clears, _ways((AWAY, BELOW), OR_NONE), EVERYWHERE)] if clears else []


def _glaze(pools: Pools) -> list[Open]:
    """A thin clear over all, where the shelf has one: what chroma the opaque paints lack."""
    clears = pools.clears(needed=False)
    return [Open(clears, _ways((EVERY,), OR_NONE), EVERYWHERE, glaze=True)] if clears else []


def _span(pools: Pools) -> list[Open]:
    return [
        Open(pools.opaque(MIDDLE, paints=3), _ways((BASE,), (2, 3, 4, 6)), (2,), "ground"),
        Open(pools.lights(3), _ways((LIGHT, HIGH), OR_NONE), (2, 3)),
        Open(pools.lights(4), _ways((HIGH, TOP), OR_NONE), (2, 3, 4)),
        Open(pools.opaque(0), _ways((BELOW,), OR_NONE), EVERYWHERE),
        *_fade(pools),
        *_glaze(pools),
    ]


def _veils(pools: Pools) -> list[Open]:
    """Clears over the lit grounds, then the shade."""
    return [
        Open(pools.clears(), _ways((EVERY, BASE), ROUNDS), EVERYWHERE, "white"),
        Open(pools.clears(), _ways((EVERY, BELOW), OR_NONE), EVERYWHERE, "white"),
        Open(pools.shades(), _ways((BELOW, AWAY), OR_NONE), EVERYWHERE, "white"),
    ]


def _veil(pools: Pools) -> list[Open]:
    return [
        Open(pools.whites(), _ways((EVERY, WIDE, LIGHT), OR_NONE), (), "ground", lit=True),
        Open(pools.whites(), _ways((LIGHT, HIGH), (0, 2, 4, 8)), (), "white", lit=True),
        *_veils(pools),
    ]


def _descend(pools: Pools) -> list[Open]:
    return [
        Open(pools.primers(), _ways((BASE,), (3,)), (), "ground"),
        Open(pools.whites(), _ways((EVERY, WIDE, LIGHT, HIGH), OR_NONE), (), "ground", lit=True),
        Open(pools.whites(), _ways((LIGHT, HIGH), (0, 2, 4, 8, 12)), (), "white", lit=True),
        *_veils(pools),
    ]


def _shared(pools: Pools) -> list[Open]:
    """What both ends share all over, then each end over its side: they meet in the shared rung."""
    first, last = [*pools.opaque(0), *pools.opaque(1)], [*pools.opaque(4), *pools.opaque(3)]
    return [
        Open(pools.between(), _ways((BASE,), (2, 3, 4, 6)), (2,), "ground"),
        Open(first, _ways((START_WIDE,), OR_NONE), (0, 1, 2)),
        Open(last, _ways((END_WIDE,), OR_NONE), EVERYWHERE),
        Open(first, _ways((START,), OR_NONE), EVERYWHERE),
        Open(last, _ways((END,), OR_NONE), EVERYWHERE),
        *_glaze(pools),
    ]


def _shared_veils(pools: Pools) -> list[Open]:
    return [
        Open(pools.whites(), _ways((EVERY, WIDE, LIGHT), OR_NONE), (), "ground", lit=True),
        Open(pools.clears(), _ways((EVERY, BASE), OR_NONE), EVERYWHERE, "white"),
        Open(pools.clears(0), _ways((START_WIDE, START), OR_NONE), EVERYWHERE, "white"),
        Open(pools.clears(4), _ways((END_WIDE, END), OR_NONE), EVERYWHERE, "white"),
    ]


def _shared_descend(pools: Pools) -> list[Open]:
    return [Open(pools.primers(), _ways((BASE,), (3,)), (), "ground"), *_shared_veils(pools)]


Slots = Callable[[Pools], list[Open]]
ORDERS: dict[str, Slots] = {
    "climb": _climb,
    "span": _span,
    "veil": _veil,
    "descend": _descend,
}
# for gradients that do not follow the light
SHARED: dict[str, Slots] = {
    "climb": _shared,
    "span": _shared,
    "veil": _shared_veils,
    "descend": _shared_descend,
}


def task_of(mix: Mix, *, hides: bool, sweep: int, order: str) -> TaskName:
    """What a layer is: what hides is a base, a light ground or a rung, the rest are clears.

    Parameters
    ----------
    mix : what is sprayed
    hides : whether it does
    sweep : int, its number
    order : climb, span, veil or descend
    """
    if mix.main.kind == "primer":
        return "prime"
    if sweep in RAMPS:
        return "rung" if hides else "veil"
    if not hides:
        return "tint" if sweep in (AWAY, BELOW) else "veil"
    if order in ("veil", "descend") and sweep not in (AWAY, BELOW):
        return "cover" if sweep == EVERY else "light"
    return "cover" if sweep in (BASE, EVERY) else "rung"
