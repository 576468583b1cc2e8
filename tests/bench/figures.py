"""What a bench says: medians and lines."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

ROUNDS = 9


def median(work: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Median seconds of a piece of work."""
    taken = []
    for _ in range(rounds):
        begun = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begun)
    return statistics.median(taken)


def say(what: str, figure: str, reach: str) -> None:
    print(f"{what:<58} {figure:>22}   reach {reach}")
