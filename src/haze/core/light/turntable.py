"""A piece that turns while it is painted: which picture follows which.

The piece turns at an even pace; each coat comes up over a few pictures and stands for a few. After
the last one the piece goes on to where it started, and once round as it is finished.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array, Bytes, Floats
from haze.core.directions import angles_of, direction_of, facing
from haze.core.light.picture import MARGIN, Shot, Side
from haze.core.mesh.mesh import PreparedMesh
from haze.core.progress import Progress, tell

PLACES = 48  # pictures once round
RISING, STANDING = 4, 3  # pictures while a coat comes up, and while it can be looked at
START_DEG, ELEVATION_DEG = 20.0, 12.0
SUPERSAMPLE = 2
# a soft lamp behind the shoulder of who looks, so that one flat colour still shows its form
LAMP_LEFT_DEG, LAMP_ELEVATION_DEG, LAMP = 35.0, 50.0, 0.42


@dataclass(frozen=True, slots=True)
class Moment:
    """One picture: its place on the way round, the look it shows, and how far that one is there.

    `risen` 1 is the look itself; below, it lies over the look before.
    """

    place: int
    look: int
    risen: float


def moments(looks: int) -> list[Moment]:
    """The pictures of a turntable in order.

    Parameters
    ----------
    looks : int, at least 1: the bare piece, and the piece after each coat
    """
    shown = [(0, 1.0)] * STANDING
    for look in range(1, looks):
        shown += [(look, (step + 1) / RISING) for step in range(RISING)]
        shown += [(look, 1.0)] * STANDING
    to_start = -len(shown) % PLACES
    shown += [(looks - 1, 1.0)] * (to_start + PLACES)
    return [Moment(n % PLACES, look, risen) for n, (look, risen) in enumerate(shown)]


def sides(mesh: PreparedMesh, *, width: int, height: int) -> list[Side]:
    """A piece from all places of the way round, as large in each and turning about its own axis.

    Parameters
    ----------
    mesh : a prepared one
    width, height : int [px]
    """
    across = np.hypot(*(mesh.vertices[:, :2] - _axis(mesh)).T).max()
    looks = [facing(START_DEG + 360 * n / PLACES, ELEVATION_DEG) for n in range(PLACES)]
    tall = mesh.vertices @ np.stack([up for _, _, up in looks], axis=1)
    low, high = float(tall.min()), float(tall.max())
    scale = MARGIN * max(2 * across / width, (high - low) / height)
    axis = np.append(_axis(mesh), 0.0)
    return [
        Side(
            toward,
            right,
            up,
            float(scale),
            np.array([axis @ right, 0.5 * (low + high)]),
            width,
            height,
        )
        for toward, right, up in looks
    ]


def _axis(mesh: PreparedMesh) -> Array:
    """(2,) float: what the piece turns about, on the ground."""
    flat = mesh.vertices[:, :2]
    return np.asarray(0.5 * (flat.min(axis=0) + flat.max(axis=0)), dtype=np.float64)


def turned(
    mesh: PreparedMesh,
    looks: Sequence[Bytes],
    *,
    width: int,
    height: int,
    progress: Progress | None = None,
) -> Iterator[Bytes]:
    """(height, width, 3) uint8, picture by picture; each place is looked at once.

    Parameters
    ----------
    mesh : a prepared one
    looks : (n, 3) uint8 each, encoded sRGB per vertex: bare, and after each coat
    width, height : int [px]
    progress : called with the share done

    Raises
    ------
    CancelledError
        when it is stopped
    """
    shots: dict[int, Shot] = {}
    around = sides(mesh, width=SUPERSAMPLE * width, height=SUPERSAMPLE * height)
    order = moments(len(looks))
    for n, moment in enumerate(order):
        tell(progress, n / len(order), "No turntable was made.")
        if moment.place not in shots:
            side = around[moment.place]
            shots[moment.place] = Shot.taken(mesh, side, supersample=SUPERSAMPLE)
        lit = _lamp(mesh, around[moment.place])
        yield shots[moment.place].coloured(_risen(looks, moment), lit)


def _lamp(mesh: PreparedMesh, side: Side) -> Floats:
    """(n,) float32: how much light of the lamp lies on each vertex, seen from a side."""
    azimuth, _ = angles_of(side.toward)
    lamp = direction_of(float(azimuth) - LAMP_LEFT_DEG, LAMP_ELEVATION_DEG)
    facing_it = np.clip(mesh.normals @ lamp.astype(np.float32), 0, 1)
    return np.asarray(1 - LAMP + LAMP * facing_it, dtype=np.float32)


def _risen(looks: Sequence[Bytes], moment: Moment) -> Bytes:
    """A look, or how far it has come up over the one before, mixed as paint thickens: by eye."""
    above = looks[moment.look]
    if moment.risen >= 1:
        return above
    below = looks[moment.look - 1].astype(np.float32)
    return np.asarray(np.round(below + moment.risen * (above - below)), dtype=np.uint8)
