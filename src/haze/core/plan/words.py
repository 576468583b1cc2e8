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


SHELF_LACKS = "The shelf has no"  # screens know a missing thing by it, and offer to add it


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
# what the trade's words on the screens mean, for whom they are new
TRADE_WORDS: dict[str, str] = {
    "spiders": "Paint so wet that the air drives it apart in legs.",
    "specks": "Drops large enough to be seen one by one.",
    "dust": "Drops that dried in the air and lie on the piece like sand.",
    "no flow": "So little comes, or it dries on the tip, that nothing lands.",
    "ground": "The first coats: they make paint hold, and set the dark or light below all else.",
    "light": "A coat swept from where the light comes, so that it lies where the light would.",
    "rung": "One step of a ladder of colours from dark to light.",
    "veil": "A thin coat one sees through: it colours what lies below, its light and dark stay.",
    "tint": "A coat one sees through, laid on a part of the piece to turn its colour.",
    "glow": "A coat aimed round a lamp on the piece, most of it nearest the lamp.",
    "wash": "Thin paint that runs into recesses and darkens them.",
    "dry brush": "A brush wiped nearly dry, stroked over what stands out.",
    "chips": "Small spots where paint looks worn to what lies below.",
    "streaks": "Thin runs down a side, as rain and rust leave them.",
    "spot": "How wide the spray is where it lands.",
    "lands on": "The share of the surface this coat gets to at all.",
    "covers": "The share where it hides what lies below.",
    "uncovered": "Surface no coat has reached so far.",
    "trigger stop": "How far the trigger can be drawn back: the screw behind the needle.",
    "until the tip dries": "How long one can spray before paint dries on the needle's tip.",
    "touch-dry with air": "When a finger leaves no mark, with air blown over it.",
    "cup changes": "How often the cup is emptied, rinsed and filled with something else.",
    "deep cleans": "The airbrush taken apart: after metal, varnish or solvent.",
    "idle": "Time the hands have nothing to do.",
}
