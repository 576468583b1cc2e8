"""Meshes that ship with Haze, small: corners on a fine grid, faces as steps from corner to corner.

A numpy archive (npz). The grid has 65,535 steps along the longest side, under a micrometre on a
figure; a mesh read back and written again is the same file.
"""

from __future__ import annotations

import io
import zipfile

import numpy as np
from numpy.typing import NDArray

from haze.core.errors import MeshError
from haze.core.mesh.mesh import RawMesh

STEPS = 65_535


def write_compact(vertices: NDArray[np.floating], faces: NDArray[np.integer]) -> bytes:
    """An indexed mesh as a compact file.

    Parameters
    ----------
    vertices : (n, 3) float, any unit
    faces : (m, 3) int

    Returns
    -------
    bytes of the file; corners that no face uses are left out
    """
    points = np.asarray(vertices, dtype=np.float64)
    # corners in the order faces need them: neighbours lie close, and steps are small
    used, first = np.unique(np.asarray(faces).ravel(), return_index=True)
    order = used[np.argsort(first)]
    number = np.zeros(len(points), dtype=np.int64)
    number[order] = np.arange(len(order))
    points = points[order]
    low = points.min(axis=0)
    step = float(np.ptp(points, axis=0).max()) / STEPS or 1.0
    corners = np.diff(number[np.asarray(faces)].ravel(), prepend=0).astype(np.int32)
    out = io.BytesIO()
    np.savez_compressed(
        out,
        low=low,
        step=np.float64(step),
        points=np.round((points - low) / step).astype(np.uint16),
        corners=corners,
    )
    return out.getvalue()


def read_compact(data: bytes) -> RawMesh:
    """The mesh in a compact file.

    Parameters
    ----------
    data : bytes of the whole file

    Raises
    ------
    MeshError when it is not one
    """
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as held:
            points = held["points"] * held["step"] + held["low"]
            faces = np.cumsum(held["corners"], dtype=np.int64).reshape(-1, 3)
    except (ValueError, KeyError, EOFError, OSError, zipfile.BadZipFile) as error:
        raise MeshError("A mesh that ships with Haze is damaged; install Haze again.") from error
    return RawMesh(np.asarray(points, dtype=np.float64), faces.astype(np.int32))
