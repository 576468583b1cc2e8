"""How long to wait."""

from __future__ import annotations

import pytest

from haze.core.day.waits import coat_waits
from helpers import coat, outcome_of


def test_waits_follow_the_kind_of_paint() -> None:
    acrylic, ink, lacquer = (
        coat_waits(c, outcome_of(c)) for c in (coat(), coat(kind="ink"), coat(kind="lacquer"))
    )
    assert acrylic.recoat_s == pytest.approx(1.5 * acrylic.touch_dry_still_s)
    assert ink.recoat_s == pytest.approx(3 * ink.touch_dry_still_s)
    assert lacquer.recoat_s >= 600
