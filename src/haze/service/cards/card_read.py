"""What a photo of a trial card shows, as it is stored and sent, and what is known beforehand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from haze.core.film.paint import PaintOptics
from haze.core.inspect.reading.refusal import Reason
from haze.core.spray.calibrate import Look
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import NOMINAL, Latents
from haze.service.cups.beliefs import MeasuredIn
from haze.service.forms.wire import Kept


class MeasureOut(Kept):
    """A measure with the band it lies in, and what the model foresaw; null where it does not say.

    `words` is how much may be promised of it.
    """

    value: float
    low: float
    high: float
    unit: str
    words: str
    foreseen: float | None = None
    foreseen_words: str = ""


class Spot(Kept):
    """A place on the photo, in shares of its width and height; `r` in shares of its width."""

    x: float
    y: float
    r: float


class LookShare(Kept):
    """A look the card may show, how likely it is, and what speaks for it."""

    look: Look
    share: float
    sure: Literal["very likely", "likely", "possible"]
    why: str


class Quality(Kept):
    """How good a photo is: marks found, pixels a millimetre, spreads of light and of edges."""

    marks: int
    px_mm: float
    uneven: float
    sharp_mm: float
    words: str


class CardRead(Kept):
    """What a photo of a card shows.

    `trial` is the card's number, `refused` why it is not read and what to do. `spots` tells where
    each measure was seen, `outline` the corners of the card, both in shares of the photo.
    """

    trial: int | None
    refused: str | None
    reason: Reason | None
    measures: dict[str, MeasureOut]
    outcome: Look | None
    sure: float
    looks: list[LookShare]
    spots: dict[str, list[Spot]]
    outline: list[tuple[float, float]]
    quality: Quality | None
    measured: MeasuredIn | None


@dataclass(frozen=True, slots=True)
class KnownCard:
    """What is known of a card beforehand: its setting and what was in the cup; None for neither."""

    setting: Setting | None = None
    optics: PaintOptics | None = None
    latents: Latents = NOMINAL
    dark: bool = False


@dataclass(frozen=True, slots=True)
class ReadPhoto:
    """A photo that was read: what it shows, and a smaller JPEG of it with nothing but pixels."""

    found: CardRead
    jpeg: bytes
    width: int
    height: int
    hash: str
