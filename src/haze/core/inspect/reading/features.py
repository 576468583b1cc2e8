"""What a fault is judged by: measures as a few numbers of like size."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.inspect.reading.measures import DOTS, LINES, WORKED, Measures

NAMES = (
    "fingers_worked",
    "fingers_lines",
    "fingers_dots",
    "specks",
    "largest",
    "fine",
    "coarse",
    "film",
    "gaps",
    "broken",
    "uneven",
    "solid",
    "specks_coarse",
    "fingers_bare",
)


def features(m: Measures) -> Array:
    """(14,) float: the numbers a fault is judged by, in the order of `NAMES`.

    Parameters
    ----------
    m : measures of a card
    """
    worked, lines, dots = (m.fingers.within(box)[:, 2].sum() for box in (WORKED, LINES, DOTS))
    specks = np.log1p(m.specks.per_cm2)
    broken = np.mean([line.broken for line in m.lines]) if m.lines else 1.0
    uneven = np.mean([min(line.uneven, 1.5) for line in m.lines]) if m.lines else 1.5
    return np.array(
        [
            np.log1p(worked),
            np.log1p(lines),
            np.log1p(dots),
            specks,
            10 * np.sqrt(m.specks.largest_mm2),
            5 * m.grain.fine,
            10 * m.grain.coarse,
            np.log(m.pass_um + 0.05),
            m.gaps,
            broken,
            uneven,
            min(m.solid_share, 1.2),
            specks * 10 * m.grain.coarse / 5,
            np.log1p(worked) / (1 + specks),
        ]
    )
