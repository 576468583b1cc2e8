"""Animated pictures with a caption."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from haze.formats import turntable
from haze.formats.turntable import GIF_EVERY, LINE_PX, MOST_BYTES, Caption, Form, animated, still

WIDE, TALL = 120, 160


def pictures(count: int, *, noise: bool = False) -> list[tuple[np.ndarray, Caption]]:
    chance = np.random.default_rng(3)
    made = []
    for n in range(count):
        image = np.full((TALL, WIDE, 3), 10 * n, dtype=np.uint8)
        if noise:
            image = chance.integers(0, 256, (TALL, WIDE, 3)).astype(np.uint8)
        made.append((image, Caption(f"{n}  Wrack Green", "#4b5a35")))
    return made


@pytest.mark.parametrize(("form", "kept"), [("webp", 12), ("gif", 12 // GIF_EVERY)])
def test_pictures_follow_one_another_over_and_over(form: Form, kept: int) -> None:
    data = animated(pictures(12), form)
    with Image.open(io.BytesIO(data)) as image:
        assert image.format == form.upper()
        assert image.n_frames == kept
        assert image.info["loop"] == 0
        levels = []
        for n in range(kept):
            image.seek(n)
            levels.append(image.convert("L").getpixel((5, 5)))
    assert levels == sorted(set(levels))


@pytest.mark.parametrize("form", ["webp", "gif"])
def test_what_packs_badly_is_made_to_fit(form: Form, monkeypatch: pytest.MonkeyPatch) -> None:
    loose = len(animated(pictures(8, noise=True), form))
    fits = round(0.65 * loose)
    monkeypatch.setattr(turntable, "MOST_BYTES", fits)
    assert len(animated(pictures(8, noise=True), form)) <= fits
    assert loose < MOST_BYTES


def test_a_caption_stands_under_the_picture_with_its_chip() -> None:
    grey = np.full((TALL, WIDE, 3), 131, dtype=np.uint8)
    with Image.open(io.BytesIO(still(grey, Caption("Wrack Green", "#4b5a35")))) as image:
        assert image.size == (WIDE, TALL + LINE_PX)
        line = np.asarray(image)[TALL:]
        assert (np.asarray(image)[:TALL] == 131).all()
    assert (line == (0x4B, 0x5A, 0x35)).all(axis=2).sum() > 200
    plain = still(grey, Caption("Wrack Green", None))
    with Image.open(io.BytesIO(plain)) as image:
        assert not (np.asarray(image)[TALL:] == (0x4B, 0x5A, 0x35)).all(axis=2).any()


def test_a_long_caption_ends_within_the_picture() -> None:
    grey = np.full((TALL, WIDE, 3), 131, dtype=np.uint8)
    long = "14  The longest name a paint of the club has ever had: second light"
    with Image.open(io.BytesIO(still(grey, Caption(long, "#4b5a35")))) as image:
        right = np.asarray(image.convert("L"))[TALL:, -6:]
    assert (right > 230).all()
