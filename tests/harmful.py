"""Work that does harm, for a process of its own: such a function must be found by its module."""

from __future__ import annotations

import os
import time

import numpy as np

from haze.core.errors import MeshError
from haze.core.progress import Progress, tell


def counts(progress: Progress, *, to: int) -> int:
    for n in range(to):
        tell(progress, n / to, "Stopped.")
    return to


def says_where(_: Progress) -> int:
    return os.getpid()


def takes_room(_: Progress) -> float:
    return float(np.ones(2**33).sum())


def takes(_: Progress, *, mib: int) -> int:
    return np.zeros(mib * 2**20, dtype=np.uint8).nbytes // 2**20


def never_ends(_: Progress) -> None:
    while True:
        time.sleep(0.01)


def sleeps(_: Progress, *, seconds: float) -> float:
    time.sleep(seconds)
    return seconds


def works_on(_: Progress) -> None:
    while True:
        pass


def dies(_: Progress) -> None:
    os.abort()


def breaks(_: Progress) -> None:
    raise KeyError("a part nobody foresaw")


def refuses(_: Progress) -> None:
    raise MeshError("This mesh is a joke.", field="mesh")


def nests(_: Progress) -> None:
    nests(_)
