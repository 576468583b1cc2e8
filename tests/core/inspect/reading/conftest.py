"""Photos of simulated cards, taken once for all tests of the reading."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import pytest

from core.inspect.test_sprayed import setting
from haze.core.film.paint import PaintOptics, paint_optics
from haze.core.inspect.camera import photographed
from haze.core.inspect.card import printed, raster
from haze.core.inspect.card_colours import coloured
from haze.core.inspect.reading.depth import Ink
from haze.core.inspect.shot import Shot
from haze.core.inspect.trial_card import SprayedCard, Truth, sprayed_card, truth_of
from haze.core.spray.setting import Setting

PX = 20.0
NUMBER = 120_314
DEEP: PaintOptics = paint_optics("#1d3f8a", opacity="opaque")
SHOT = Shot(tilt_deg=14, toward_deg=70, roll_deg=4, tint=(1.15, 1.0, 0.85), slope=0.2)
WET = {"thinner_parts": 4.0, "pressure_psi": 28.0, "distance_mm": 40.0}


@dataclass(frozen=True)
class Taken:
    """A photo and what is true of its card."""

    photo: np.ndarray
    light: np.ndarray
    card: SprayedCard
    truth: Truth
    ink: Ink


def take(s: Setting, shot: Shot = SHOT) -> Taken:
    card = sprayed_card(s, px_mm=PX, seed=11)
    light = coloured(card.laid, raster(printed(NUMBER), PX), DEEP)
    photo = photographed(light, PX, shot, np.random.default_rng(3))
    lines = tuple(one.splats for one in card.lines)
    ink = Ink(DEEP, s.paint.hiding_um or 6.0, card.here.splats, lines)
    return Taken(photo, light, card, truth_of(card), ink)


@pytest.fixture(scope="session")
def clean() -> Taken:
    return take(setting())


@pytest.fixture(scope="session")
def flooded() -> Taken:
    return take(setting(**WET))


@pytest.fixture(scope="session")
def retake(clean: Taken) -> Callable[..., np.ndarray]:
    """The clean card again, photographed another way."""

    def again(**changes: object) -> np.ndarray:
        shot = replace(SHOT, **changes)  # type: ignore[arg-type]
        return photographed(clean.light, PX, shot, np.random.default_rng(4))

    return again
