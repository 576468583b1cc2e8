"""What changed in the data folder, sent at once to every page that listens."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Generator

from pydantic import BaseModel

from haze.service.work.jobs import LOOK_EVERY_S

KEPT_NEWS = 200


class PlanNews(BaseModel):
    """A plan has a new version; `by` is the page that made it."""

    plan: str
    version: int
    by: str


class CardNews(BaseModel):
    """A photo of a card came, went, or was agreed with; `by` is the page that did it."""

    photo: str
    by: str


Item = PlanNews | CardNews


class News:
    """News in order, and those who wait for them."""

    def __init__(self) -> None:
        self._changed = threading.Condition()
        self._kept: deque[tuple[int, Item]] = deque(maxlen=KEPT_NEWS)
        self._count = 0
        self._closed = False

    def tell(self, plan: str, version: int, *, by: str) -> None:
        """Tell everybody that a plan has a new version."""
        self._keep(PlanNews(plan=plan, version=version, by=by))

    def tell_card(self, photo: str, *, by: str) -> None:
        """Tell everybody that a photo of a card is there, or no longer as it was."""
        self._keep(CardNews(photo=photo, by=by))

    def _keep(self, one: Item) -> None:
        with self._changed:
            self._count += 1
            self._kept.append((self._count, one))
            self._changed.notify_all()

    def listen(self) -> Generator[Item | None, None, None]:
        """News from now on; None when there is nothing for a while."""
        with self._changed:
            seen = self._count
        return self._heard(seen)

    def _heard(self, seen: int) -> Generator[Item | None, None, None]:
        yield None  # the page hears at once that it is listening
        while True:
            with self._changed:
                if self._count == seen and not self._closed:
                    self._changed.wait(timeout=LOOK_EVERY_S)
                fresh = [(n, news) for n, news in self._kept if n > seen]
                closed = self._closed
            if closed:
                return
            for n, news in fresh:
                seen = n
                yield news
            if not fresh:
                yield None

    def close(self) -> None:
        """Let everybody go."""
        with self._changed:
            self._closed = True
            self._changed.notify_all()
