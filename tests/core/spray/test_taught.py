"""What trials taught, in one sentence: told only where it is more than it is unsure."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.spray.calibrate import NAMES, Gaussian, Trial, believe, tables
from haze.core.spray.setting import make_setting
from haze.core.spray.taught import LEAST_SHARE, Shift, shifted

NOTHING = believe([], tables()).gaussian


def moved(belief: Gaussian, name: str, ln: float, sd: float) -> Gaussian:
    """A belief whose one factor lies elsewhere."""
    mean, cov = belief.mean.copy(), belief.cov.copy()
    at = NAMES.index(name)
    mean[at] += ln
    cov[at, :] = cov[:, at] = 0.0
    cov[at, at] = sd**2
    return Gaussian(mean, cov)


def test_what_was_learned_is_told_as_a_painter_says_it() -> None:
    after = moved(NOTHING, "droplet", np.log(1.12), 0.0547)
    found = shifted(NOTHING, after)
    assert found is not None
    assert (found.name, found.times) == ("droplet", pytest.approx(1.12))
    assert found.words == "its droplets run 12 % larger than thought (± 7 %)"


def test_the_other_way_round_it_is_told_the_other_way_round() -> None:
    words = [Shift(name, times, 0.05).words for name in NAMES for times in (1.2, 0.8)]
    assert len(set(words)) == 2 * len(NAMES)
    assert all("20 %" in w for w in words)
    assert Shift("viscosity", 0.8, 0.05).words == "it is 20 % thinner than thought (± 5 %)"


def test_a_shift_of_half_its_band_is_not_told_and_one_of_three_quarters_is() -> None:
    half = 1.2816 * 0.2
    assert shifted(NOTHING, moved(NOTHING, "width", 0.5 * half, 0.2)) is None
    assert shifted(NOTHING, moved(NOTHING, "width", 0.75 * half, 0.2)) is not None


@pytest.mark.parametrize("share", [0.9, 1.1])
def test_a_shift_smaller_than_it_is_unsure_is_not_told(share: float) -> None:
    sd = 0.2
    ln = share * LEAST_SHARE * 1.2816 * sd
    assert (shifted(NOTHING, moved(NOTHING, "width", ln, sd)) is None) == (share < 1)


def test_one_clean_card_where_clean_was_expected_teaches_nothing_to_tell() -> None:
    setting = make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=1.0,
        needle_mm=0.3,
        trigger=0.3,
        pressure_psi=20,
        distance_mm=75,
        speed_mm_s=150,
    )
    assert shifted(NOTHING, believe([Trial(setting, "clean")], tables()).gaussian) is None
    many = believe([Trial(setting, "spiders")] * 6, tables()).gaussian
    told = shifted(NOTHING, many)
    assert told is not None
    assert (told.name, told.times > 1) in {("creep", True), ("viscosity", False), ("flow", True)}
