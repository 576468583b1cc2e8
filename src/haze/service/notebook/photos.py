"""Photos added to a session by hand: checked apart, upright, sized down, without metadata."""

from __future__ import annotations

import hashlib
import uuid
from functools import partial
from typing import NamedTuple

from haze.core.errors import TooManyError
from haze.core.progress import Progress
from haze.formats.photos import as_jpeg, is_plain, opened, require_size
from haze.service.notebook.notebook import PhotoView, find_anew, photo_view
from haze.service.work import apart
from haze.store import photos, sessions
from haze.store.connection import Database, now
from haze.store.photos import PhotoRow

SIDE = 1600  # px
SMALL_SIDE = 360  # px
MOST_OF_SESSION = 40


class Sized(NamedTuple):
    """A photo as it is kept: JPEG, and a small one."""

    data: bytes
    small: bytes
    width: int
    height: int


def sized(_: Progress, *, data: bytes, as_is: bool = False) -> Sized:
    """A photo as it is kept, wherever this runs.

    Parameters
    ----------
    data : bytes of the whole file
    as_is : whether one that is as Haze keeps photos stays the very same file
    """
    image = opened(data, side=SIDE)
    if as_is and is_plain(data, side=SIDE):
        small = image.copy()
        small.thumbnail((SMALL_SIDE, SMALL_SIDE))
        return Sized(data, as_jpeg(small), *image.size)
    small = image.copy()
    small.thumbnail((SMALL_SIDE, SMALL_SIDE))
    return Sized(as_jpeg(image), as_jpeg(small), *image.size)


def add(db: Database, session: str, data: bytes) -> PhotoView:
    """Add a photo to a session; the same photo again is the one there is.

    Raises
    ------
    PhotoError, MissingError, TooManyError
    """
    require_size(data)
    sessions.one(db.connection(), session)
    made: Sized = apart.run(partial(sized, data=data), limits=apart.PICTURE)
    row = PhotoRow(
        id=uuid.uuid4().hex,
        session=session,
        at=now(),
        hash=hashlib.sha256(made.data).hexdigest(),
        width=made.width,
        height=made.height,
    )
    with db.atomic() as tx:
        if len(photos.of_session(tx, session)) >= MOST_OF_SESSION:
            raise TooManyError(
                f"A session holds at most {MOST_OF_SESSION} photos. Nothing was changed.",
                field="photo",
            )
        return photo_view(photos.add(tx, row, data=made.data, small=made.small))


def read(db: Database, photo: str, *, small: bool) -> bytes:
    """JPEG of a photo."""
    return photos.read(db.connection(), photo, small=small)


def mark(db: Database, photo: str, *, note: str) -> PhotoView:
    """Keep a note with a photo; the session is found by it."""
    with db.atomic() as tx:
        row = photos.mark(tx, photo, note=note.strip())
        find_anew(tx, row.session)
        return photo_view(row)


def put_away(db: Database, photo: str, *, trashed: bool) -> None:
    """Into the trash, or out of it."""
    with db.atomic() as tx:
        row = photos.set_trashed(tx, photo, trashed=trashed)
        find_anew(tx, row.session)
