from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from haze.core.film.kubelka_munk import absorption_ratio, enter, film, ground_below, leave, thick

positive = st.floats(1e-3, 2.0)


share = st.floats(0.01, 0.95)


def test_published_thick_film() -> None:
    # K/S = .5: R∞ = 1 + .5 − √(.25 + 1) = .38197
    assert float(thick(0.5, 1.0)) == pytest.approx(0.38197, abs=1e-5)
    assert float(absorption_ratio(0.38197)) == pytest.approx(0.5, abs=1e-4)


def test_no_absorption_over_black() -> None:
    # R = SX/(1 + SX)
    assert float(film(0.0, 0.5, 0.0, 2.0)) == pytest.approx(0.5, abs=1e-4)
    assert float(film(1e-9, 0.5, 0.0, 2.0)) == pytest.approx(0.5, abs=1e-4)


def test_no_scatter_is_a_filter() -> None:
    assert float(film(0.3, 0.0, 0.8, 2.0)) == pytest.approx(0.8 * np.exp(-2 * 0.3 * 2), abs=1e-4)
    assert float(film(0.0, 0.0, 0.8, 2.0)) == pytest.approx(0.8, abs=1e-6)


@given(positive, positive, share, st.floats(0.1, 20), st.floats(0.05, 0.95))
def test_a_coat_split_in_two_equals_one_coat(
    k: float, s: float, ground: float, x: float, cut: float
) -> None:
    whole = film(k, s, ground, x)
    split = film(k, s, film(k, s, ground, cut * x), (1 - cut) * x)
    assert float(whole) == pytest.approx(float(split), abs=1e-6)


@pytest.mark.parametrize(("k", "s", "x"), [(0.1, 0.3, 3.0), (0.5, 0.05, 1.5), (0.02, 0.28, 9.0)])
@pytest.mark.parametrize("ground", [0.02, 0.4, 0.9])
def test_the_film_solves_its_differential_equation(
    k: float, s: float, x: float, ground: float
) -> None:
    solved = solve_ivp(
        lambda _, r: s - 2 * (k + s) * r + s * r * r, (0, x), [ground], rtol=1e-9, atol=1e-11
    )
    assert float(film(k, s, ground, x)) == pytest.approx(float(solved.y[0, -1]), abs=1e-4)


@given(positive, positive, share, st.floats(0.01, 1.0))
def test_the_ground_is_found_back(k: float, s: float, ground: float, x: float) -> None:
    seen = film(k, s, ground, x)
    assert float(ground_below(k, s, seen, x)) == pytest.approx(ground, abs=1e-4)


@given(st.floats(0.001, 0.999))
def test_the_interface_has_an_inverse(r: float) -> None:
    assert float(enter(leave(r))) == pytest.approx(r)
