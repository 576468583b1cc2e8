"""A picture of a painted piece by ray casting, for plan strips and for checks without a browser."""

from __future__ import annotations

import numpy as np

from haze.core.arrays import Bytes
from haze.core.directions import direction_of
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import scene_of

CARD_GREY = 131  # L* 55, the card every piece stands on
MARGIN = 1.08


def picture(
    mesh: PreparedMesh,
    colours: Bytes,
    *,
    width: int,
    height: int,
    azimuth_deg: float = 20.0,
    elevation_deg: float = 12.0,
    supersample: int = 2,
) -> Bytes:
    """(height, width, 3) uint8: the piece on a mid grey card, orthographic.

    Parameters
    ----------
    colours : (n, 3) uint8, encoded sRGB per vertex
    azimuth_deg, elevation_deg : float [°], from where it is looked at
    mesh : a prepared one
    supersample : int, rays a pixel and axis
    """
    w, h = width * supersample, height * supersample
    toward = direction_of(azimuth_deg, elevation_deg)
    right = np.cross([0.0, 0.0, 1.0], toward)
    right /= np.linalg.norm(right)
    up = np.cross(toward, right)
    flat = mesh.vertices @ np.stack([right, up], axis=1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = MARGIN * max((high[0] - low[0]) / w, (high[1] - low[1]) / h)
    middle = 0.5 * (low + high)
    x = (np.arange(w) + 0.5 - w / 2) * scale + middle[0]
    y = (h / 2 - np.arange(h) - 0.5) * scale + middle[1]
    origins = (x[None, :, None] * right + y[:, None, None] * up + 500.0 * toward).reshape(-1, 3)
    face, u, v = scene_of(mesh).met(origins, np.broadcast_to(-toward, origins.shape))
    seen = face >= 0
    corner = mesh.faces[face[seen]]
    u, v = u[seen][:, None], v[seen][:, None]
    linear = (colours.astype(np.float32) / 255.0) ** 2.2
    shade = linear[corner[:, 0]] * (1 - u - v) + linear[corner[:, 1]] * u + linear[corner[:, 2]] * v
    image = np.full((h * w, 3), (CARD_GREY / 255.0) ** 2.2, dtype=np.float32)
    image[seen] = shade
    image = image.reshape(height, supersample, width, supersample, 3).mean(axis=(1, 3))
    return np.asarray(np.round(np.clip(image, 0, 1) ** (1 / 2.2) * 255), dtype=np.uint8)
