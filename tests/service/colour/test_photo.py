"""A colour from a photo."""

from __future__ import annotations

import io
import zlib

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import HazeError, PhotoError
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


WHERE = PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5)


def saved(image: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, format=form, **more)
    return out.getvalue()


def png(width: int, height: int, *chunks: tuple[bytes, bytes]) -> bytes:
    """A PNG that says it is so large, with some chunks before its pixels."""

    def chunk(kind: bytes, body: bytes) -> bytes:
        check = zlib.crc32(kind + body).to_bytes(4, "big")
        return len(body).to_bytes(4, "big") + kind + body + check

    header = width.to_bytes(4, "big") + height.to_bytes(4, "big") + b"\x08\x02\x00\x00\x00"
    pixels = zlib.compress(b"\0" * (width * 3 + 1) * min(height, 100), 9)
    parts = [(b"IHDR", header), *chunks, (b"IDAT", pixels), (b"IEND", b"")]
    return b"\x89PNG\r\n\x1a\n" + b"".join(chunk(*part) for part in parts)


LARGE = zlib.compress(b"\0" * 300 * 2**20, 9)
BOMBS = {
    "pixels": (png(13_300, 13_300), "13,300 × 13,300 = 177 megapixels"),
    "pixels beyond count": (png(60_000, 60_000), "megapixels"),
    "text": (png(4, 4, (b"zTXt", b"note\0\0" + LARGE)), "no photo"),
    "colour profile": (png(4, 4, (b"iCCP", b"sRGB\0\0" + LARGE)), "no photo"),
    "half a file": (photo()[:-900], "no photo"),
    "other kinds": (saved(Image.new("RGB", (9, 9)), "TIFF"), "no photo"),
}


@pytest.mark.parametrize("case", BOMBS)
def test_pictures_made_to_do_harm_are_refused(case: str) -> None:
    data, words = BOMBS[case]
    with pytest.raises(PhotoError, match=words):
        pick_from_photo(data, WHERE)


def test_a_photo_of_a_phone_is_read_the_right_way_up() -> None:
    image = Image.new("RGB", (4000, 3000), "#777777")
    image.paste("#4b7a35", (0, 0, 4000, 1500))
    exif = Image.Exif()
    exif[0x0112] = 6  # held upright: turn by a quarter to the right
    data = saved(image, "JPEG", exif=exif, quality=95)
    # the upper half of the file is the right half of the photo
    found = pick_from_photo(data, PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5))
    assert np.abs(parse_hex(found.hex) - parse_hex("#4b7a35")).max() * 255 <= 5


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_all_that_is_promised_is_read(form: str) -> None:
    image = Image.new("RGB", (200, 100), "#777777")
    assert pick_from_photo(saved(image, form), WHERE).hex.startswith("#")


def test_a_photo_over_the_limit_is_told_its_size() -> None:
    with pytest.raises(PhotoError, match="31 MiB; at most 30"):
        pick_from_photo(b"\0" * (31 * 2**20), WHERE)


def test_a_colour_is_picked_from_a_photo_against_its_grey() -> None:
    where = PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5)
    found = pick_from_photo(photo(), where)
    assert np.abs(parse_hex(found.hex) - parse_hex("#4b7a35")).max() * 255 <= 5
    assert found.warning is None
    with pytest.raises(HazeError, match="no photo"):
        pick_from_photo(b"not a picture", where)
