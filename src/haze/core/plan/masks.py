"""Kinds of mask: the edge each leaves, what creeps under it, and what it asks for.

How far paint gets under an edge is judged: tape pressed down lets next to nothing in, a rolled edge
of putty lifts off the surface, torn foam and a card held off leave a soft edge on purpose.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

MaskKind = Literal["tape", "putty", "foam", "liquid", "card"]
DAY_MIN = 24 * 60.0


@dataclass(frozen=True, slots=True)
class MaskOf:
    """A kind of mask.

    Attributes
    ----------
    label, words : what it is called, and how it is laid on
    under_mm : float [mm] in from its edge, where an eighth of the film still lands
    mist : float [0..1], share of the mist that settles under it
    hands_min : float [min] to lay it on a copy of usual size
    dries_min : float [min] before one may spray over it
    pulls : whether it sticks, so that the paint below must have cured
    most_min : float [min] it may stay on; None for as long as one likes
    """

    label: str
    words: str
    under_mm: float
    mist: float
    hands_min: float
    dries_min: float = 0.0
    pulls: bool = False
    most_min: float | None = None

    @property
    def edge(self) -> str:
        """The edge it leaves, in words."""
        if self.under_mm < 0.5:
            return "a hard edge"
        return f"an edge that fades over {self.under_mm:g} mm"


MASKS: dict[MaskKind, MaskOf] = {
    "tape": MaskOf(
        "hard tape",
        "Lay fresh tape along the line, press its edge down and look along it before spraying; "
        "spray away from the edge, not against it.",
        0.2,
        0.0,
        6.0,
        pulls=True,
        most_min=DAY_MIN,
    ),
    "putty": MaskOf(
        "soft putty",
        "Roll the putty out, press its middle down and leave the rounded edge standing: paint "
        "fades under it.",
        1.0,
        0.0,
        4.0,
    ),
    "foam": MaskOf(
        "torn foam",
        "Tear the foam so that its edge is ragged, and tuck it in without pressing.",
        3.0,
        0.1,
        2.0,
    ),
    "liquid": MaskOf(
        "liquid mask",
        "Brush it on thick, wash the brush at once, and spray when it is clear and dry. Take it "
        "off within the day: later it no longer rubs off.",
        0.1,
        0.0,
        5.0,
        dries_min=20.0,
        pulls=True,
        most_min=DAY_MIN,
    ),
    "card": MaskOf(
        "card held off",
        "Hold a card a few millimetres before the edge while you spray; it keeps the jet off, not "
        "the mist.",
        5.0,
        0.5,
        1.0,
    ),
}
