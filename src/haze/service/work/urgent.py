"""What a hand waits for goes first: longer work of other threads stands aside for it."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

PATIENCE_S = 0.25  # so that longer work comes on beside a hand that never rests


class Urgent:
    """Work that is answered under a moving hand; safe from several threads."""

    def __init__(self) -> None:
        self._under_way = 0
        self._changed = threading.Condition()

    @contextmanager
    def first(self) -> Iterator[None]:
        """Others stand aside meanwhile."""
        with self._changed:
            self._under_way += 1
        try:
            yield
        finally:
            with self._changed:
                self._under_way -= 1
                self._changed.notify_all()

    def let_by(self) -> None:
        """Wait until nothing urgent is under way, or patience ends."""
        with self._changed:
            self._changed.wait_for(lambda: not self._under_way, PATIENCE_S)
