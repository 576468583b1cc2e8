"""Cards to practise on: they show what is asked, changes are judged by the model, faults return."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.random import Generator

from haze.core.inspect.practice import (
    BOXES,
    LEVELS,
    STRENGTHS,
    TURNS,
    Answer,
    Judged,
    Level,
    NoCardError,
    comes_next,
    judge,
    sheet,
    standings,
    well_changed,
)
from haze.core.spray.advice import CLEAN_BELOW, apply
from haze.core.spray.calibrate import CLASSES, Look
from haze.core.spray.model import spray
from haze.core.spray.setting import Setting, make_setting


def draw(rng: Generator, n: int) -> Setting:
    u = rng.uniform
    return make_setting(
        "brush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=u(0.2, 4, n),
        needle_mm=0.3,
        trigger=u(0.1, 0.7, n),
        pressure_psi=u(4, 32, n),
        distance_mm=u(30, 180, n),
        speed_mm_s=u(40, 160, n),
        temperature_c=u(16, 32, n),
        humidity_pct=u(20, 60, n),
        contrast=0.9,
    )


def flooding() -> Setting:
    """Far too wet: thin paint, near, slow."""
    return make_setting(
        "brush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=3.0,
        needle_mm=0.3,
        trigger=0.4,
        pressure_psi=25.0,
        distance_mm=40.0,
        speed_mm_s=60.0,
        contrast=0.9,
    )


@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("look", CLASSES)
def test_a_card_shows_what_is_asked_as_plainly_as_asked(look: Look, level: Level) -> None:
    made = sheet(look, level, draw, seed=30 + level)
    low, high = STRENGTHS[look][level]
    assert made.truth.look == look
    assert low <= max(made.truth.strengths.values()) <= high
    # its setting can be set by a hand
    assert made.setting.knob("pressure_psi") % 0.5 == pytest.approx(0)
    assert made.setting.knob("distance_mm") % 5 == pytest.approx(0)


def test_the_same_seed_makes_the_same_card() -> None:
    one, again = (sheet("specks", 1, draw, seed=8) for _ in range(2))
    assert one.truth == again.truth
    assert one.setting.knob("trigger") == again.setting.knob("trigger")


def test_what_no_setting_shows_is_told() -> None:
    def always_clean(rng: Generator, n: int) -> Setting:
        return flooding().but(distance_mm=np.full(n, 90.0), thinner_parts=1.0, speed_mm_s=90.0)

    with pytest.raises(NoCardError, match="spiders"):
        sheet("spiders", 0, always_clean, seed=1)


def does(setting: Setting) -> dict[str, Judged]:
    return {one.change: one for one in judge(setting)}


def test_a_flood_is_cured_from_farther_off_and_made_worse_by_more_paint() -> None:
    found = does(flooding())
    assert found["farther"].does in ("best", "cures")
    assert found["less_trigger"].does in ("best", "cures")
    assert found["nearer"].does == "worse"
    assert found["more_trigger"].does == "worse"
    assert found["leave"].does == "little"


@pytest.mark.parametrize("look", ["spiders", "specks", "dust"])
def test_a_cure_is_one_and_the_first_is_the_shortest(look: Look) -> None:
    setting = sheet(look, 0, draw, seed=3).setting
    judged = judge(setting)
    assert {one.change for one in judged} == {"leave", *TURNS}
    for one in judged:
        if one.does not in ("best", "cures"):
            continue
        assert one.knob is not None
        assert one.to is not None
        turned = spray(apply(setting, one.knob, np.array([one.to])))
        assert float(turned.worst[0]) < CLEAN_BELOW
    cures = [one.cost for one in judged if one.does in ("best", "cures")]
    assert judged[0].does in ("best", "helps")
    if cures:
        assert judged[0].cost == min(cures)


def test_a_clean_card_is_left_alone() -> None:
    setting = sheet("clean", 0, draw, seed=5).setting
    judged = judge(setting)
    assert judged[0].change == "leave"
    assert judged[0].does == "best"
    assert well_changed(judged, "leave")
    assert not any(well_changed(judged, change) for change in TURNS)


def test_where_no_change_cures_alone_one_that_helps_is_right() -> None:
    def one(change: str, does: str) -> Judged:
        return Judged(change, does, None, None, None, 0.0, 0.9, 0.5)  # type: ignore[arg-type]

    helped = [one("leave", "little"), one("nearer", "helps"), one("farther", "worse")]
    assert well_changed(helped, "nearer")
    assert not well_changed(helped, "farther")
    cured = [*helped, one("faster", "best"), one("slower", "cures")]
    assert [well_changed(cured, c) for c in ("faster", "slower", "nearer")] == [True, True, False]


def answers(*pairs: tuple[Look, Look]) -> list[Answer]:
    return [Answer(look, 0, named, changed_well=True) for look, named in pairs]


def test_what_is_named_rightly_grows_subtler_and_what_is_missed_plain_again() -> None:
    known = standings(answers(*[("dust", "dust")] * 4))
    assert known["dust"].level == 2
    assert known["dust"].right == 4
    known = standings(answers(*[("dust", "dust")] * 4, ("dust", "clean")))
    assert known["dust"].level == 0
    assert known["dust"].taken_for == "clean"
    # what it was taken for is less sure too
    sure = standings(answers(*[("clean", "clean")] * 3))["clean"].box
    doubted = standings(answers(*[("clean", "clean")] * 3, ("dust", "clean")))["clean"].box
    assert doubted == sure - 1


def test_a_fault_that_is_confused_comes_more_often() -> None:
    history: list[Answer] = []
    for seed in range(200):
        look, level = comes_next(history, seed=seed)
        taken: Look = "clean" if look == "dust" else look
        history.append(Answer(look, level, taken, changed_well=True))
    shown = [one.look for one in history[50:]]
    others = [shown.count(look) for look in CLASSES if look not in ("dust", "clean")]
    assert shown.count("dust") > 2 * max(others)
    assert shown.count("clean") > max(others)
    assert min(others) > 0


@settings(max_examples=40)
@given(st.lists(st.tuples(st.sampled_from(CLASSES), st.sampled_from(CLASSES)), max_size=60))
def test_boxes_and_shares_stay_within_what_was_answered(pairs: list[tuple[Look, Look]]) -> None:
    history = answers(*pairs)
    for look, known in standings(history).items():
        assert 0 <= known.box < len(BOXES)
        assert known.changed_well <= known.right <= known.asked <= 10
        assert known.asked == min(10, sum(one.look == look for one in history))
    look, level = comes_next(history, seed=1)
    assert level == standings(history)[look].level
