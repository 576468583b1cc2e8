"""The schools a plan follows: one choice in each row, each with its name and its words."""

from __future__ import annotations

from typing import Literal

from haze.core.plan.base import Value

# the rows a plan is named by; cup and thinner go without saying
NAMED = ("pressure", "light", "ground", "order")

SCHOOLS: dict[str, dict[str, tuple[str, str]]] = {
    "pressure": {
        "whisper": ("Whisper", "low pressure, near"),
        "middle": ("Middle", "neither low nor high"),
        "brisk": ("Brisk", "high pressure, from farther"),
    },
    "light": {
        "noon": ("Noon", "straight from above"),
        "shoulder": ("Shoulder", "over one shoulder"),
        "stage": ("Stage", "what models the front most"),
    },
    "ground": {
        "two_tone": ("Two-tone", "dark below, light above"),
        "three_tone": ("Three-tone", "dark, middle, light"),
        "hue_ground": ("Hue ground", "a ground of its own hue"),
    },
    "order": {
        "climb": ("Climb", "dark to light, opaque"),
        "descend": ("Descend", "light to dark, transparent"),
        "veil": ("Veil", "greys under one colour"),
        "span": ("Span", "middle, up, then down"),
    },
    "cup": {
        "rinse": ("Rinse", "rinse between rungs"),
        "carry": ("Carry", "carry the rest into the next rung"),
    },
    "thinner": {
        "own": ("Own", "the thinner made for the paint"),
        "water_flow_aid": ("Water", "water with a little flow aid"),
        "any_of_kind": ("Any", "any thinner of its kind"),
    },
}


class Schools(Value):
    """One school in each row; sets defaults and is named on the plan."""

    pressure: Literal["whisper", "middle", "brisk"] = "middle"
    light: Literal["noon", "shoulder", "stage"] = "shoulder"
    ground: Literal["two_tone", "three_tone", "hue_ground"] = "three_tone"
    order: Literal["climb", "descend", "veil", "span"] = "climb"
    cup: Literal["rinse", "carry"] = "rinse"
    thinner: Literal["own", "water_flow_aid", "any_of_kind"] = "own"

    @property
    def words(self) -> str:
        """The schools a plan follows, in the words of the trade."""
        return ", ".join(SCHOOLS[row][getattr(self, row)][0] for row in NAMED)
