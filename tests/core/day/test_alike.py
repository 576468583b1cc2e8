"""Rounds and waits in airbrushes alike."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from haze.core.day.alike import MOST_TIMES, Alike, alike_of, alike_words, rounds_between
from haze.core.day.waits import RECOAT_DEFAULT
from haze.core.spray.model import spray
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import NOMINAL, Latents, prior


def setting(passes: float = 4.0, blown: float = 0.0) -> Setting:
    return make_setting(
        "brush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=1.2,
        needle_mm=0.3,
        trigger=0.4,
        pressure_psi=18,
        distance_mm=80,
        speed_mm_s=80,
        passes=passes,
        rest_s=20,
        blown=blown,
    )


def alike(s: Setting, latents: Latents) -> Alike:
    return alike_of(s, kind="brush_acrylic", outcome=spray(s), latents=latents)


def wider(factor: float) -> Latents:
    return replace(NOMINAL, width=np.asarray([factor]))


def test_the_airbrush_of_the_tables_needs_what_is_planned() -> None:
    s = setting()
    one = alike(s, NOMINAL)
    assert float(one.rounds) == pytest.approx(1.0)
    assert float(one.recoat_s) == pytest.approx(RECOAT_DEFAULT * float(spray(s).touch_dry_still_s))


def test_a_jet_half_as_wide_lays_twice_the_film_and_needs_half_the_rounds() -> None:
    assert alike(setting(), wider(0.5)).rounds == pytest.approx([0.5])
    assert alike(setting(), wider(2.0)).rounds == pytest.approx([2.0])


def test_no_side_gets_less_than_one_round() -> None:
    assert alike(setting(passes=1), wider(0.5)).rounds == pytest.approx([1.0])


def test_nobody_sprays_without_end() -> None:
    assert alike(setting(), wider(100.0)).rounds == pytest.approx([MOST_TIMES])


def test_the_same_film_takes_about_the_same_time_to_dry() -> None:
    s = setting()
    kept = alike(s, prior()).recoat_s / float(alike(s, NOMINAL).recoat_s)
    left = spray(s, prior()).touch_dry_still_s / float(spray(s).touch_dry_still_s)
    assert np.ptp(np.quantile(kept, (0.1, 0.9))) < 0.5 * np.ptp(np.quantile(left, (0.1, 0.9)))


def test_a_blown_coat_waits_for_the_blown_film() -> None:
    s = setting(blown=1.0)
    assert float(alike(s, NOMINAL).recoat_s) == pytest.approx(
        RECOAT_DEFAULT * float(spray(s).touch_dry_blown_s)
    )


def test_the_band_is_told_in_whole_rounds() -> None:
    many = Alike(np.linspace(0.5, 2.0, 101), np.ones(101))
    assert rounds_between(4, many) == (3, 7)  # 2.6 and 7.4
    assert alike_words(4, many) == "3 to 7 in most airbrushes until this film lies"
    assert rounds_between(1, Alike(np.full(3, 0.2), np.ones(3))) == (1, 1)
    assert alike_words(1, Alike(np.ones(3), np.ones(3))).startswith("1 in most airbrushes")
