"""What a card measured of the airbrush and the paint."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from core.inspect.reading.conftest import Taken
from core.inspect.test_sprayed import setting
from haze.core.inspect.reading.lines import Line
from haze.core.inspect.reading.measured import measured_of
from haze.core.inspect.reading.measures import Measures
from haze.core.inspect.reading.read import read
from haze.core.inspect.trial_card import one_pass_film_um
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.unsure import NOMINAL


@pytest.fixture(scope="module")
def measures(clean: Taken) -> Measures:
    found = read(clean.photo, ink_of=lambda _: clean.ink).measures
    assert found is not None
    return found


def line(away_mm: float, over: float, *, unsure: float = 0.06, broken: float = 0.0) -> Line:
    """A line so many times as wide as the tables say."""
    sigma = over * float(footprint_sigma_mm(np.asarray(away_mm)))
    return Line(away_mm, sigma, 5.0, 2 * sigma, unsure, broken, 0.0, 100.0)


def test_a_card_sprayed_by_the_tables_measures_the_tables(measures: Measures) -> None:
    found = measured_of(measures, setting())
    assert found is not None
    assert found.width == pytest.approx(1.0, abs=0.06)
    assert found.film == pytest.approx(1.0, abs=0.2)


def test_the_width_is_the_mean_of_the_lines_on_a_log_scale(measures: Measures) -> None:
    found = measured_of(replace(measures, lines=(line(20, 2.0), line(40, 0.5))), setting())
    assert found is not None
    assert found.width == pytest.approx(1.0)
    # two lines of √(.06² + .08²) = .1 each
    assert found.width_unsure == pytest.approx(0.1 / np.sqrt(2))


def test_a_surer_line_counts_more(measures: Measures) -> None:
    lines = (line(20, 2.0, unsure=0.0), line(40, 0.5, unsure=0.28))
    found = measured_of(replace(measures, lines=lines), setting())
    assert found is not None
    weights = np.array([1 / 0.08**2, 1 / (0.28**2 + 0.08**2)])
    expected = np.exp(np.average(np.log([2.0, 0.5]), weights=weights))
    assert found.width == pytest.approx(expected)


@pytest.mark.parametrize("odd", [{"unsure": 0.31}, {"broken": 0.31}])
def test_a_line_that_is_not_sure_or_broken_says_nothing(
    odd: dict[str, float], measures: Measures
) -> None:
    found = measured_of(replace(measures, lines=(line(20, 3.0, **odd), line(40, 1.2))), setting())
    assert found is not None
    assert found.width == pytest.approx(1.2)


def test_the_film_is_over_that_of_the_tables(measures: Measures) -> None:
    pass_um = 2 * one_pass_film_um(setting(), NOMINAL)
    found = measured_of(replace(measures, pass_um=pass_um, lines=()), setting())
    assert found is not None
    assert found.width is None
    assert found.film == pytest.approx(2.0)
    assert measured_of(replace(measures, pass_um=0.01, lines=()), setting()) is None
