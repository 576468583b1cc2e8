"""What the name of a paint says about it: its colour, roughly, and its kind.

The colours are typical of the word (judged); they stand in until a paint is measured or picked.
"""

from __future__ import annotations

import re

from haze.core.arrays import Array
from haze.core.film.difference import oklab_of
from haze.core.film.finish import FINISHES, Finish
from haze.core.film.gamut import into_gamut, rgb_of_oklab
from haze.core.film.paint import Opacity
from haze.core.film.srgb import linear_of_hex, to_hex
from haze.core.spray.constants import PaintKind

COLOURS: dict[str, str] = {
    "amber": "#dd9a22", "azure": "#3d7fb8", "beige": "#cbb894", "black": "#1b1c1e",
    "blue": "#2b5591", "bone": "#d9cba6", "brass": "#a8893f", "bronze": "#7d5a34",
    "brown": "#5a3b26", "buff": "#c0a472", "burgundy": "#5c1a26", "charcoal": "#33363a",
    "chestnut": "#6b3a26", "chrome": "#a9adb1", "copper": "#a8623f", "cream": "#efe3c2",
    "crimson": "#7f1526", "cyan": "#2ba3c4", "emerald": "#1f7a4d", "flesh": "#d3a184",
    "gold": "#a98545", "green": "#3f6b35", "grey": "#80848a", "gunmetal": "#4f555b",
    "indigo": "#2f3566", "iron": "#6b6f73", "ivory": "#ece2c8", "khaki": "#8f8457",
    "lavender": "#a596c9", "leather": "#7a4e2c", "lemon": "#efdc4a", "lilac": "#b3a0cf",
    "lime": "#8fb53b", "magenta": "#a8286e", "maroon": "#551a20", "mint": "#9fd0b0",
    "navy": "#1c2743", "ochre": "#b5842f", "olive": "#5b5a2f", "orange": "#d9661f",
    "pink": "#d985a8", "plum": "#592f4c", "purple": "#593a78", "red": "#a3242b",
    "rose": "#cf7f86", "rust": "#8b4424", "sage": "#8a9a78", "sand": "#cdb384",
    "scarlet": "#c02a20", "sepia": "#46301f", "sienna": "#8a4b2b", "silver": "#a9adb1",
    "skin": "#d3a184", "sky": "#86b3d3", "slate": "#4a5058", "steel": "#7c8288",
    "stone": "#9a968c", "tan": "#b08a5a", "teal": "#1f6d70", "turquoise": "#2d9a99",
    "umber": "#4c3726", "vermilion": "#cb3d23", "violet": "#5b3f8c", "white": "#f2f1ec",
    "yellow": "#e6b91f",
}  # fmt: skip
SPELT = {"gray": "grey", "golden": "gold", "ocher": "ochre", "vermillion": "vermilion"}
METALS = {
    "brass", "bronze", "chrome", "copper", "gold", "gunmetal", "iron", "metallic", "silver",
    "steel",
}  # fmt: skip
KINDS: dict[str, PaintKind] = {
    "primer": "primer",
    "ink": "ink",
    "varnish": "varnish",
    "lacquer": "lacquer",
    "clear": "transparent",
    "transparent": "transparent",
    "glaze": "transparent",
}
USUAL_OPACITY: dict[PaintKind, Opacity] = {
    "transparent": "transparent",
    "varnish": "transparent",
    "ink": "semi_transparent",
}
CLEAR = "#f6f6f2"  # a varnish, as it looks over white
MAIN = 0.65  # of the last colour word, where two stand side by side
# word: the lightness it moves toward, by which share, and what it leaves of the chroma
SHADES: dict[str, tuple[float, float, float]] = {
    "dark": (0.0, 0.28, 0.7),
    "deep": (0.0, 0.22, 0.85),
    "midnight": (0.0, 0.42, 0.6),
    "light": (1.0, 0.32, 0.85),
    "pale": (1.0, 0.5, 0.6),
    "bright": (1.0, 0.1, 1.15),
    "vivid": (1.0, 0.05, 1.2),
    "dull": (0.5, 0.1, 0.65),
    "muted": (0.5, 0.1, 0.6),
    "dirty": (0.0, 0.1, 0.6),
}


def _words(name: str) -> list[str]:
    found = re.findall(r"[a-z]+", name.lower())
    return [SPELT.get(word, word) for word in found]


def colour_named(name: str) -> str | None:
    """The colour a paint's name suggests, "#rrggbb"; None when no word of it is a colour.

    The last colour word counts most: a "blue grey" is a grey. Words such as dark, pale and dull
    move it.

    Parameters
    ----------
    name : str, in English
    """
    words = _words(name)
    colours = [COLOURS[word] for word in words if word in COLOURS]
    if not colours:
        return CLEAR if kind_named(name) == "varnish" else None
    lab = _lab(colours[-1])
    if len(colours) > 1:
        lab = MAIN * lab + (1 - MAIN) * _lab(colours[-2])
    for word in words:
        if word in SHADES:
            toward, share, chroma = SHADES[word]
            lab = lab * [1.0, chroma, chroma]
            lab[0] += share * (toward - lab[0])
    return to_hex(into_gamut(rgb_of_oklab(lab)))


def _lab(colour: str) -> Array:
    return oklab_of(linear_of_hex(colour))


def kind_named(name: str) -> PaintKind | None:
    """The kind of paint a name tells of; None when it tells of none.

    A word for the kind ("primer", "ink") counts before a metal: "Brass Primer" is a primer.

    Parameters
    ----------
    name : str, in English
    """
    words = _words(name)
    for word in reversed(words):
        if word in KINDS:
            return KINDS[word]
    return "metallic" if METALS & set(words) else None


def finish_named(name: str) -> Finish | None:
    """The finish a name tells of; None when it tells of none.

    Parameters
    ----------
    name : str, in English
    """
    words = _words(name)
    return next((finish for finish in FINISHES if finish in words), None)


def usual_opacity(kind: PaintKind) -> Opacity:
    """How a paint of a kind hides when nothing is said of it.

    Parameters
    ----------
    kind : str, one of `PAINT_KINDS`
    """
    return USUAL_OPACITY.get(kind, "opaque")
