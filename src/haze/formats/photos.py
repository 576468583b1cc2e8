"""Photos as phones and cameras make them, read with care: upright, sized down, without metadata."""

from __future__ import annotations

import io

from PIL import Image, ImageOps

from haze.core.errors import PhotoError

MOST_BYTES = 30 * 2**20
MOST_PIXELS = 60_000_000
FORMATS = ("JPEG", "PNG", "WEBP")
QUALITY = 84


def require_size(data: bytes) -> None:
    """Refuse a photo with too many bytes (`PhotoError`).

    Parameters
    ----------
    data : bytes of the whole file
    """
    if len(data) > MOST_BYTES:
        raise PhotoError(
            f"The photo has {len(data) / 2**20:.0f} MiB; at most {MOST_BYTES // 2**20} are "
            "accepted.",
            field="photo",
        )


def opened(data: bytes, *, side: int) -> Image.Image:
    """A photo the right way up, made small; refused by its header when too large (`PhotoError`).

    Parameters
    ----------
    data : bytes of the whole file
    side : int [px], what its longer side has at most
    """
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as image:
            _require_pixels(*image.size)
            image.draft("RGB", (side, side))  # JPEG unpacks to a fraction at once
            small = ImageOps.exif_transpose(image).convert("RGB")
            small.thumbnail((side, side))
            return small
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


def as_jpeg(image: Image.Image) -> bytes:
    """JPEG with nothing but pixels: no place, no camera, no time."""
    out = io.BytesIO()
    Image.frombytes(image.mode, image.size, image.tobytes()).save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def is_plain(data: bytes, *, side: int) -> bool:
    """Whether a photo that opens is a JPEG of that size that says nothing but its pixels.

    Parameters
    ----------
    data : bytes of the whole file
    side : int [px], what its longer side has at most
    """
    with Image.open(io.BytesIO(data), formats=FORMATS) as image:
        said = {key for key in image.info if not str(key).startswith("jfif")}
        return image.format == "JPEG" and max(image.size) <= side and not said


def _require_pixels(width: int, height: int) -> None:
    if width * height > MOST_PIXELS:
        raise PhotoError(
            _too_many(f"{width:,} × {height:,} = {width * height / 1e6:.0f} megapixels,"),
            field="photo",
        )


def _too_many(has: str) -> str:
    return f"The photo has {has} over the {MOST_PIXELS // 10**6} megapixels that are accepted."
