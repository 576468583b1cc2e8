"""How a mesh file most likely stands, and how tall the piece is in truth.

A model stands on what is flat: the largest flat surface at one end of it is its foot. Its size
tells the unit of the file: what is painted is between a thumb and an arm high.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from haze.core.arrays import Array
from haze.core.mesh.frame import UpAxis
from haze.core.mesh.mesh import RawMesh

AXES: tuple[tuple[UpAxis, int, float], ...] = (
    ("z", 2, 1.0),
    ("y", 1, 1.0),
    ("x", 0, 1.0),
    ("-z", 2, -1.0),
    ("-y", 1, -1.0),
    ("-x", 0, -1.0),
)
FOOT = 0.006  # of the extent: how far up from the lowest point a foot reaches (judged)
FACES_DOWN = 0.98  # cosine to straight down
LEAST_FOOT = 0.12  # of the rectangle round it: what is less is a round side (judged)
CLEARLY = 1.4  # so much more foot than the usual axis has, before another is believed (judged)
LIKELY_MM = (12.0, 500.0)  # heights of pieces that are painted (judged)
UNITS = (("mm", 1.0), ("cm", 10.0), ("inch", 25.4), ("m", 1000.0))


@dataclass(frozen=True, slots=True)
class GuessedStand:
    """The axis of the file that most likely points up, the true height, and the unit it tells."""

    up: UpAxis
    height_mm: float
    unit: str


def stands(raw: RawMesh, *, usual: UpAxis = "z") -> GuessedStand:
    """How a mesh most likely stands.

    Parameters
    ----------
    raw : as read, in file units
    usual : the axis its format usually has up; taken unless another has clearly more foot
    """
    corners = raw.vertices[raw.faces]
    area = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])  # twice
    feet = {up: _foot(corners, area, axis, sign) for up, axis, sign in AXES}
    best = max(feet, key=lambda up: feet[up])
    up = best if feet[best] > CLEARLY * feet[usual] else usual
    axis = next(a for name, a, _ in AXES if name == up)
    extent = float(np.ptp(raw.vertices[:, axis]))
    unit, scale = _unit(extent)
    return GuessedStand(up, extent * scale, unit)


def _foot(corners: Array, area: Array, axis: int, sign: float) -> float:
    """Area [file unit²] that lies flat at the lower end of an axis; 0 for a round side."""
    along = sign * corners[:, :, axis]
    low, high = float(along.min()), float(along.max())
    size = np.linalg.norm(area, axis=1)
    at_foot = along.max(axis=1) <= low + FOOT * (high - low)
    # wound either way: a foot is flat across the axis
    flat = np.abs(area[:, axis]) >= FACES_DOWN * size
    foot = float(0.5 * size[at_foot & flat].sum())
    points = corners.reshape(-1, 3)
    sides = np.delete(points.max(axis=0) - points.min(axis=0), axis)
    return foot if foot >= LEAST_FOOT * float(sides.prod()) else 0.0


def _unit(extent: float) -> tuple[str, float]:
    """The first unit by which the height is a likely one; millimetres when none is."""
    low, high = LIKELY_MM
    return next(((name, s) for name, s in UNITS if low <= extent * s <= high), UNITS[0])
