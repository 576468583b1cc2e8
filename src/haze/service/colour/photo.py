"""A colour picked from a photo of a swatch beside something grey."""

from __future__ import annotations

from functools import partial

import numpy as np
from pydantic import BaseModel, Field

from haze.core.inspect.photo import patch, picked
from haze.core.progress import Progress
from haze.formats.photos import opened, require_size
from haze.service.forms.wire import Strict
from haze.service.work import apart

PHOTO_SIDE = 2000  # px


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
    require_size(data)
    return apart.run(partial(read_pick, data=data, where=where), limits=apart.PICTURE)


def read_pick(_: Progress, *, data: bytes, where: PhotoPick) -> PickOut:
    """A colour from a photo, wherever this runs."""
    pixels = np.asarray(opened(data, side=PHOTO_SIDE))
    found = picked(
        patch(pixels, x=where.x, y=where.y, radius=where.radius),
        patch(pixels, x=where.grey_x, y=where.grey_y, radius=where.radius),
        grey_lightness=where.grey_lightness,
    )
    return PickOut(
        hex=found.hex, lightness=found.lightness, spread=found.spread, warning=found.warning
    )
