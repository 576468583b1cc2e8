"""What a read card measured of the airbrush and the paint, over what the tables say of them."""

from __future__ import annotations

import numpy as np

from haze.core.inspect.reading.lines import Line
from haze.core.inspect.reading.measures import Measures
from haze.core.inspect.trial_card import one_pass_film_um
from haze.core.spray.calibrate import Measured
from haze.core.spray.footprint import footprint_sigma_mm
from haze.core.spray.setting import Setting
from haze.core.spray.unsure import NOMINAL

LINE_SPREAD = 0.08  # (ln) of the distance a hand holds
FILM_SPREAD = 0.3  # (ln) of its pace
MOST_UNSURE = 0.3  # relative: a line less sure than that says nothing
MOST_BROKEN = 0.3  # share of a line that is missing
WIDTH_UNSURE = (0.06, 2.0)
WIDTH_RANGE, FILM_RANGE = (0.1, 10.0), (0.01, 100.0)
LEAST_PASS_UM, LEAST_FORESEEN_UM = 0.05, 0.01


def measured_of(measures: Measures, setting: Setting) -> Measured | None:
    """Width of the jet and film of a pass of a card, over those of the tables.

    The width is the mean of the lines, on a log scale, weighed by how sure each is. It is over
    the tables, whatever is believed of the airbrush by now, because that belief is what it teaches.

    Parameters
    ----------
    measures : of the card
    setting : it was sprayed with

    Returns
    -------
    None when neither could be measured.
    """
    lines = [line for line in measures.lines if _is_sure(line)]
    width, unsure = _width(lines) if lines else (None, Measured().width_unsure)
    foreseen = one_pass_film_um(setting, NOMINAL)
    film = None
    if measures.pass_um > LEAST_PASS_UM and foreseen > LEAST_FORESEEN_UM:
        film = float(np.clip(measures.pass_um / foreseen, *FILM_RANGE))
    if width is None and film is None:
        return None
    return Measured(width, unsure, film, FILM_SPREAD)


def _is_sure(line: Line) -> bool:
    return line.sigma_mm > 0 and line.unsure < MOST_UNSURE and line.broken < MOST_BROKEN


def _width(lines: list[Line]) -> tuple[float, float]:
    """Width over the tables' [-], and the spread of its logarithm."""
    logs = [
        np.log(line.sigma_mm / float(footprint_sigma_mm(np.asarray(line.away_mm))))
        for line in lines
    ]
    weights = [1 / (line.unsure**2 + LINE_SPREAD**2) for line in lines]
    width = float(np.exp(np.average(logs, weights=weights)))
    unsure = float(np.clip(1 / np.sqrt(np.sum(weights)), *WIDTH_UNSURE))
    return float(np.clip(width, *WIDTH_RANGE)), unsure
