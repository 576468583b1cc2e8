"""The camera that stands in for a phone."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from haze.core.inspect.camera import homography, photographed
from haze.core.inspect.card import HIGH_MM, WIDE_MM
from haze.core.inspect.shot import Shot

SIZE = (800, 600)
PX = 4.0
PLAIN = Shot(px_mm=4.2, tilt_deg=0, roll_deg=0, blur_px=0, vignette=0, slope=0, noise=0, light=0.5)
WHITE = np.ones((round(HIGH_MM * PX), round(WIDE_MM * PX), 3), dtype=np.float32)


def taken(shot: Shot, seed: int = 1) -> np.ndarray:
    return photographed(WHITE, PX, shot, np.random.default_rng(seed), size=SIZE)


def test_a_plain_shot_shows_the_card_in_its_scale_and_light() -> None:
    image = taken(PLAIN)
    light = image[:, :, 1] > 150
    wide, high = light.any(axis=0).sum(), light.any(axis=1).sum()
    assert wide == pytest.approx(WIDE_MM * 4.2, abs=2)
    assert high == pytest.approx(HIGH_MM * 4.2, abs=2)
    assert image[300, 400] == pytest.approx([188] * 3, abs=1)  # half the light, in sRGB


def test_the_middle_of_the_card_keeps_its_scale_however_it_leans() -> None:
    for tilt in (0.0, 20.0, 40.0):
        h = homography(replace(PLAIN, tilt_deg=tilt, toward_deg=30), *SIZE)
        at = h @ np.array([[WIDE_MM / 2, HIGH_MM / 2, 1], [WIDE_MM / 2 + 0.1, HIGH_MM / 2, 1]]).T
        at = at[:2] / at[2]
        assert at[:, 0] == pytest.approx([400, 300], abs=1e-6)
        step = float(np.hypot(*(at[:, 1] - at[:, 0]))) / 0.1
        assert 4.2 * np.cos(np.deg2rad(tilt)) - 0.01 <= step <= 4.21


def test_tint_slope_and_shadow_darken_as_they_say() -> None:
    warm = taken(replace(PLAIN, tint=(1.2, 1.0, 0.7)))[300, 400].astype(int)
    assert warm[0] > warm[1] > warm[2]
    sloped = taken(replace(PLAIN, slope=0.4, slope_toward_deg=0))
    assert sloped[300, 120, 1] > sloped[300, 680, 1] + 20
    shaded = taken(replace(PLAIN, shadow=0.6))
    assert np.ptp(shaded[300, 120:680, 1]) > 50


def crisp(shot: Shot) -> float:
    """How hard the edges of a picture are."""
    light = taken(shot)[:, :, 1].astype(float)
    return float(np.sum(np.diff(light, axis=0) ** 2) + np.sum(np.diff(light, axis=1) ** 2))


def test_noise_blur_and_shake_do_what_they_say() -> None:
    assert 1 < taken(replace(PLAIN, noise=0.02))[250:350, 350:450].std() < 8
    for soft in (replace(PLAIN, blur_px=3), replace(PLAIN, shake_px=25)):
        assert crisp(soft) < 0.6 * crisp(PLAIN)


def test_a_bent_card_bows_in_the_middle() -> None:
    image = taken(replace(PLAIN, bend_mm=4.0))
    top = (image[:, :, 1] > 150).argmax(axis=0)
    assert top[400] - top[120] == pytest.approx(-4.0 * 4.2, abs=6) or top[400] > top[120] + 8


def test_glare_is_as_light_as_can_be() -> None:
    assert taken(replace(PLAIN, glare=2.0)).max() == 255
    assert taken(PLAIN).max() < 200
