"""A camera stand-in: a card as it would be sprayed, photographed with the faults that are asked."""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
from numpy.random import default_rng
from PIL import Image, ImageDraw, ImageFont
from pydantic import Field

from haze.core.arrays import Bytes
from haze.core.film.paint import PaintOptics
from haze.core.inspect.card import printed, raster
from haze.core.inspect.card_colours import coloured
from haze.core.inspect.shot import Fault, usual, with_fault
from haze.core.inspect.trial_card import Hand, sprayed_card
from haze.core.progress import Progress
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import NOMINAL, SPREAD, Latents
from haze.service.forms.wire import Strict


class StandInBody(Strict):
    """How a simulated card is sprayed and photographed.

    `fault` is what goes wrong with the photo, `off` draws an airbrush and a bottle that differ from
    the tables, as every real one does; `seed` is of the photo.
    """

    fault: Fault | None = None
    framed: bool = True
    even: bool = True
    off: bool = True
    seed: int = Field(default=1, ge=0, le=1_000_000)


@dataclass(frozen=True, slots=True)
class StandInSeeds:
    """Which airbrush, bottle and hand it was: the same seeds leave the same card."""

    cup: int
    card: int


def unlike_the_tables(seed: int) -> Latents:
    """An airbrush and a bottle as they may really be, the same for the same seed."""
    rng = default_rng(seed)
    return Latents(*(np.asarray(np.exp(rng.normal(0, s))) for s in SPREAD.values()))


CARD_PX_MM = 20.0
QUALITY = 90
MARKED = "SIMULATED PHOTO"
LETTERS = 56  # px
UNEVEN = Hand(rows=0.2, time=0.3, fade_apart=2.7)


def stand_in_photo(
    _: Progress,
    *,
    setting: Setting,
    optics: PaintOptics,
    number: int,
    dark: bool,
    sprayed: StandInSeeds,
    body: StandInBody,
) -> bytes:
    """JPEG of 12 megapixels: a card sprayed with a setting and photographed, marked as simulated.

    Parameters
    ----------
    setting : of single values
    optics : of what is in the cup
    number : of the card
    dark : whether its field is printed black
    sprayed : which airbrush and hand it was
    body : how it is sprayed and photographed
    """
    from haze.core.inspect.camera import photographed  # late: the program starts without it

    rng = default_rng(body.seed)
    card = sprayed_card(
        setting,
        latents=unlike_the_tables(sprayed.cup) if body.off else NOMINAL,
        hand=Hand() if body.even else UNEVEN,
        framed=body.framed,
        px_mm=CARD_PX_MM,
        seed=sprayed.card,
    )
    light = coloured(card.laid, raster(printed(number, dark=dark), CARD_PX_MM), optics)
    shot = usual(rng)
    if body.fault is not None:
        shot = with_fault(shot, body.fault, rng)
    image = photographed(light, CARD_PX_MM, shot, rng)
    out = io.BytesIO()
    Image.fromarray(_marked(image)).save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def _marked(image: Bytes) -> Bytes:
    """Said on the picture itself, at its foot."""
    strip = Image.fromarray(np.ascontiguousarray(image[-2 * LETTERS :]))
    draw = ImageDraw.Draw(strip)
    font = ImageFont.load_default(LETTERS)
    wide = draw.textlength(MARKED, font=font)
    at = ((strip.width - wide) / 2, LETTERS * 0.4)
    draw.text(at, MARKED, font=font, fill="#f5f5f5", stroke_width=4, stroke_fill="#101010")
    image = image.copy()
    image[-2 * LETTERS :] = np.asarray(strip)
    return image
