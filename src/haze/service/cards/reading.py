"""What a photo of a card shows, as it is told; read in a process of its own, within limits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from typing import Literal

from haze.core.film.paint import PaintOptics
from haze.core.inspect.reading.refusal import Reason
from haze.core.progress import Progress
from haze.core.spray.calibrate import Look
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import AS_TOLD, Latents
from haze.formats.photos import require_size
from haze.service import apart
from haze.service.cups.beliefs import MeasuredIn
from haze.service.wire import Kept

LIMITS = apart.Limits(seconds=30.0, room=int(1.4 * apart.GIB))


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
class Known:
    """What is known of a card beforehand: its setting and what was in the cup; None for neither."""

    setting: Setting | None = None
    optics: PaintOptics | None = None
    latents: Latents = AS_TOLD
    dark: bool = False


@dataclass(frozen=True, slots=True)
class ReadPhoto:
    """A photo that was read: what it shows, and a smaller JPEG of it with nothing but pixels."""

    found: CardRead
    jpeg: bytes
    width: int
    height: int
    hash: str


def read_apart(data: bytes, known: Mapping[int, Known], *, wanted: int | None = None) -> ReadPhoto:
    """Read a photo in a process of its own.

    Parameters
    ----------
    data : bytes of the whole file
    known : what is known of each card by its number
    wanted : the card it must be; None for any

    Raises
    ------
    PhotoError, TooLongError, TooMuchRoomError
    """
    require_size(data)
    work = partial(_read, data=data, known=dict(known), wanted=wanted)
    found: ReadPhoto = apart.run(work, limits=LIMITS)
    return found


def _read(
    progress: Progress, *, data: bytes, known: Mapping[int, Known], wanted: int | None
) -> ReadPhoto:
    # what reads pictures is loaded there, not by the server
    from haze.service.cards.told import read_photo

    return read_photo(progress, data=data, known=known, wanted=wanted)
