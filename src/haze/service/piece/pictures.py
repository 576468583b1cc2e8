"""Pictures of a piece as PNG, drawn by the server."""

from __future__ import annotations

import io

from PIL import Image

from haze.core.arrays import Bytes
from haze.core.light.picture import picture
from haze.core.mesh.mesh import PreparedMesh


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
