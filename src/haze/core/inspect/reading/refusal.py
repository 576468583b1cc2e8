"""Why a photo is not read, and what to do: said in one sentence each (limits of models.md F)."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from haze.core.inspect.card import HIGH_MM

if TYPE_CHECKING:  # the words are used by what never reads a photo itself
    from haze.core.inspect.reading.finding import Place
    from haze.core.inspect.reading.flattening import Flat

Reason = Literal[
    "small",
    "dark",
    "marks",
    "blurred",
    "bent",
    "far",
    "number",
    "wrong",
    "glare",
    "uneven",
    "painted",
]
DARK = 55.0  # encoded brightness of bare paper
BENT_MM = 0.25
FAR_PX_MM = 10.5  # where there are fewest; at the middle of the card it is about a third more
LEAST_SIDE_PX = round(HIGH_MM * FAR_PX_MM)  # a card that fills it is as far as may be
BLUR_MM = 0.105
CRISP = 0.1  # steepest edges of a photo in which marks should be found
CLIPPED, SHINING = 0.004, 0.003
UNEVEN = 0.05
LEAST_BARE = 9
WORDS: dict[Reason, str] = {
    "small": f"The photo has too few pixels, under {LEAST_SIDE_PX:,} on its shorter side. Give it "
    "as the camera took it, not one made small for sending.",
    "dark": "The photo is too dark to read. Take it again in more light, or by a window.",
    "marks": "Too few of the card's black marks are seen. Show the whole card, flat and from "
    "above, with nothing over its edges; spray with the cover frame on.",
    "blurred": "The photo is blurred. Hold still, tap on the card to focus, and take it again.",
    "bent": "The card is bent. Lay it flat, or weigh its edges down, and take the photo again.",
    "far": "The card is too small in the photo. Come nearer, until it fills the picture.",
    "number": "The card's number cannot be read: its marks contradict each other. Clean the marks.",
    "wrong": "This is another card than the one that is asked for.",
    "glare": "Light shines back from the card. Turn it away from the lamp, and take it again.",
    "painted": "Paint lies on the card's white edge, which tells the light. Spray the next card "
    "with the cover frame on.",
    "uneven": "A shadow lies over the card. Step out of the light, and take the photo again.",
}


def before_flat(brightest: float, crisp: float, place: Place | None) -> Reason | None:
    """Why a photo is refused by what is found in it; None when it can be flattened.

    Parameters
    ----------
    brightest : float [0..255], encoded brightness that a twentieth of the photo exceeds
    crisp : float [1/px], steepest edges over the photo's range of light
    place : where the card lies; None when it is not found
    """
    if brightest < DARK:
        return "dark"
    if place is None:
        return "blurred" if crisp < CRISP else "marks"
    return None


def too_small(high: int, wide: int) -> bool:
    """Whether no card in a photo could be read, however it is held.

    Parameters
    ----------
    high, wide : int [px]
    """
    return min(high, wide) < LEAST_SIDE_PX


def after_flat(place: Place, flat: Flat, *, wanted: int | None) -> Reason | None:
    """Why a flat card is refused; None when it can be measured.

    Parameters
    ----------
    place : where it lies
    flat : the card
    wanted : its number, when it must be a certain one
    """
    if flat.paper < DARK:
        return "dark"
    if place.px_mm < FAR_PX_MM:
        return "far"
    if flat.blur_mm > BLUR_MM:
        return "blurred"
    if place.residual_mm > BENT_MM:
        return "bent"
    if place.number is None:
        return "number"
    if wanted is not None and place.number != wanted:
        return "wrong"
    if flat.clipped > CLIPPED:
        return "glare"
    if flat.bare < LEAST_BARE:
        return "painted"
    if flat.uneven > UNEVEN:
        return "uneven"
    if flat.shining > SHINING:
        return "glare"
    return None
