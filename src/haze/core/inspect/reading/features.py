"""What a fault is judged by: measures as a few numbers of like size."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Array
from haze.core.inspect.reading.measures import DOTS, LINES, WORKED, Measures

NAMES = (
    "fingers_worked",
    "fingers_lines",
    "fingers_dots",
    "specks_1",
    "specks_2",
    "specks_4",
    "specks_8",
    "fine",
    "coarse",
    "film",
    "gaps",
    "broken",
    "uneven",
    "solid",
    "specks_coarse",
    "fingers_bare",
    "contrast",
    "lumps_1",
    "lumps_2",
    "lumps_3",
    "lumps_4",
)
LEAST_LUMPS = 1e-8


def features(m: Measures) -> Array:
    """(21,) float: the numbers a fault is judged by, in the order of `NAMES`.

    Parameters
    ----------
    m : measures of a card
    """
    worked, lines, dots = (m.fingers.within(box)[:, 2].sum() for box in (WORKED, LINES, DOTS))
    specks = np.log1p(m.specks.steps[2])
    broken = np.mean([line.broken for line in m.lines]) if m.lines else 1.0
    uneven = np.mean([min(line.uneven, 1.5) for line in m.lines]) if m.lines else 1.5
    return np.array(
        [
            np.log1p(worked),
            np.log1p(lines),
            np.log1p(dots),
            *np.log1p(m.specks.steps),
            5 * m.grain.fine,
            10 * m.grain.coarse,
            np.log(m.pass_um + 0.05),
            m.gaps,
            broken,
            uneven,
            min(m.solid_share, 1.2),
            specks * 10 * m.grain.coarse / 5,
            np.log1p(worked) / (1 + specks),
            np.log(m.contrast + 0.02),
            *np.log(np.maximum(m.lumps, LEAST_LUMPS)),
        ]
    )
