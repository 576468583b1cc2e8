from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import HazeError
from haze.core.film.srgb import decode_srgb, encode_srgb, parse_hex
from haze.core.inspect.photo import patch, picked


def photo(colour: str, *, light: tuple[float, float, float], noise: float = 0.0) -> np.ndarray:
    """Pixels of a colour under a light, as a camera encodes them."""
    linear = decode_srgb(parse_hex(colour)) * np.array(light)
    pixels = np.tile(encode_srgb(linear) * 255, (400, 1))
    pixels += np.random.default_rng(1).normal(0, noise, pixels.shape)
    return np.clip(np.round(pixels), 0, 255).astype(np.uint8)


# a grey of L* 50 is #777777
@pytest.mark.parametrize("light", [(1, 1, 1), (0.9, 0.7, 0.45), (0.5, 0.6, 0.9)])
def test_the_grey_takes_the_light_out_again(light: tuple[float, float, float]) -> None:
    got = picked(photo("#4b7a35", light=light), photo("#777777", light=light), grey_lightness=50)
    assert np.abs(parse_hex(got.hex) - parse_hex("#4b7a35")).max() * 255 <= 3
    assert got.warning is None


def test_what_cannot_be_trusted_is_told() -> None:
    grey = photo("#777777", light=(1, 1, 1))
    bright = photo("#ffffff", light=(1, 1, 1))
    with pytest.raises(HazeError, match="too bright"):
        picked(grey, bright, grey_lightness=50)
    with pytest.raises(HazeError, match="too dark"):
        picked(grey, photo("#777777", light=(0.002, 0.002, 0.002)), grey_lightness=50)
    with pytest.raises(HazeError, match="10 to 98"):
        picked(grey, grey, grey_lightness=2)
    assert "overexposed" in (picked(bright, grey, grey_lightness=50).warning or "")
    half = np.concatenate([photo("#202020", light=(1, 1, 1)), photo("#909090", light=(1, 1, 1))])
    assert "uneven" in (picked(half, grey, grey_lightness=50).warning or "")


def test_a_patch_is_round_and_stays_in_the_photo() -> None:
    image = np.zeros((50, 100, 3), dtype=np.uint8)
    image[20:31, 45:56] = 200
    assert (patch(image, x=0.505, y=0.51, radius=0.04) == 200).all()
    corner = patch(image, x=0.0, y=0.0, radius=0.1)
    assert 0 < len(corner) < 30
    with pytest.raises(HazeError, match="outside"):
        patch(image, x=1.2, y=0.5, radius=0.1)
