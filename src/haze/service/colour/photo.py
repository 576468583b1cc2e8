"""A colour picked from a photo of a swatch beside something grey."""

from __future__ import annotations

import io
from functools import partial

import numpy as np
from PIL import Image, ImageOps
from pydantic import BaseModel, Field

from haze.core.arrays import Bytes
from haze.core.errors import PhotoError
from haze.core.inspect.photo import patch, picked
from haze.core.progress import Progress
from haze.service import apart
from haze.service.wire import Strict

MOST_PHOTO_BYTES = 30 * 2**20
MOST_PIXELS = 60_000_000
PHOTO_SIDE = 2000
FORMATS = ("JPEG", "PNG", "WEBP")


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
    radius: float = Field(default=0.02, ge=0.001, le=0.2)
    grey_lightness: float = Field(default=50.0, ge=10, le=98)


def pick_from_photo(data: bytes, where: PhotoPick) -> PickOut:
    """A colour from a photo of a swatch beside something grey."""
    if len(data) > MOST_PHOTO_BYTES:
        raise PhotoError(
            f"The photo has {len(data) / 2**20:.0f} MiB; at most {MOST_PHOTO_BYTES // 2**20} are "
            "accepted.",
            field="photo",
        )
    return apart.run(partial(read_pick, data=data, where=where), limits=apart.PICTURE)


def read_pick(_: Progress, *, data: bytes, where: PhotoPick) -> PickOut:
    """A colour from a photo, wherever this runs."""
    pixels = opened(data)
    found = picked(
        patch(pixels, x=where.x, y=where.y, radius=where.radius),
        patch(pixels, x=where.grey_x, y=where.grey_y, radius=where.radius),
        grey_lightness=where.grey_lightness,
    )
    return PickOut(
        hex=found.hex, lightness=found.lightness, spread=found.spread, warning=found.warning
    )


def opened(data: bytes) -> Bytes:
    """(h, w, 3) uint8: a photo the right way up, made small; refused by its header when too large.

    Parameters
    ----------
    data : bytes of the whole file
    """
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as image:
            _require_pixels(*image.size)
            image.draft("RGB", (PHOTO_SIDE, PHOTO_SIDE))  # JPEG unpacks to a fraction at once
            small = ImageOps.exif_transpose(image).convert("RGB")
            small.thumbnail((PHOTO_SIDE, PHOTO_SIDE))
            return np.asarray(small)
    except (PhotoError, MemoryError):
        raise
    except Image.DecompressionBombError:
        raise PhotoError(_too_many("pixels far"), field="photo") from None
    except Exception as error:
        # a broken file makes the library fail in many ways; none of them is the painter's concern
        raise PhotoError(
            "This is no photo that can be read; accepted are JPEG, PNG and WebP, whole and not "
            "damaged.",
            field="photo",
        ) from error


def _require_pixels(width: int, height: int) -> None:
    if width * height > MOST_PIXELS:
        raise PhotoError(
            _too_many(f"{width:,} × {height:,} = {width * height / 1e6:.0f} megapixels,"),
            field="photo",
        )


def _too_many(has: str) -> str:
    return f"The photo has {has} over the {MOST_PIXELS // 10**6} megapixels that are accepted."
