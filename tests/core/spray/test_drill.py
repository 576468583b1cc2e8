"""Five cards for one's own gear: apart, telling more together than any five at random."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.spray.calibrate import CLASSES, Belief, Trial, believe, chances, latents_of, tables
from haze.core.spray.drill import LEAST_APART, drill
from haze.core.spray.setting import Setting, make_setting, one_of

SIDE = 9


@pytest.fixture(scope="module")
def grid() -> Setting:
    parts, psi = np.meshgrid(np.geomspace(0.5, 3, SIDE), np.geomspace(8, 28, SIDE))
    return make_setting(
        "brush_acrylic",
        thinner="acrylic_thinner",
        thinner_parts=parts.ravel(),
        needle_mm=0.3,
        trigger=0.3,
        pressure_psi=psi.ravel(),
        distance_mm=70.0,
        speed_mm_s=90.0,
        contrast=0.9,
    )


def left_open(grid: Setting, places: list[int], painter: int) -> float:
    """Entropy [nats] of what is believed after a made-up painter's cards."""
    rng = np.random.default_rng(painter)
    truth = rng.multivariate_normal(tables().mean, tables().cov)
    trials = []
    for place in places:
        one = one_of(grid, place)
        shares = chances(one, latents_of(truth)).ravel()
        look = CLASSES[int(rng.choice(len(CLASSES), p=shares / shares.sum()))]
        trials.append(Trial(one, look))
    _, logdet = np.linalg.slogdet(believe(trials, tables()).gaussian.cov)
    return float(0.5 * logdet)


def test_five_lie_apart_and_none_comes_twice(grid: Setting) -> None:
    chosen = drill(grid, believe([], tables()), count=5)
    assert len(set(chosen)) == 5
    knobs = np.log([grid.thinner_parts[chosen], grid.pressure_psi[chosen]])
    for i in range(5):
        for j in range(i):
            assert np.abs(knobs[:, i] - knobs[:, j]).max() >= LEAST_APART


def test_they_tell_more_than_five_at_random(grid: Setting) -> None:
    chosen = drill(grid, believe([], tables()), count=5)
    rng = np.random.default_rng(9)
    painters = range(16)
    own = np.mean([left_open(grid, chosen, p) for p in painters])
    at_random = np.mean(
        [left_open(grid, rng.choice(SIDE**2, 5, replace=False).tolist(), p) for p in painters]
    )
    assert own < at_random - 0.05


def test_the_first_is_the_one_that_tells_most_alone(grid: Setting) -> None:
    belief = believe([], tables())
    assert drill(grid, belief, count=1) == drill(grid, belief, count=4)[:1]


def test_where_all_is_known_nothing_breaks_and_few_settings_give_few(grid: Setting) -> None:
    known = Belief(np.zeros((200, 5)), np.full(200, 1 / 200))
    assert len(drill(grid, known, count=5)) == 5
    narrow = grid.but(thinner_parts=np.full(3, 1.0), pressure_psi=np.array([20.0, 20.5, 21.0]))
    assert len(drill(narrow, known, count=5)) == 1
