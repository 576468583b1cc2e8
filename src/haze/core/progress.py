"""How long work tells how far it is, and how it is stopped."""

from __future__ import annotations

from collections.abc import Callable

from haze.core.errors import CancelledError

Progress = Callable[[float], bool]  # called with the share done; False asks to stop


def tell(progress: Progress | None, done: float, stopped: str) -> None:
    """Tell how far the work is; `CancelledError` when it shall stop.

    Parameters
    ----------
    progress : called with the share done; None for silence
    done : float [0..1]
    stopped : str, the sentence for the painter when it stops
    """
    if progress and not progress(done):
        raise CancelledError(stopped)


def part_of(progress: Progress | None, begin: float, end: float) -> Progress | None:
    """The same teller for a part of the work.

    Parameters
    ----------
    progress : called with the share done; None for silence
    begin, end : float [0..1], shares of the whole at which the part begins and ends
    """
    if progress is None:
        return None
    return lambda done: progress(begin + (end - begin) * done)
