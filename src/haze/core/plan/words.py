"""What the choices of a plan are called, in the words of the trade: one place for every edge."""

from __future__ import annotations

from typing import get_args

from haze.core.film.finish import FINISHES
from haze.core.film.paint import OPACITIES
from haze.core.spray.constants import PaintKind, ThinnerKind

HYPHENED = {"semi_opaque": "semi-opaque", "semi_transparent": "semi-transparent"}


def said(name: str) -> str:
    """A choice as it is said: `semi_opaque` is semi-opaque, `brush_acrylic` brush acrylic.

    Parameters
    ----------
    name : str, as it stands in a plan
    """
    return HYPHENED.get(name, name.replace("_", " "))


PAINT_KINDS: dict[str, str] = {kind: said(kind) for kind in get_args(PaintKind)}
THINNER_KINDS: dict[str, str] = {kind: said(kind) for kind in get_args(ThinnerKind)}
OPACITY_WORDS: dict[str, str] = {opacity: said(opacity) for opacity in OPACITIES}
FINISH_WORDS: dict[str, str] = {finish: said(finish) for finish in FINISHES}


def airbrush_words(name: str, needle_mm: float) -> str:
    """An airbrush with its needle, which its name may tell already.

    Parameters
    ----------
    name : as it stands on the shelf
    needle_mm : float [mm]
    """
    needle = f"{needle_mm:g} mm"
    return name if needle in name or needle.removeprefix("0") in name else f"{name}, {needle}"


# one set of words for the choice, the step and the run sheet
ZONE_WORDS: dict[str, str] = {
    "recesses": "the recesses",
    "panels": "the middle of each panel",
    "edges": "the edges that face up",
    "ramp": "the far half of the ramp",
    "glow": "what the glow lights",
    "part": "the part",
}
AIM_WORDS: dict[str, str] = {
    "recesses": "into the recesses only",
    "panels": "into the middle of each panel, borders left alone",
    "edges": "along the edges that face up",
    "ramp": "from one end, lifting off toward the other",
    "glow": "round the glow, nearest parts most",
    "part": "over this part only",
}
