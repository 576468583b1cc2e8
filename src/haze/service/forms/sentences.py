"""Parts of sentences that several screens say alike."""

from __future__ import annotations

from collections.abc import Sequence


def listed(names: Sequence[str]) -> str:
    """ "a", "a and b" or "a, b and c".

    Parameters
    ----------
    names : at least one
    """
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
