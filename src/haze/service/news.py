"""What changed in the data folder, told at once to every page that listens."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Generator

from pydantic import BaseModel

from haze.core.errors import HazeError
from haze.service.jobs import ALIVE_EVERY_S

KEPT_NEWS = 200
MOST_LISTENERS = 12  # each holds a thread of the server; the tabs of one browser share one


class TooManyListenersError(HazeError):
    """More pages want to be told than Haze has hands for."""

    code = "too_many_listeners"


class PlanNews(BaseModel):
    """A plan has a new version; `by` is the page that made it."""

    plan: str
    version: int
    by: str


class CardNews(BaseModel):
    """A photo of a card came, went, or was agreed with; `by` is the page that did it."""

    photo: str
    by: str


Told = PlanNews | CardNews


class News:
    """News in order, and those who wait for them."""

    def __init__(self) -> None:
        self._changed = threading.Condition()
        self._told: deque[tuple[int, Told]] = deque(maxlen=KEPT_NEWS)
        self._count = 0
        self._listeners = 0
        self._closed = False

    def tell(self, plan: str, version: int, *, by: str) -> None:
        """Tell everybody that a plan has a new version."""
        self._tell(PlanNews(plan=plan, version=version, by=by))

    def tell_card(self, photo: str, *, by: str) -> None:
        """Tell everybody that a photo of a card is there, or no longer as it was."""
        self._tell(CardNews(photo=photo, by=by))

    def _tell(self, one: Told) -> None:
        with self._changed:
            self._count += 1
            self._told.append((self._count, one))
            self._changed.notify_all()

    def listen(self) -> Generator[Told | None, None, None]:
        """News from now on; None when there is nothing for a while."""
        with self._changed:
            if self._listeners >= MOST_LISTENERS:
                raise TooManyListenersError(
                    f"{MOST_LISTENERS} pages listen already; close some of them."
                )
            self._listeners += 1
            seen = self._count
        return self._heard(seen)

    def _heard(self, seen: int) -> Generator[Told | None, None, None]:
        try:
            yield None  # the page hears at once that it is listening
            while True:
                with self._changed:
                    if self._count == seen and not self._closed:
                        self._changed.wait(timeout=ALIVE_EVERY_S)
                    fresh = [(n, news) for n, news in self._told if n > seen]
                    closed = self._closed
                if closed:
                    return
                for n, news in fresh:
                    seen = n
                    yield news
                if not fresh:
                    yield None
        finally:
            with self._changed:
                self._listeners -= 1

    def close(self) -> None:
        """Let everybody go."""
        with self._changed:
            self._closed = True
            self._changed.notify_all()
