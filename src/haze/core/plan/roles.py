"""What a step is for: sprayed coats and steps by hand, each with its words and waits.

One table in one place; waits and films of hand steps are judged.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from haze.core.film.finish import Finish
from haze.core.spray.constants import PaintKind

TaskName = Literal[
    "seal",
    "prime",
    "cover",
    "light",
    "rung",
    "tint",
    "veil",
    "metal",
    "glow",
    "wash",
    "gloss",
    "satin",
    "matt",
]
HandRole = Literal[
    "dry_brush",
    "edge_lines",
    "wash",
    "chips",
    "streaks",
    "rim",
    "mask_on",
    "mask_off",
    "rest",
]


@dataclass(frozen=True, slots=True)
class SprayedRole:
    """A sprayed coat.

    `recipe` names what its film and passes come from; `kinds` and `finishes` are those of the
    paints that fit it (none means any). An `all_round` coat goes everywhere, whatever the light; a
    `see_through` one lets what lies below show; a `clear` one is varnish.
    """

    word: str
    label: str
    recipe: str
    kinds: tuple[PaintKind, ...] = ()
    finishes: tuple[Finish, ...] = ()
    all_round: bool = False
    see_through: bool = False
    clear: bool = False


def _varnish(word: str, *finishes: Finish) -> SprayedRole:
    return SprayedRole(
        word,
        f"{word.capitalize()} varnish",
        "varnish",
        kinds=("varnish",),
        finishes=finishes,
        all_round=True,
        see_through=True,
        clear=True,
    )


SPRAYED: dict[TaskName, SprayedRole] = {
    "seal": SprayedRole(
        "seal",
        "Seal: soft groundwork, before anything else",
        "varnish",
        kinds=("varnish", "primer"),
        all_round=True,
        clear=True,
    ),
    "prime": SprayedRole("ground", "Ground: cover all round and below", "prime", all_round=True),
    "cover": SprayedRole("base", "Base: the colour that covers", "cover"),
    "light": SprayedRole("light", "Light: a lighter coat from the light", "light"),
    "rung": SprayedRole("rung", "Rung: one step of a colour", "rung"),
    "metal": SprayedRole("metal", "Metal", "metal", kinds=("metallic",)),
    "tint": SprayedRole("tint", "Tint: transparent colour on one side", "veil", see_through=True),
    "veil": SprayedRole("veil", "Veil: transparent colour over all", "veil", see_through=True),
    "glow": SprayedRole("glow", "Glow round a lamp, a fire, a pool", "light"),
    "wash": SprayedRole("wash", "Wash, sprayed", "veil", see_through=True),
    "gloss": _varnish("gloss", "gloss"),
    "satin": _varnish("satin", "satin"),
    "matt": _varnish("matt", "matt", "ultra_matt"),
}
ALL_ROUND = tuple(name for name, task in SPRAYED.items() if task.all_round)
SEEN_THROUGH = tuple(name for name, task in SPRAYED.items() if task.see_through)
CLEAR = tuple(name for name, task in SPRAYED.items() if task.clear)
WASH_GATHERS = 8.0  # g: on flats a wash leaves about a fifth of what it leaves in a full recess


@dataclass(frozen=True, slots=True)
class HandWork:
    """A step by hand.

    `film_um` is the dry film where it lies fully; 0 for steps that leave none. `minutes` is the
    wait after it, `hands_min` what the hands need for one copy. A step that `patches` lies that
    thick on some of each place and not at all beside it; another lies thinner where it lies less.
    """

    word: str
    label: str
    words: str
    film_um: float
    minutes: float
    hands_min: float
    paint: bool = True
    patches: bool = False


HANDS: dict[str, HandWork] = {
    "dry_brush": HandWork(
        "dry brush",
        "Dry brush",
        "Wipe the brush until it leaves almost nothing, then stroke across the edges from above.",
        3.0,
        10,
        4,
        patches=True,
    ),
    "edge_lines": HandWork(
        "edge lines",
        "Edge lines",
        "Draw thin lines along the edges that catch the light; thin the paint until it flows.",
        5.0,
        10,
        8,
        patches=True,
    ),
    "wash": HandWork(
        "wash",
        "Wash by brush",
        "Flood one area at a time, then lift what pools on flat places with a clean damp brush.",
        2.0,
        30,
        5,
    ),
    "chips": HandWork(
        "chips",
        "Chips",
        "Dab torn foam along edges and where feet and cargo rub; fewer than you think.",
        7.0,
        15,
        6,
        patches=True,
    ),
    "streaks": HandWork(
        "streaks",
        "Streaks pulled with spirit",
        "Dot the paint below rivets and ledges, wait until it dulls, and pull it straight down "
        "with a brush just damp with spirit.",
        1.5,
        60,
        8,
        patches=True,
    ),
    "rim": HandWork(
        "base rim", "Base rim", "Paint the rim of the base in one solid colour.", 14.0, 20, 3
    ),
    "mask_on": HandWork(
        "mask on",
        "Mask on",
        "Mask with tape, putty or liquid; press the edge down and look along it before spraying.",
        0.0,
        0,
        6,
        paint=False,
    ),
    "mask_off": HandWork(
        "mask off",
        "Mask off",
        "Take the mask off while the paint is dry to the touch but not hard, pulling it back over "
        "itself.",
        0.0,
        0,
        2,
        paint=False,
    ),
    "rest": HandWork("rest", "Rest", "Leave the piece alone.", 0.0, 60, 0, paint=False),
}
SPIRIT_ROLES: tuple[HandRole, ...] = ("streaks",)


def recipe_task(task: TaskName) -> str:
    """The recipe's name of a coat's task.

    Parameters
    ----------
    task : what the coat is for
    """
    return SPRAYED[task].recipe
