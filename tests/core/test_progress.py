"""How far work is, and how it is stopped."""

from __future__ import annotations

import pytest

from haze.core.errors import CancelledError
from haze.core.progress import part_of, tell


def test_a_part_tells_its_share_of_the_whole_and_hands_on_the_stop() -> None:
    told: list[float] = []

    def whole(done: float) -> bool:
        told.append(done)
        return done < 0.7

    part = part_of(whole, 0.4, 0.8)
    assert part is not None
    assert [part(0.0), part(0.5), part(1.0)] == [True, True, False]
    assert told == pytest.approx([0.4, 0.6, 0.8])
    with pytest.raises(CancelledError, match="Enough"):
        tell(part, 1.0, "Enough.")
    assert part_of(None, 0.0, 1.0) is None
