"""A colour picked from a photo of a swatch beside something grey."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import BaseModel, Field

from haze.core.errors import PhotoError
from haze.core.inspect.photo import patch, picked
from haze.service.wire import Strict

MOST_PHOTO_BYTES = 24 * 2**20
PHOTO_SIDE = 2000


class PickOut(BaseModel):
    hex: str
    lightness: float
    spread: float
    warning: str | None


class PhotoPick(Strict):
    """Where the grey and the swatch lie in a photo, as shares of its width and height."""

    grey_x: float = Field(ge=0, le=1)
    grey_y: float = Field(ge=0, le=1)
    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    radius: float = Field(default=0.02, gt=0, le=0.2)
    grey_lightness: float = Field(default=50.0, ge=10, le=98)


def pick_from_photo(data: bytes, where: PhotoPick) -> PickOut:
    """A colour from a photo of a swatch beside something grey."""
    if len(data) > MOST_PHOTO_BYTES:
        raise PhotoError(f"The photo is over {MOST_PHOTO_BYTES // 2**20} MiB.", field="photo")
    try:
        with Image.open(io.BytesIO(data)) as opened:
            image = ImageOps.exif_transpose(opened).convert("RGB")
            image.thumbnail((PHOTO_SIDE, PHOTO_SIDE))
            pixels = np.asarray(image)
    except (UnidentifiedImageError, OSError, Image.DecompressionBombError):
        raise PhotoError(
            "This is no photo that can be read; accepted are PNG, JPEG and WebP.", field="photo"
        ) from None
    found = picked(
        patch(pixels, x=where.x, y=where.y, radius=where.radius),
        patch(pixels, x=where.grey_x, y=where.grey_y, radius=where.radius),
        grey_lightness=where.grey_lightness,
    )
    return PickOut(
        hex=found.hex, lightness=found.lightness, spread=found.spread, warning=found.warning
    )
