"""A colour from a photo."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import HazeError
from haze.core.film.srgb import parse_hex
from haze.service.colour.photo import PhotoPick, pick_from_photo


def photo() -> bytes:
    """A warm photo: a grey card of L* 50 at the left, a green swatch at the right."""
    pixels = np.zeros((60, 120, 3))
    pixels[:, :60] = parse_hex("#777777")
    pixels[:, 60:] = parse_hex("#4b7a35")
    warm = np.clip((pixels**2.2 * [1.1, 0.95, 0.7]) ** (1 / 2.2), 0, 1)
    out = io.BytesIO()
    Image.fromarray(np.round(warm * 255).astype(np.uint8)).save(out, format="PNG")
    return out.getvalue()


def test_a_colour_is_picked_from_a_photo_against_its_grey() -> None:
    where = PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5)
    found = pick_from_photo(photo(), where)
    assert np.abs(parse_hex(found.hex) - parse_hex("#4b7a35")).max() * 255 <= 5
    assert found.warning is None
    with pytest.raises(HazeError, match="no photo"):
        pick_from_photo(b"not a picture", where)
