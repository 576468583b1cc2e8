"""Pictures of a piece as PNG, drawn by the server."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image

from haze.core.arrays import Bytes
from haze.core.directions import direction_of
from haze.core.light.picture import picture
from haze.core.mesh.mesh import PreparedMesh

PLAIN_WIDTH, PLAIN_HEIGHT = 300, 300
PLAIN_LIGHT = (45.0, 45.0)  # azimuth, elevation [°]


def png_of(
    mesh: PreparedMesh,
    colours: Bytes,
    *,
    width: int,
    height: int,
    azimuth_deg: float = 20.0,
    elevation_deg: float = 12.0,
) -> bytes:
    """PNG of the piece in some colours, (n, 3) uint8 a vertex."""
    image = picture(
        mesh,
        colours,
        width=width,
        height=height,
        azimuth_deg=azimuth_deg,
        elevation_deg=elevation_deg,
    )
    out = io.BytesIO()
    Image.fromarray(image).save(out, format="PNG")
    return out.getvalue()


def plain_picture(mesh: PreparedMesh) -> bytes:
    """PNG of a surface in plain grey, lit from the left shoulder."""
    lit = np.clip(mesh.normals @ direction_of(*PLAIN_LIGHT).astype(np.float32), 0, 1)
    grey = (np.sqrt(0.12 + 0.75 * lit) * 255).astype(np.uint8)
    return png_of(mesh, np.repeat(grey[:, None], 3, axis=1), width=PLAIN_WIDTH, height=PLAIN_HEIGHT)
