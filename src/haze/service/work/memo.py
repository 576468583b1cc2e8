"""Results kept by a frozen value of all they depend on."""

from __future__ import annotations

import threading
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

from cachetools import LRUCache

K = TypeVar("K", bound=Hashable)
V = TypeVar("V")


class Memo(Generic[K, V]):
    """The last results by key, the least used first to go; safe from several threads.

    A key is a frozen value, and what is made from it takes nothing else: so nothing a result
    depends on can be left out of its key. The same result is never made twice at once; other keys
    do not wait for it.
    """

    def __init__(self, most: int) -> None:
        self._held: LRUCache[K, V] = LRUCache(most)
        self._making: dict[K, threading.RLock] = {}
        self._lock = threading.Lock()

    def of(self, key: K, make: Callable[[K], V]) -> V:
        """What is held under a key, made from it when it is not."""
        with self._lock:
            if key in self._held:
                return self._held[key]
            making = self._making.setdefault(key, threading.RLock())
        with making:
            with self._lock:
                if key in self._held:
                    return self._held[key]
            try:
                made = make(key)
                self.put(key, made)
            finally:
                with self._lock:
                    self._making.pop(key, None)
            return made

    def put(self, key: K, value: V) -> None:
        """Hold a value that was made elsewhere."""
        with self._lock:
            self._held[key] = value

    def clear(self) -> None:
        """Let go of everything."""
        with self._lock:
            self._held.clear()

    def find(self, key: K) -> V | None:
        """What is held under a key; None when there is nothing."""
        with self._lock:
            return self._held.get(key)

    def __contains__(self, key: object) -> bool:
        with self._lock:
            return key in self._held
