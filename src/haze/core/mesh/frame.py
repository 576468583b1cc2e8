"""From the axes of a file to the piece frame: z up, show side at −y."""

from __future__ import annotations

from typing import Literal, get_args

import numpy as np

from haze.core.arrays import Array
from haze.core.errors import MeshError

UpAxis = Literal["z", "y", "x", "-z", "-y", "-x"]
ShowSide = Literal["-y", "+y", "-x", "+x", "-z", "+z"]
UP_AXES: tuple[UpAxis, ...] = get_args(UpAxis)
SHOW_SIDES: tuple[ShowSide, ...] = get_args(ShowSide)


def frame_rotation(up: str, show: str, turn_deg: float = 0.0) -> Array:
    """(3, 3) float: rotation from file axes to the piece frame (z up, show side −y).

    Parameters
    ----------
    up : one of `UP_AXES`, the file axis that points up
    show : one of `SHOW_SIDES`, the file direction the show side faces
    turn_deg : float [°], then turned counter-clockwise seen from above
    """
    axes = {"x": 0, "y": 1, "z": 2}

    def unit(name: str) -> Array:
        v = np.zeros(3)
        v[axes[name[-1]]] = -1.0 if name.startswith("-") else 1.0
        return v

    if up not in UP_AXES or show not in SHOW_SIDES:
        raise MeshError(
            f"Up is {up!r} and front {show!r}; accepted are {', '.join(UP_AXES)} and "
            f"{', '.join(SHOW_SIDES)}."
        )
    z, front = unit(up), unit(show)
    if abs(float(z @ front)) > 0.5:
        raise MeshError("The front and the up direction lie on the same axis; choose another.")
    y = -front
    base = np.stack([np.cross(y, z), y, z])
    t = np.radians(turn_deg)
    spin = np.array([[np.cos(t), -np.sin(t), 0], [np.sin(t), np.cos(t), 0], [0, 0, 1]])
    return np.asarray(spin @ base)


def default_show(up: str) -> ShowSide:
    """Show side by convention: −y for z up, +z for y up.

    Parameters
    ----------
    up : one of `UP_AXES`
    """
    return "+z" if up in ("y", "-y") else "-y"
