"""Stored records that cannot be read: set aside and named, so that they take no screen with them.

Whatever way a record came in (an older Haze, a file, a damaged disk), one that does not hold what
it should is one row that says so. Everything beside it is listed as usual.
"""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from typing import Generic, Literal, NamedTuple, TypeVar

from pydantic import BaseModel

from haze.core.errors import CancelledError, HazeError
from haze.service.work.jobs import NotReadyError
from haze.store.connection import StaleError
from haze.store.troubles import StoreError

log = logging.getLogger(__name__)
Kind = Literal[
    "plan",
    "session",
    "day",
    "booth_event",
    "trial",
    "card",
    "card_photo",
    "piece_photo",
    "photo",
    "practice_card",
    "paint",
    "thinner",
    "airbrush",
    "compressor",
    "mesh",
]
# not the record's fault: the disk, memory, somebody else, or a piece that is not worked out yet
NOT_OF_THE_RECORD = (
    sqlite3.Error,
    OSError,
    MemoryError,
    StoreError,
    StaleError,
    NotReadyError,
    CancelledError,
)
R = TypeVar("R")
V = TypeVar("V")


class UnreadableError(HazeError):
    """A stored record that does not hold what it should."""

    code = "unreadable"


class Unreadable(BaseModel):
    """A stored record that cannot be read: what it is, and as much of it as is known.

    `id` names it for its export and its deletion, `at` is when it was stored, "" when not known.
    """

    kind: Kind
    id: str
    name: str
    at: str = ""


class Readable(NamedTuple, Generic[V]):
    """Views of the records that can be read, and the records that cannot."""

    views: list[V]
    unreadable: list[Unreadable]


@contextmanager
def reading(kind: Kind, identity: object) -> Iterator[None]:
    """Read one record; what fails because of what it holds becomes one sentence.

    Parameters
    ----------
    kind : what it is
    identity : which

    Raises
    ------
    UnreadableError : when the record does not hold what it should
    HazeError : as it comes, for it is a sentence already
    """
    try:
        yield
    except (*NOT_OF_THE_RECORD, HazeError):
        raise
    except Exception as error:
        if isinstance(error, ValueError):  # it refuses its own form
            log.info("%s %s cannot be read: %s", kind, identity, error)
        else:  # this may be a fault of ours
            log.warning("%s %s cannot be read", kind, identity, exc_info=True)
        raise UnreadableError(
            "This record is stored, but what it holds cannot be read. Export it to keep what is "
            "in it, or delete it. Nothing was changed.",
            field=kind,
        ) from error


def read_or_none(kind: Kind, identity: object, read: Callable[[], V]) -> V | None:
    """What is read of a record; None when it cannot be read.

    Parameters
    ----------
    kind : what it is
    identity : which
    read : reads it
    """
    try:
        with reading(kind, identity):
            return read()
    except NOT_OF_THE_RECORD:
        raise
    except HazeError:
        return None


def is_readable(kind: Kind, identity: object, read: Callable[[], object]) -> bool:
    """Whether a record can be read; the parameters are those of `read_or_none`."""
    return read_or_none(kind, identity, lambda: (read(), True)) is not None


def readable(
    rows: Iterable[R], view: Callable[[R], V], named: Callable[[R], Unreadable]
) -> Readable[V]:
    """Views of stored rows; those that cannot be read are set aside by name.

    Parameters
    ----------
    rows : as they are stored
    view : what a screen shows of a row
    named : what can be said of a row without reading it
    """
    found: Readable[V] = Readable([], [])
    for row in rows:
        one = named(row)
        try:
            with reading(one.kind, one.id):
                found.views.append(view(row))
        except NOT_OF_THE_RECORD:
            raise
        except HazeError:
            found.unreadable.append(one)
    return found
