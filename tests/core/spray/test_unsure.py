"""The prior of airbrushes alike, and its words."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.spray.unsure import SPREAD, band, clean_words, prior, prior_of_paint


def test_the_prior_has_the_spreads_that_are_judged() -> None:
    alike = prior(1024)
    for name, spread in SPREAD.items():
        log = np.log(getattr(alike, name))
        assert np.mean(log) == pytest.approx(0.0, abs=0.02)
        assert np.std(log) == pytest.approx(spread, rel=0.05)


def test_paints_of_one_airbrush_share_the_width_of_its_jet_alone() -> None:
    one, two = prior_of_paint(0), prior_of_paint(1)
    assert np.array_equal(one.width, two.width)
    for name in ("viscosity", "droplet", "creep"):
        mine, other = getattr(one, name), getattr(two, name)
        assert np.array_equal(np.sort(mine), np.sort(other))
        assert abs(np.corrcoef(mine, other)[0, 1]) < 0.5
    assert np.array_equal(prior_of_paint(1).creep, two.creep)


def test_a_band_is_from_one_of_ten_to_nine_of_ten() -> None:
    told = band(np.asarray(3.0), spread=np.linspace(0.0, 10.0, 101))
    assert (told.value, told.low, told.high) == pytest.approx((3.0, 1.0, 9.0))


@pytest.mark.parametrize(("share", "words"), [(1.0, "10 of 10"), (0.02, "none"), (0.77, "8 of 10")])
def test_how_sure_in_words(share: float, words: str) -> None:
    assert clean_words(share).startswith(f"clean in {words}")
