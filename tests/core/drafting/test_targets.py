"""What asked colours want of each light value."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.drafting.sites import MIDDLE, PLACES
from haze.core.drafting.targets import LIFTS, goal_of, wanted_at, wanted_colours
from haze.core.film.difference import hue_turn, lab_of, oklab_of, oklch_of
from haze.core.film.srgb import linear_of_hex


@pytest.mark.parametrize(
    "asked", ["#a81c1c", "#1f4fa0", "#2f7a3a", "#d8c49a", "#2a2c30", "#ffffff", "#000000"]
)
def test_wanted_colours_rise_about_the_asked_one(asked: str) -> None:
    rgb = linear_of_hex(asked)
    wanted = wanted_colours(rgb[None])
    tones = lab_of(wanted)[:, 0]
    assert wanted[MIDDLE] == pytest.approx(rgb)
    assert (np.diff(tones) >= -0.5).all()
    assert ((wanted >= 0) & (wanted <= 1)).all()
    if float(oklch_of(rgb)[1]) > 0.1:
        turned = np.abs(hue_turn(oklch_of(wanted)[:, 2], oklch_of(rgb)[2]))
        assert turned.max() <= 12


def test_lights_go_along_the_hues_own_way() -> None:
    def turn(asked: str) -> float:
        wanted = oklch_of(wanted_colours(linear_of_hex(asked)[None]))[:, 2]
        return float(hue_turn(wanted[-1], wanted[MIDDLE]))

    assert turn("#a81c1c") > 3, "red over orange"
    assert turn("#1f4fa0") < -3, "blue toward cyan"
    assert turn("#2f7a3a") < -3, "green toward yellow"
    assert turn("#5b2f7a") > 3, "violet toward rose"


def test_a_gradient_is_met_at_its_ends_and_even_between() -> None:
    two = np.stack([linear_of_hex(c) for c in ("#33203f", "#e0a818")])
    wanted = wanted_colours(two)
    assert wanted[0] == pytest.approx(two[0], abs=1e-6)
    assert wanted[-1] == pytest.approx(two[1], abs=1e-6)
    lab = oklab_of(wanted)
    along = (lab - lab[0]) @ (lab[-1] - lab[0]) / np.sum((lab[-1] - lab[0]) ** 2)
    shares = (np.array(PLACES) - PLACES[0]) / (PLACES[-1] - PLACES[0])
    assert along == pytest.approx(shares, abs=0.05)
    three = np.insert(two, 1, linear_of_hex("#a81c1c"), axis=0)
    assert wanted_colours(three)[MIDDLE] == pytest.approx(three[1])


def test_wanted_colours_run_with_the_light() -> None:
    asked = linear_of_hex("#2f7a3a")[None]
    value = np.linspace(0, 1, 21).astype(np.float32)
    at = wanted_at(asked, value)
    assert at[10] == pytest.approx(asked[0], abs=2e-3)
    assert (np.diff(lab_of(at)[:, 0]) >= -1e-3).all()
    assert at[0] == pytest.approx(wanted_colours(asked)[0], abs=2e-3)


def test_lights_must_rise_as_the_order_asks_but_not_above_white() -> None:
    red, white = (linear_of_hex(c)[None] for c in ("#a81c1c", "#fafafa"))
    assert goal_of(red, "veil").lift == LIFTS["veil"] < goal_of(red, "descend").lift
    assert goal_of(white, "descend").lift < 2
    both = np.concatenate([red, white])
    assert goal_of(both, "veil").lift == 0.0
    assert goal_of(red, "veil").chroma[MIDDLE] < float(oklch_of(red[0])[1])
