"""Colours in a painter's words: hues, differences, and what kind of paint is missing."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.film.difference import delta_e, hue_turn, lch_of

HUES = ((25, "red"), (60, "orange"), (100, "yellow"), (145, "green"), (200, "blue-green"))
HUES_ROUND = (*HUES, (260, "blue"), (305, "violet"), (350, "pink"), (385, "red"))
SAME, SLIGHT = 1.0, 4.0  # ΔE00 that looks the same, and that is a little off (judged)
TELLS_LIGHTNESS, TELLS_CHROMA, TELLS_TURN_DEG = 0.012, 0.012, 4.0  # OKLCh worth a word (judged)
GREY = 0.03  # OKLab chroma below which a hue says nothing


def hue_word(hue_deg: float) -> str:
    """The name of a hue.

    Parameters
    ----------
    hue_deg : float [°], in OKLab
    """
    hue = hue_deg % 360
    return min(HUES_ROUND, key=lambda h: min(abs(h[0] - hue), abs(h[0] - hue - 360)))[1]


def _toward(hue: float, turn: float) -> str:
    for step in range(10, 100, 10):
        word = hue_word(hue + np.sign(turn) * step)
        if word != hue_word(hue):
            return f"more {word}"
    return "of another hue"


def difference_words(rgb: Array, target: Array) -> str:
    """How a colour differs from the wanted one, in the painter's words.

    Parameters
    ----------
    rgb, target : (3,) float [-], linear sRGB
    """
    have, want = lch_of(np.clip(rgb, 0, None)), lch_of(target)
    off = delta_e(rgb, target)
    if off < SAME:
        return "looks the same"
    words = []
    if abs(have[0] - want[0]) > TELLS_LIGHTNESS:
        words.append("lighter" if have[0] > want[0] else "darker")
    if abs(have[1] - want[1]) > TELLS_CHROMA:
        words.append("stronger" if have[1] > want[1] else "duller")
    turn = float(hue_turn(have[2], want[2]))
    if min(have[1], want[1]) > GREY and abs(turn) > TELLS_TURN_DEG:
        words.append(_toward(want[2], turn))
    text = " and ".join(words)
    return f"a little {text}" if off < SLIGHT and words else text or "off"


def missing_words(best: Array, target: Array) -> str:
    """What kind of paint would close the gap between the best mix and a colour.

    Parameters
    ----------
    best, target : (3,) float [-], linear sRGB
    """
    have, want = lch_of(np.clip(best, 0, None)), lch_of(target)
    said = f"Nothing on the list comes close: the best is {delta_e(best, target):.1f} off."
    hue = hue_word(want[2])
    if want[1] > have[1] + 0.02:
        kind = "light" if want[0] > 0.72 else "dark" if want[0] < 0.4 else "strong"
        return f"{said} A {kind}, clean {hue} is missing: every mix is too dull."
    if want[0] > have[0] + 0.02:
        return f"{said} Something lighter is missing: every mix is too dark over this."
    if want[0] < have[0] - 0.02:
        return f"{said} Something darker is missing: every mix is too light."
    if want[1] > GREY:
        return f"{said} A {hue} nearer to this hue is missing."
    return f"{said} A cleaner grey is missing: every mix has a tint."
