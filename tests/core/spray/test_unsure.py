"""The prior of airbrushes alike, and its words."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from haze.core.spray.model import spray
from haze.core.spray.setting import make_setting
from haze.core.spray.unsure import (
    NOMINAL,
    SPREAD,
    bands,
    clean_words,
    in_turn,
    prior,
    prior_of_paint,
)


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
    spread = np.linspace(0.0, 10.0, 101)
    one, other = bands([np.asarray(3.0), np.asarray(70.0)], [spread, 20 * spread])
    assert (one.value, one.low, one.high) == pytest.approx((3.0, 1.0, 9.0))
    assert (other.value, other.low, other.high) == pytest.approx((70.0, 20.0, 180.0))


@pytest.mark.parametrize(("share", "words"), [(1.0, "10 of 10"), (0.02, "none"), (0.77, "8 of 10")])
def test_how_sure_in_words(share: float, words: str) -> None:
    assert clean_words(share).startswith(f"clean in {words}")


def test_a_factor_of_flow_goes_through_the_film_and_the_full_trigger() -> None:
    s = make_setting(
        "airbrush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=0.75,
        needle_mm=0.3,
        trigger=0.4,
        pressure_psi=18.0,
        distance_mm=70.0,
        speed_mm_s=80.0,
    )
    told, more = spray(s), spray(s, replace(NOMINAL, flow=np.asarray(2.0)))
    assert float(more.flow_ml_min) == pytest.approx(2 * float(told.flow_ml_min))
    assert 1.6 < float(more.dry_film_um / told.dry_film_um) < 2.4
    scarce = s.but(thinner_parts=0.1, trigger=0.1)
    less = spray(scarce, replace(NOMINAL, flow=np.asarray(0.25)))
    assert float(less.no_flow) > float(spray(scarce).no_flow)


def test_draws_in_turn_are_the_same_airbrushes_in_the_order_of_their_jets() -> None:
    draws = prior_of_paint(3)
    mixed = replace(draws, width=draws.width[::-1].copy())
    turned = in_turn(mixed)
    assert np.array_equal(np.argsort(turned.width), np.argsort(prior().width))
    pairs = {tuple(row) for row in np.stack([mixed.width, mixed.creep]).T}
    assert {tuple(row) for row in np.stack([turned.width, turned.creep]).T} == pairs
