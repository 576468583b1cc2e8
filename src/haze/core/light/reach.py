"""What spray can get to, and what stays bare (docs/models.md part 0)."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
Table = NDArray[np.uint8]
Mask = NDArray[np.bool_]

LEAST_COSINE = 0.2
BARE_BELOW_UM = 1.0


def reachable(table: Table) -> Mask:
    """(n,) bool: some direction sees the vertex with n·d of at least .2."""
    return np.asarray(table.max(axis=0) >= round(LEAST_COSINE * 255))


def buried(table: Table) -> Mask:
    """(n,) bool: no direction sees the vertex at all; it stays out of every sum."""
    return np.asarray(table.max(axis=0) == 0)


def share(mask: Mask, *, area: Floats, counted: Mask) -> float:
    """Area share [-] of a mask among the counted vertices."""
    whole = float(area[counted].sum())
    return float(area[mask & counted].sum()) / whole if whole > 0 else 0.0


def percentile(values: Floats, *, area: Floats, share: float) -> float:
    """Area-weighted percentile [same unit as values]; share in 0..1."""
    order = np.argsort(values)
    cumulative = np.cumsum(area[order].astype(np.float64))
    at = int(np.searchsorted(cumulative, share * cumulative[-1]))
    return float(values[order][min(at, len(values) - 1)])


def bare(film_um: Floats) -> Mask:
    """(n,) bool: total dry film below 1 µm."""
    return np.asarray(film_um < BARE_BELOW_UM)
