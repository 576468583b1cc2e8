"""Surface finish: what matt or gloss adds on top of the film (docs/models.md C5, judged)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import NDArray

from haze.core.film.kubelka_munk import Reals, enter, leave, reals

Finish = Literal["ultra_matt", "matt", "satin", "gloss"]
FINISHES: tuple[Finish, ...] = get_args(Finish)
SURFACE: dict[str, float] = {"ultra_matt": 0.04, "matt": 0.03, "satin": 0.012, "gloss": 0.003}


def surface_of(finish: str | Reals) -> NDArray[Any] | float:
    """Surface term s [-] of a finish by name; numbers are some already.

    Parameters
    ----------
    finish : one of `FINISHES`, or (...) float [-]
    """
    return SURFACE[finish] if isinstance(finish, str) else finish


def nearest_finish(surface: float) -> Finish:
    """Name of the finish whose surface term comes nearest, by ratio.

    Parameters
    ----------
    surface : float [-], surface term
    """
    return min(FINISHES, key=lambda name: abs(np.log(SURFACE[name] / surface)))


def mixed_surface(parts: Mapping[Finish, float]) -> float:
    """Surface term [-] of a mix of varnishes.

    Parameters
    ----------
    parts : parts of each finish by volume, not negative and not all 0
    """
    whole = sum(parts.values())
    return sum(SURFACE[name] * share for name, share in parts.items()) / whole


def under_surface(seen: Reals, finish: str | Reals) -> NDArray[Any]:
    """Reflectance below the surface [-]: y = ½[(R − s) + √((R − s)² + sR)].

    Parameters
    ----------
    seen : (...) float [0..1], as seen dry
    finish : a finish by name, or surface terms [-]
    """
    s, r = surface_of(finish), reals(seen)
    return np.asarray(0.5 * ((r - s) + np.sqrt((r - s) ** 2 + s * r)))


def with_surface(below: Reals, finish: str | Reals) -> NDArray[Any]:
    """Reflectance as seen [-]: R = y(y + s)/(y + s/4), at most 1.

    Parameters
    ----------
    below : (...) float [0..1], below the surface
    finish : a finish by name, or surface terms [-]
    """
    s, y = surface_of(finish), reals(below)
    return np.asarray(np.minimum(y * (y + s) / (y + s / 4), 1))


def inside_film(seen: Reals, finish: str | Reals) -> NDArray[Any]:
    """From a dry colour as seen to the reflectance inside the binder [-].

    Parameters
    ----------
    seen : (...) float [0..1], as seen dry
    finish : a finish by name, or surface terms [-]
    """
    return enter(under_surface(seen, finish))


def outside_film(inside: Reals, finish: str | Reals) -> NDArray[Any]:
    """From inside the binder to the dry colour as seen [-].

    Parameters
    ----------
    inside : (...) float [0..1], inside the binder
    finish : a finish by name, or surface terms [-]
    """
    return with_surface(leave(inside), finish)
