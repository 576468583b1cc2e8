"""Surface finish: what matt or gloss adds on top of the film (docs/models.md C5, judged)."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike, NDArray

from haze.core.film.kubelka_munk import enter, leave

Array = NDArray[np.float64]
Finish = Literal["ultra_matt", "matt", "satin", "gloss"]
FINISHES: tuple[Finish, ...] = get_args(Finish)
SURFACE: dict[str, float] = {"ultra_matt": 0.04, "matt": 0.03, "satin": 0.012, "gloss": 0.003}


def under_surface(seen: ArrayLike, finish: str) -> Array:
    """Reflectance below the surface [-]: y = ½[(R − s) + √((R − s)² + sR)]."""
    s, r = SURFACE[finish], np.asarray(seen, dtype=np.float64)
    return np.asarray(0.5 * ((r - s) + np.sqrt((r - s) ** 2 + s * r)))


def with_surface(below: ArrayLike, finish: str) -> Array:
    """Reflectance as seen [-]: R = y(y + s)/(y + s/4), at most 1."""
    s, y = SURFACE[finish], np.asarray(below, dtype=np.float64)
    return np.asarray(np.minimum(y * (y + s) / (y + s / 4), 1.0))


def inside_film(seen: ArrayLike, finish: str) -> Array:
    """From a dry colour as seen to the reflectance inside the binder."""
    return enter(under_surface(seen, finish))


def outside_film(inside: ArrayLike, finish: str) -> Array:
    """From inside the binder to the dry colour as seen."""
    return with_surface(leave(inside), finish)
