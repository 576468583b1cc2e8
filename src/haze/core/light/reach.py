"""What spray can get to, and what stays bare (docs/models.md part 0)."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Floats, Mask, Table

LEAST_COSINE = 0.2
BARE_BELOW_UM = 1.0


def buried(table: Table) -> Mask:
    """(n,) bool: no direction sees the vertex at all; it stays out of every sum.

    Parameters
    ----------
    table : visibility by direction and vertex
    """
    return np.asarray(table.max(axis=0) == 0)


def share(mask: Mask, *, area: Floats, counted: Mask) -> float:
    """Area share [-] of a mask among the counted vertices.

    Parameters
    ----------
    area : (n,) float [mesh unit²], of each vertex
    """
    whole = float(area[counted].sum())
    return float(area[mask & counted].sum()) / whole if whole > 0 else 0.0


def bare(film_um: Floats) -> Mask:
    """(n,) bool: total dry film below 1 µm.

    Parameters
    ----------
    film_um : (n,) float [µm], dry
    """
    return np.asarray(film_um < BARE_BELOW_UM)
