"""What steps look like finer than any mesh: chips, streaks, dry-brush skips, tide lines, specks.

Where and how much is a field on the vertices; this says which pattern breaks it up, in millimetres.
Sizes are judged; those of specks are the spray model's.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from haze.core.plan.roles import HandRole

Pattern = Literal["flakes", "runs", "skips", "line", "pool", "dots"]
PATTERNS: tuple[Pattern, ...] = ("flakes", "runs", "skips", "line", "pool", "dots")
MOST_TEXTURES = 3  # of the topmost steps are drawn apart; those below are drawn by their mean
LEAST_SPECK_MM = 0.085  # a smaller one is not seen as one (models F)


@dataclass(frozen=True, slots=True)
class Texture:
    """How a share of a place is broken up.

    Attributes
    ----------
    pattern : which
    size_mm : float [mm], of one grain across; 0 where the field itself is the pattern
    long : float [-], how many times longer it runs down than it is wide
    soft : float [0..1], of the share over which its edge fades
    """

    pattern: Pattern
    size_mm: float
    long: float = 1.0
    soft: float = 0.04


HAND_TEXTURES: dict[HandRole, Texture] = {
    "chips": Texture("flakes", 0.9),
    "streaks": Texture("runs", 0.7, long=11.0, soft=0.22),
    "dry_brush": Texture("skips", 0.35, soft=0.3),
    "edge_lines": Texture("line", 0.0, soft=0.2),
    "wash": Texture("pool", 0.0, soft=0.5),
}
WASH_TEXTURE = HAND_TEXTURES["wash"]


def specks_of(size_mm: float) -> Texture:
    """Splats that are seen one by one.

    Parameters
    ----------
    size_mm : float [mm], across
    """
    return Texture("dots", size_mm)
