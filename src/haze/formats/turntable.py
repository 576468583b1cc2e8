"""A turning piece as an animated picture, WebP or GIF, with a line that names the coat."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Literal

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from haze.core.arrays import Bytes

Form = Literal["webp", "gif"]
MOST_BYTES = 5 * 10**6  # what a club's chat still takes
PICTURE_MS = 80
QUALITY = 70
GIF_EVERY = 2  # pictures of which one is kept
GIF_COLOURS = 96
GIF_SCALES = (0.75, 0.6, 0.5, 0.4, 0.3)
LINE_PX, TEXT_PX, CHIP_PX, GAP_PX = 34, 17, 18, 9
PAPER, INK, EDGE = "#f4f3ee", "#1f1f1f", "#8d8e8c"


@dataclass(frozen=True, slots=True)
class Caption:
    """What stands under a picture; `colour` is "#rrggbb" or None."""

    text: str
    colour: str | None


def animated(pictures: Iterable[tuple[Bytes, Caption]], form: Form) -> bytes:
    """The pictures one after another, over and over, in at most `MOST_BYTES`.

    A GIF, which packs badly, is made smaller until it fits.

    Parameters
    ----------
    pictures : (height, width, 3) uint8 each, with its caption; all of one size
    form : which kind of file
    """
    frames = [_captioned(picture, caption) for picture, caption in pictures]
    return _webp(frames) if form == "webp" else _gif(frames)


def still(picture: Bytes, caption: Caption) -> bytes:
    """One captioned picture as PNG.

    Parameters
    ----------
    picture : (height, width, 3) uint8
    caption : what stands under it
    """
    out = io.BytesIO()
    _captioned(picture, caption).save(out, "PNG")
    return out.getvalue()


def _webp(frames: Sequence[Image.Image]) -> bytes:
    packed = (
        _packed(frames, "WEBP", PICTURE_MS, quality=quality)
        for quality in (QUALITY, QUALITY // 2, QUALITY // 4)
    )
    return _fitting_file(packed)


def _gif(frames: Sequence[Image.Image]) -> bytes:
    kept = frames[::GIF_EVERY]
    return _fitting_file(_gif_at(kept, scale) for scale in GIF_SCALES)


def _gif_at(frames: Sequence[Image.Image], scale: float) -> bytes:
    size = round(frames[0].width * scale), round(frames[0].height * scale)
    small = [f.resize(size, Image.Resampling.LANCZOS).quantize(GIF_COLOURS) for f in frames]
    return _packed(small, "GIF", PICTURE_MS * GIF_EVERY)


def _packed(frames: Sequence[Image.Image], form: str, picture_ms: int, **how: int) -> bytes:
    out = io.BytesIO()
    more = {"save_all": True, "append_images": frames[1:], "duration": picture_ms, "loop": 0}
    frames[0].save(out, form, **more, **how)
    return out.getvalue()


def _fitting_file(packed: Iterable[bytes]) -> bytes:
    """The first that is small enough; the last when none is."""
    data = b""
    for data in packed:
        if len(data) <= MOST_BYTES:
            break
    return data


def _captioned(picture: Bytes, caption: Caption) -> Image.Image:
    height, width = picture.shape[:2]
    image = Image.new("RGB", (width, height + LINE_PX), PAPER)
    image.paste(Image.fromarray(np.ascontiguousarray(picture)), (0, 0))
    draw = ImageDraw.Draw(image)
    left, middle = GAP_PX, height + LINE_PX / 2
    if caption.colour:
        top = height + (LINE_PX - CHIP_PX) // 2
        chip = (left, top, left + CHIP_PX, top + CHIP_PX)
        draw.rectangle(chip, fill=caption.colour, outline=EDGE)
        left += CHIP_PX + GAP_PX
    font = _font()
    draw.text(
        (left, middle), _fitting(caption.text, width - left - GAP_PX, font), INK, font, anchor="lm"
    )
    return image


@cache
def _font() -> ImageFont.FreeTypeFont:
    data = (resources.files("haze.formats") / "fonts" / "text.ttf").read_bytes()
    return ImageFont.truetype(io.BytesIO(data), TEXT_PX)


def _fitting(text: str, room: float, font: ImageFont.FreeTypeFont) -> str:
    """The text, or as much of its beginning as there is room for."""
    if font.getlength(text) <= room:
        return text
    while text and font.getlength(f"{text} …") > room:
        text = text[:-1].rstrip()
    return f"{text} …"
