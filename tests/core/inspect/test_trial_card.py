"""A whole card as a setting would leave it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from core.inspect.test_sprayed import setting
from haze.core.film.paint import paint_optics
from haze.core.inspect.card import DOTS_AT, WINDOW_MM, ZONES
from haze.core.inspect.trial_card import (
    MATCHED_MM,
    Hand,
    SprayedCard,
    Truth,
    near,
    one_pass_share,
    sprayed_card,
    truth_of,
)
from haze.core.spray.model import dry_film_um
from haze.core.spray.unsure import Latents

PX = 6.0
EVEN = Hand(rows=0.0, time=0.0, errs_mm=0.0)
DEEP = paint_optics("#1d3f8a", opacity="opaque")


def mean_film(card: SprayedCard, zone: str, inset: float) -> float:
    x0, y0, x1, y1 = (round(v * PX) for v in ZONES[zone])
    i = round(inset * PX)
    return float(card.laid.film_um[y0 + i : y1 - i, x0 + i : x1 - i].mean())


@pytest.fixture(scope="module")
def clean() -> SprayedCard:
    return sprayed_card(setting(), hand=EVEN, px_mm=PX, seed=3)


@pytest.fixture(scope="module")
def flooded() -> SprayedCard:
    wet = setting(thinner_parts=4.0, pressure_psi=28.0, distance_mm=40.0)
    return sprayed_card(wet, px_mm=PX, seed=3)


def test_a_line_is_opened_until_it_is_as_dense_as_one_pass() -> None:
    for s in (setting(), setting(trigger=0.6, pressure_psi=30.0, distance_mm=100.0)):
        line = near(s, MATCHED_MM)
        assert float(dry_film_um(line)) == pytest.approx(float(dry_film_um(s)), rel=0.05)
        assert line.knob("trigger") < s.knob("trigger")
        assert near(s, 15.0).knob("trigger") == line.knob("trigger")
        assert float(dry_film_um(near(s, 15.0))) > float(dry_film_um(near(s, 40.0)))


def test_the_eye_sees_what_comes_of_this_airbrush() -> None:
    one = np.asarray(1.0)
    rich = Latents(one, one, one, one, one * 2)
    s = setting()
    assert near(s, 25.0, rich).knob("trigger") == pytest.approx(
        near(s, 25.0).knob("trigger"), rel=0.02
    )
    wide = Latents(one, one, one, one * 1.3, one)
    assert float(dry_film_um(near(s, 25.0, wide), wide)) == pytest.approx(
        float(dry_film_um(s, wide)), rel=0.05
    )


def test_the_middle_of_one_pass_holds_the_film_that_is_foreseen(clean: SprayedCard) -> None:
    foreseen = clean.here.wet_um * clean.here.dry_share * one_pass_share(clean.here.sigma_mm)
    # the solid beside it reaches into it a little
    assert mean_film(clean, "onepass", 6.0) == pytest.approx(foreseen, rel=0.15)
    # rows 1.5 sigma apart over a wide field add up to sqrt(2 pi) / 1.5 or so; edges take from it
    assert 0.5 < one_pass_share(4.0) < 1.8


def test_the_frame_keeps_the_edge_clean() -> None:
    far = setting(distance_mm=140.0)
    framed = sprayed_card(far, px_mm=PX, seed=1)
    bare = sprayed_card(far, px_mm=PX, seed=1, framed=False)
    x0, y0, x1, y1 = (round(v * PX) for v in WINDOW_MM)
    for card, clean_edge in ((framed, True), (bare, False)):
        edge = card.laid.film_um.copy()
        edge[y0:y1, x0:x1] = 0
        assert bool(edge.max() == 0) is clean_edge


def test_the_solid_is_denser_than_one_pass_and_the_fade_thins(clean: SprayedCard) -> None:
    assert mean_film(clean, "solid", 6.0) > 2 * mean_film(clean, "onepass", 6.0)
    x0, y0, x1, y1 = (round(v * PX) for v in ZONES["fade"])
    fade = clean.laid.film_um[y0 + 40 : y1 - 40, x0:x1].mean(axis=0)
    assert fade[: len(fade) // 4].mean() > 3 * fade[-len(fade) // 6 :].mean()


def test_longer_dots_hold_more(clean: SprayedCard) -> None:
    held = []
    for x, y in DOTS_AT:
        cx, cy = round(x * PX), round(y * PX)
        held.append(float(clean.laid.film_um[cy - 30 : cy + 30, cx - 30 : cx + 30].sum()))
    assert held == sorted(held)


def test_the_same_seed_sprays_the_same_card(clean: SprayedCard) -> None:
    again = sprayed_card(setting(), hand=EVEN, px_mm=PX, seed=3)
    assert np.array_equal(again.laid.film_um, clean.laid.film_um)
    other = sprayed_card(setting(), hand=EVEN, px_mm=PX, seed=4)
    assert not np.array_equal(other.laid.film_um, clean.laid.film_um)


def test_what_is_true_of_a_card(clean: SprayedCard, flooded: SprayedCard) -> None:
    true = truth_of(clean)
    assert true.look == "clean"
    assert true.sigma_mm == pytest.approx((1.05, 1.75, 2.8))
    assert true.lines_um[0] > true.lines_um[1] > true.lines_um[2] > 0
    assert truth_of(flooded).look == "spiders"
    assert truth_of(flooded).finger_mm > 50


def test_the_strongest_fault_is_the_look() -> None:
    nothing_wrong = Truth(0.0, 0.0, 0.0, 0.0, (), (), 1.0)
    assert nothing_wrong.look == "clean"
    assert replace(nothing_wrong, specks_cm2=30.0, dusty=0.13).look == "specks"
    assert replace(nothing_wrong, specks_cm2=30.0, dusty=0.36).look == "dust"
    assert replace(nothing_wrong, finger_mm=100.0, stops=0.7).look == "nothing"
    assert replace(nothing_wrong, finger_mm=11.0).look == "clean"


def test_fingers_in_a_closed_film_are_not_seen(flooded: SprayedCard) -> None:
    seen = [p.seen for p in flooded.laid.paths if p.mark < flooded.worked]
    assert 0 < np.mean(seen) < 0.6
    dots = [p.seen for p in flooded.laid.paths if p.mark >= flooded.worked]
    assert np.mean(dots) > np.mean(seen)
