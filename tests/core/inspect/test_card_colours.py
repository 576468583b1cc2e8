"""What lies on a card as colour."""

from __future__ import annotations

import numpy as np
import pytest

from core.inspect.test_sprayed import setting
from haze.core.film.looks import encode_bytes
from haze.core.film.paint import paint_optics
from haze.core.inspect.card import LINES_Y, ZONES, printed, raster
from haze.core.inspect.card_colours import Closing, cards_bytes, coloured, shown_film_um
from haze.core.inspect.landing import Splats
from haze.core.inspect.trial_card import Hand, SprayedCard, sprayed_card

PX = 6.0
DEEP = paint_optics("#1d3f8a", opacity="opaque")


@pytest.fixture(scope="module")
def clean() -> SprayedCard:
    return sprayed_card(setting(), hand=Hand(0.0, 0.0, 0.0), px_mm=PX, seed=3)


def test_gaps_between_fine_splats_make_a_thin_film_lighter(clean: SprayedCard) -> None:
    shown = shown_film_um(clean.laid, DEEP)
    film = clean.laid.film_um
    thin = (film > 0.3) & (film < 1.0)
    assert shown[thin].mean() < 0.95 * film[thin].mean()
    assert np.all(shown <= film + 1e-3)
    thick = film > 12
    assert shown[thick].mean() == pytest.approx(film[thick].mean(), rel=0.05)


def test_paint_covers_what_is_printed(clean: SprayedCard) -> None:
    print_ = raster(printed(12003), PX)
    light = coloured(clean.laid, print_, DEEP)
    assert light.shape == (*print_.shape, 3)
    papers = light[print_ == 1.0]
    assert papers.max() <= 1.0
    x0, y0, x1, y1 = (round(v * PX) for v in ZONES["solid"])
    solid = light[y0 + 60 : y1 - 60, x0 + 60 : x1 - 60].mean(axis=(0, 1))
    assert solid == pytest.approx(light[y0 + 90, x0 + 90], abs=0.03)
    assert solid[2] > solid[0]  # blue
    row = light[round(LINES_Y[1] * PX), :, 0]
    assert row[: round(10 * PX)].mean() > row[round(30 * PX) : round(60 * PX)].mean()


def test_sprinkled_paint_shows_less_than_even_paint_and_ends_alike() -> None:
    films = np.linspace(0, 40, 400)
    even = 1 - np.exp(-0.65 * films)
    closes = Closing.fitted(films, even)
    for h in (0.1, 1.0, 4.0):
        found = closes.sprinkled(Splats(np.array([h]), np.array([1.0])))
        # of one exponential the mean is known: a X becomes X (1 - exp(-a h)) / h
        assert found == pytest.approx(1 - np.exp(-films * (1 - np.exp(-0.65 * h)) / h), abs=0.01)
        assert np.all(found <= even + 0.01)
    mixed = Splats(np.array([0.1, 4.0]), np.array([0.5, 0.5]))
    fine, coarse = (
        closes.sprinkled(Splats(np.array([h]), np.array([1.0])))[20] for h in (0.1, 4.0)
    )
    assert coarse < closes.sprinkled(mixed)[20] < fine


def test_a_picture_of_a_card_is_its_light_encoded(clean: SprayedCard) -> None:
    grey = paint_optics("#5a5a58", opacity="opaque")  # well within what a display shows
    bare = np.ones_like(clean.laid.film_um)
    light = coloured(clean.laid, bare, grey).reshape(-1, 3).T
    shown = cards_bytes([clean.laid], grey)[0].reshape(-1, 3)
    assert np.abs(encode_bytes(light).astype(int) - shown.astype(int)).max() <= 1
