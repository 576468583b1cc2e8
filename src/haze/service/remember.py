"""Keep the last few results by key."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")


def remembered(held: OrderedDict[str, T], key: str, make: Callable[[], T], most: int) -> T:
    """What is held under a key, made when it is not; the least used goes when it gets full."""
    if key in held:
        held.move_to_end(key)
        return held[key]
    made = make()
    held[key] = made
    while len(held) > most:
        held.popitem(last=False)
    return made
