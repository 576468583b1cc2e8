"""From a symptom to its cause: the model's own faults, and those of the trade."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

from haze.core.spray.advice import CLEAN_BELOW, apply
from haze.core.spray.calibrate import Belief, Trial, believe, tables
from haze.core.spray.model import spray
from haze.core.spray.recipe import Recipe, find_recipe
from haze.core.spray.setting import Setting
from haze.core.spray.trouble import (
    LEAST_STEP,
    MOST_AIRBRUSHES,
    TRADE,
    TROUBLES,
    Symptom,
    diagnose,
)


@pytest.fixture(scope="module")
def good() -> Setting:
    found = find_recipe("airbrush_acrylic", needle_mm=0.3, task="cover", school="middle")
    assert isinstance(found, Recipe)
    return found.setting


@pytest.fixture(scope="module")
def untried() -> Belief:
    return believe([], tables())


@pytest.mark.parametrize("symptom", get_args(Symptom))
def test_every_symptom_has_causes_and_a_way_to_save_the_piece(
    symptom: Symptom, good: Setting, untried: Belief
) -> None:
    found = diagnose(good, symptom, untried)
    shares = [c.share for c in found.causes]
    assert sum(shares) == pytest.approx(1.0)
    assert shares == sorted(shares, reverse=True)
    assert found.repair == TROUBLES[symptom].repair
    assert (found.expected is None) == (symptom in TRADE)
    for c in found.causes:
        assert (c.knob is None) == (c.to is None)


def test_each_cure_cures_and_turns_its_knob_far_enough(good: Setting, untried: Belief) -> None:
    near = good.but(distance_mm=45.0)
    found = diagnose(near, "spiders", untried)
    assert found.unexpected is None
    for c in found.causes:
        assert c.knob is not None
        assert c.to is not None
        assert abs(np.log(c.to / max(near.knob(c.knob), 1e-3))) >= LEAST_STEP or c.knob == "rest_s"
        cured = apply(near, c.knob, np.asarray(c.to))
        struck = spray(cured, untried.draws).spiders >= CLEAN_BELOW
        was = spray(near, untried.draws).spiders >= CLEAN_BELOW
        assert struck.mean() < was.mean()
        assert struck.mean() < 1 - MOST_AIRBRUSHES + 0.15
    assert found.causes[0].knob == "distance_mm"


def test_advice_for_specks_never_floods_them_away(good: Setting, untried: Belief) -> None:
    weak = good.but(pressure_psi=5.0, trigger=0.4)
    knobs = {c.knob for c in diagnose(weak, "specks", untried).causes}
    assert "pressure_psi" in knobs
    assert not knobs & {"distance_mm", "speed_mm_s"}


def test_what_the_model_does_not_expect_is_said(good: Setting, untried: Belief) -> None:
    found = diagnose(good, "nothing", untried)
    assert found.unexpected is not None
    assert "dried paint in the nozzle" in found.unexpected
    assert "hardly any" in found.unexpected
    expected = diagnose(good.but(distance_mm=40.0, thinner_parts=2.0), "spiders", untried)
    assert expected.unexpected is None
    assert expected.expected is not None
    assert expected.expected > 0.5


def test_trials_change_what_is_expected(good: Setting, untried: Belief) -> None:
    seen = believe([Trial(good, "spiders"), Trial(good, "spiders")], tables())
    before, after = (diagnose(good, "spiders", b).expected for b in (untried, seen))
    assert before is not None
    assert after is not None
    assert after > 2 * before


def test_without_a_cure_it_says_so(good: Setting, untried: Belief) -> None:
    hopeless = good.but(distance_mm=8.0, thinner_parts=6.0, pressure_psi=45.0, trigger=1.0)
    found = diagnose(hopeless, "spiders", untried)
    assert [c.knob for c in found.causes] == [None]
    assert "recipe" in found.causes[0].why


def test_causes_of_the_trade_turn_a_knob_by_a_factor(good: Setting, untried: Belief) -> None:
    band = diagnose(good, "band", untried).causes[0]
    assert band.knob == "distance_mm"
    assert band.to == pytest.approx(1.4 * good.knob("distance_mm"))


def test_a_cure_so_near_that_nothing_was_turned_is_none(good: Setting, untried: Belief) -> None:
    # just beyond the edge the nearest cure is a hair away
    for mm in np.linspace(good.knob("distance_mm"), 40.0, 12):
        at = good.but(distance_mm=mm)
        for symptom in ("spiders", "dust"):
            for c in diagnose(at, symptom, untried).causes:
                if c.knob not in (None, "rest_s"):
                    assert c.to is not None
                    here = max(at.knob(str(c.knob)), 1e-3)
                    assert abs(np.log(c.to / here)) >= LEAST_STEP
