"""Photos of trial cards are read in a process of its own, within limits."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from haze.core.progress import Progress
from haze.formats.photos import require_size
from haze.service.cards.card_read import KnownCard, ReadPhoto
from haze.service.work import apart

LIMITS = apart.Limits(seconds=30.0, room=int(1.4 * apart.GIB))


def read_apart(
    data: bytes, known: Mapping[int, KnownCard], *, wanted: int | None = None
) -> ReadPhoto:
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
    progress: Progress, *, data: bytes, known: Mapping[int, KnownCard], wanted: int | None
) -> ReadPhoto:
    # what reads pictures is loaded there, not by the server
    from haze.service.cards.describe import read_photo

    return read_photo(progress, data=data, known=known, wanted=wanted)
