"""How long to wait."""

from __future__ import annotations

import pytest

from haze.core.day.waits import before_tape_s, coat_waits, hand_wait_s
from haze.core.plan.coat import HandStep
from haze.core.plan.roles import HANDS
from helpers import coat, outcome_of


def test_waits_follow_the_kind_of_paint() -> None:
    acrylic, ink, lacquer = (
        coat_waits(c, outcome_of(c)) for c in (coat(), coat(kind="ink"), coat(kind="lacquer"))
    )
    assert acrylic.recoat_s == pytest.approx(1.5 * acrylic.touch_dry_still_s)
    assert ink.recoat_s == pytest.approx(3 * ink.touch_dry_still_s)
    assert lacquer.recoat_s >= 600


def test_blown_paint_is_ready_sooner() -> None:
    still, blown = coat(), coat()
    blown.spray = blown.spray.model_copy(update={"blown": True})
    slow, quick = (coat_waits(c, outcome_of(c)) for c in (still, blown))
    assert quick.recoat_s == pytest.approx(1.5 * quick.touch_dry_blown_s)
    assert quick.recoat_s < slow.recoat_s


def test_a_step_by_hand_waits_its_minutes_or_the_usual_ones() -> None:
    rest = HandStep(id="r", name="Rest", role="rest", minutes=90)
    assert hand_wait_s(rest) == 5400
    usual = HandStep(id="r", name="Rest", role="rest")
    assert hand_wait_s(usual) == 60 * HANDS["rest"].minutes > 0


def test_tape_waits_longest_for_primer() -> None:
    waits = [before_tape_s(kind) for kind in ("airbrush_acrylic", "lacquer", "primer")]
    assert waits == sorted(waits)
    assert waits == [2 * 3600, 4 * 3600, 24 * 3600]
