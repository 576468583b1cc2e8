"""From where to spray: few stations that reproduce a wanted light (docs/models.md B5).

The deposit is linear in the passes of the stations, so the wanted light t is fitted by a few atoms
(direction × sweep) with weights that are not negative. Two stations are found by trying every
pair; more of them by orthogonal least squares from many starts, with swaps until none helps.
Source: Chen, Billings & Luo (1989), Int. J. Control 50, 1873, orthogonal least squares; Lawson &
Hanson (1974) for the dense fit.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Floats
from haze.core.errors import NoLightError, require_range
from haze.core.light.atoms import Atoms
from haze.core.light.fit import explained as explained_by
from haze.core.light.fit import nonnegative, sparse
from haze.core.light.stations import Station
from haze.core.progress import Progress

MOST_STATIONS = 4
AS_GOOD = 1e-8  # of ‖t‖²: nearer to the dense fit no difference can be measured
SHARE_NEAR = 0.02  # shares this near are as good as equal


@dataclass(frozen=True, slots=True)
class FoundStation:
    """One station of an answer; `passes` in units of the wanted light."""

    station: Station
    passes: float


@dataclass(frozen=True, slots=True)
class Angles:
    """An answer: its stations, its residual, and what any number of stations could reach."""

    stations: tuple[FoundStation, ...]
    residual: float
    dense_residual: float
    dense_stations: int


def residual_of(explained: float, norm2: float) -> float:
    """‖fit − t‖ / ‖t‖ from the explained part of ‖t‖².

    Parameters
    ----------
    norm2 : float, squared length of the target
    """
    return float(np.sqrt(max(0.0, 1 - explained / norm2))) if norm2 > 0 else 0.0


def find_stations(
    atoms: Atoms, target: Floats, *, stations: int, progress: Progress | None = None
) -> Angles:
    """Few stations that paint a wanted light.

    Parameters
    ----------
    atoms : of the piece
    target : (s,) float32, wanted deposit at the samples, not negative
    stations : int, 1 to 4
    progress : called with the share done, 0 to 1; None for silence
    """
    require_range("stations", stations, 1, MOST_STATIONS)
    norm2 = float(target.astype(np.float64) @ target)
    if norm2 <= 0:
        raise NoLightError("The light reaches nothing of the piece; move it or make it softer.")
    b = atoms.project(target)
    dense = nonnegative(atoms.gram, b)
    dense_explained = float(2 * dense @ b - dense @ (atoms.gram @ dense))
    enough = dense_explained - AS_GOOD * norm2
    chosen = sparse(atoms.gram, b, stations=stations, enough=enough, progress=progress)
    explained, weights = explained_by(atoms.gram, b, chosen)
    found = tuple(
        FoundStation(atoms.where[i], passes=float(w))
        for i, w in sorted(zip(chosen, weights, strict=True), key=lambda pair: -pair[1])
        if w > 1e-6
    )
    return Angles(
        stations=found,
        residual=residual_of(explained, norm2),
        dense_residual=residual_of(max(dense_explained, explained), norm2),
        dense_stations=int((dense > 0).sum()),
    )


def find_share(
    atoms: Atoms, *, wanted: float, toward: Floats
) -> tuple[tuple[FoundStation, ...], float]:
    """Stations, as few as will do, that cover a wanted share of the surface; and that share.

    Covered is what gets at least half of a square-on pass. One station is enough for most shares;
    a further one is taken only when it comes clearly nearer. Of the stations that come equally near
    the one whose deposit is most like the light is taken.

    Parameters
    ----------
    wanted : float [-], share of the surface
    toward : (s,) float32, the light at the samples
    atoms : the stations to choose from
    """
    require_range("cover_share", wanted, 0.01, 1.0)
    likeness = atoms.project(toward) / np.sqrt(np.diag(atoms.gram))
    likeness = likeness / max(float(likeness.max()), 1e-12)
    found: list[int] = []
    landed = np.zeros(atoms.lit.shape[1], dtype=np.float32)
    share = 0.0
    while len(found) < MOST_STATIONS:
        covers = (atoms.lit + landed >= 0.5).mean(axis=1)
        off = np.abs(covers - wanted)
        allowed = off <= max(float(off.min()), SHARE_NEAR)
        best = int(np.argmax(np.where(allowed, likeness, -np.inf)))
        if found and abs(share - wanted) - off[best] < SHARE_NEAR:
            break
        found.append(best)
        landed = landed + atoms.lit[best]
        share = float(covers[best])
        if abs(share - wanted) <= SHARE_NEAR:
            break
    return tuple(FoundStation(atoms.where[i], passes=1.0) for i in found), share
