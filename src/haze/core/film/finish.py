"""Surface finish: what matt or gloss adds on top of the film (docs/models.md C5, judged)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike, NDArray

from haze.core.film.kubelka_munk import enter, leave

Array = NDArray[np.float64]
Finish = Literal["ultra_matt", "matt", "satin", "gloss"]
FINISHES: tuple[Finish, ...] = get_args(Finish)
SURFACE: dict[str, float] = {"ultra_matt": 0.04, "matt": 0.03, "satin": 0.012, "gloss": 0.003}


def surface_of(finish: str | ArrayLike) -> Array:
    """Surface term s [-] of a finish by name; numbers are some already."""
    return np.asarray(SURFACE[finish] if isinstance(finish, str) else finish, dtype=np.float64)


def nearest_finish(surface: float) -> Finish:
    """Name of the finish whose surface term comes nearest, by ratio."""
    return min(FINISHES, key=lambda name: abs(np.log(SURFACE[name] / surface)))


def mixed_surface(parts: Mapping[Finish, float]) -> float:
    """Surface term of a mix of varnishes, by parts."""
    whole = sum(parts.values())
    return sum(SURFACE[name] * share for name, share in parts.items()) / whole


def under_surface(seen: ArrayLike, finish: str | ArrayLike) -> Array:
    """Reflectance below the surface [-]: y = ½[(R − s) + √((R − s)² + sR)]."""
    s, r = surface_of(finish), np.asarray(seen, dtype=np.float64)
    return np.asarray(0.5 * ((r - s) + np.sqrt((r - s) ** 2 + s * r)))


def with_surface(below: ArrayLike, finish: str | ArrayLike) -> Array:
    """Reflectance as seen [-]: R = y(y + s)/(y + s/4), at most 1."""
    s, y = surface_of(finish), np.asarray(below, dtype=np.float64)
    return np.asarray(np.minimum(y * (y + s) / (y + s / 4), 1.0))


def inside_film(seen: ArrayLike, finish: str | ArrayLike) -> Array:
    """From a dry colour as seen to the reflectance inside the binder."""
    return enter(under_surface(seen, finish))


def outside_film(inside: ArrayLike, finish: str | ArrayLike) -> Array:
    """From inside the binder to the dry colour as seen."""
    return with_surface(leave(inside), finish)
