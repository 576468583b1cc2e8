"""How far overspray shows: against the film that is seen, by distance, rounds and contrast."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.onpiece.beside import film_beside_um, reach_mm, showing_um
from haze.core.onpiece.painting import mist_um
from helpers import coat, outcome_of

RED = coat().mix.optics


def test_the_least_film_that_is_seen_turns_a_ground_by_one() -> None:
    least = showing_um(RED, over="#101010")
    ground = bare_skin("#101010", 1, single=False)
    after = seen(coated(ground, RED, np.array([least]))).T
    off = float(ciede2000(lab_of(after), lab_of(seen(ground).T))[0])
    assert 1.0 <= off < 1.2
    assert showing_um(RED, over=coat().paint.masstone) > 5 * least, "on its own colour it hides"


def test_film_beside_an_edge_by_hand() -> None:
    # σ = .07 × 100 mm = 7 mm: at the edge a half, 7 mm off .158655; the mist three times as wide
    out, rounds = outcome_of(coat()), 4.0
    dry, mist = float(out.dry_film_um), mist_um(out, passes=rounds)
    got = film_beside_um(np.array([0.0, 7.0, 21.0]), outcome=out, passes=rounds, distance_mm=100.0)
    share = np.array([0.5, 0.158655, 0.0013499])
    wide = np.array([0.5, 0.369441, 0.158655])
    assert got == pytest.approx(rounds * dry * share + mist * wide, rel=1e-4)


def test_it_shows_farther_from_afar_with_more_rounds_and_where_less_is_seen() -> None:
    out = outcome_of(coat())
    given = {"passes": 3.0, "distance_mm": 60.0, "showing": 0.1}

    def reach(**more: float) -> float:
        return reach_mm(out, **(given | more))

    assert reach(distance_mm=120.0) == pytest.approx(2 * reach(), rel=0.02)
    assert reach(passes=9.0) > reach() > reach(showing=0.4)
    assert reach(showing=float("inf")) == 0.0
