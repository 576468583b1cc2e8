"""What a step is for: sprayed coats and steps by hand, each with its words and waits.

One table in one place; waits and films of hand steps are judged.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol, get_args

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
TASKS: tuple[TaskName, ...] = get_args(TaskName)

# the recipe each sprayed task takes its film and passes from
RECIPE_OF: dict[str, str] = {
    "seal": "varnish",
    "prime": "prime",
    "cover": "cover",
    "light": "light",
    "rung": "rung",
    "tint": "veil",
    "veil": "veil",
    "metal": "metal",
    "glow": "light",
    "wash": "veil",
    "gloss": "varnish",
    "satin": "varnish",
    "matt": "varnish",
}
ALL_ROUND: tuple[str, ...] = ("seal", "prime", "gloss", "satin", "matt")
CLEAR: tuple[str, ...] = ("seal", "gloss", "satin", "matt")
WASH_GATHERS = 3.0  # g: how much deeper a wash lies in a full recess (judged)


@dataclass(frozen=True, slots=True)
class Hand:
    """A step by hand.

    `film_um` is the dry film where it lies fully; 0 for steps that leave none. `minutes` is the
    wait after it, `hands_min` what the hands need for one copy.
    """

    label: str
    words: str
    film_um: float
    minutes: float
    hands_min: float
    paint: bool = True


HANDS: dict[str, Hand] = {
    "dry_brush": Hand(
        "Dry brush",
        "Wipe the brush until it leaves almost nothing, then stroke across the edges from above.",
        3.0,
        10,
        4,
    ),
    "edge_lines": Hand(
        "Edge lines",
        "Draw thin lines along the edges that catch the light; thin the paint until it flows.",
        5.0,
        10,
        8,
    ),
    "wash": Hand(
        "Wash by brush",
        "Flood one area at a time, then lift what pools on flat places with a clean damp brush.",
        4.0,
        30,
        5,
    ),
    "chips": Hand(
        "Chips",
        "Dab torn foam along edges and where feet and cargo rub; fewer than you think.",
        7.0,
        15,
        6,
    ),
    "streaks": Hand(
        "Streaks pulled with spirit",
        "Dot the paint below rivets and ledges, wait until it dulls, and pull it straight down "
        "with a brush just damp with spirit.",
        3.0,
        60,
        8,
    ),
    "rim": Hand("Base rim", "Paint the rim of the base in one solid colour.", 14.0, 20, 3),
    "mask_on": Hand(
        "Mask on",
        "Mask with tape, putty or liquid; press the edge down and look along it before spraying.",
        0.0,
        0,
        6,
        paint=False,
    ),
    "mask_off": Hand(
        "Mask off",
        "Take the mask off while the paint is dry to the touch but not hard, pulling it back over "
        "itself.",
        0.0,
        0,
        2,
        paint=False,
    ),
    "rest": Hand("Rest", "Leave the piece alone.", 0.0, 60, 0, paint=False),
}
SPIRIT_ROLES: tuple[str, ...] = ("streaks",)


def recipe_task(task: str) -> str:
    """The recipe's name of a coat's task."""
    return RECIPE_OF[task]


class _Done(Protocol):
    @property
    def kind(self) -> str: ...


def is_wash(step: _Done) -> bool:
    """Whether a step runs into recesses: a wash, sprayed or by brush."""
    return "wash" in (getattr(step, "task", None), getattr(step, "role", None))
