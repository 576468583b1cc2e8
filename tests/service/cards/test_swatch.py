"""The swatch beside the window."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import UnknownNameError
from haze.demo import saltgate
from haze.service.bench import Bench
from haze.service.cards.swatch import (
    DOT_MM,
    GAP_MM,
    PX_MM,
    SOLID_MM,
    CardSwatch,
    ClearSwatchError,
    SwatchBody,
    swatch,
)
from helpers import coarse


@pytest.fixture(scope="module")
def club(tmp_path_factory: pytest.TempPathFactory) -> Bench:
    bench = coarse(tmp_path_factory.mktemp("club"))
    saltgate.load_shelf(bench.db)
    return bench


def body(club: Bench, name: str, *, parts: tuple[str, ...] = (), **knobs: Any) -> SwatchBody:
    shelf = club.shelf()
    by_name = {p.name: p for p in shelf.paints}
    paint, brush = by_name[name], shelf.airbrushes[0]
    given = {
        "paint": {"kind": paint.kind},
        "thinner": "acrylic_thinner",
        "thinner_parts": 2,
        "needle_mm": brush.needle_mm,
        "trigger": 0.35,
        "pressure_psi": 18,
        "distance_mm": 60,
        "speed_mm_s": 80,
        **knobs,
    }
    return SwatchBody.model_validate(
        {
            "paint": {"id": paint.id, "name": paint.name, "kind": paint.kind},
            "airbrush": {"id": brush.id, "name": brush.name, "needle_mm": brush.needle_mm},
            "setting": given,
            "parts": [{"paint": by_name[n], "drops": 1} for n in parts],
        }
    )


def shown(club: Bench, given: SwatchBody) -> tuple[CardSwatch, np.ndarray]:
    found = swatch(given, beliefs=club.beliefs, shelf=club.shelf())
    return found, np.asarray(Image.open(io.BytesIO(found.png))).astype(int)


def test_solid_line_and_dot_stand_in_one_picture(club: Bench) -> None:
    found, image = shown(club, body(club, "Storm Petrel"))
    assert not found.dark
    wide = SOLID_MM[0] + GAP_MM + DOT_MM[0]
    assert image.shape[1] == pytest.approx(wide * PX_MM, abs=2)
    assert image[..., 3].min() == 0, "between them it is clear"
    _, sharp = shown(club, body(club, "Storm Petrel").model_copy(update={"sharp": 2.0}))
    assert sharp.shape[1] == pytest.approx(2 * image.shape[1], abs=3)
    _, again = shown(club, body(club, "Storm Petrel"))
    assert np.array_equal(image, again), "the same setting is the same picture"


def test_a_setting_that_spiders_looks_like_it(club: Bench) -> None:
    _, clean = shown(club, body(club, "Storm Petrel"))
    wet = body(club, "Storm Petrel", thinner_parts=4, pressure_psi=28, distance_mm=40)
    _, spiders = shown(club, wet)

    def dark_far_out(image: np.ndarray) -> float:
        """Dark pixels at the rim of the dot's field."""
        dot = image[-100:, -200:, :3].mean(axis=2)
        rim = np.concatenate([dot[:, :40].ravel(), dot[:, -40:].ravel()])
        return float((rim < 90).mean())

    assert dark_far_out(spiders) > 0.01 > 2 * dark_far_out(clean)


def test_white_is_shown_on_a_dark_card_and_a_mix_in_its_own_colour(club: Bench) -> None:
    white, image = shown(club, body(club, "Tern White"))
    assert white.dark
    assert image[2, 2, :3].mean() < 60
    _, blue = shown(club, body(club, "Storm Petrel", parts=("Shoal Blue",)))
    _, own = shown(club, body(club, "Storm Petrel"))
    assert blue[..., 2].mean() - blue[..., 0].mean() > own[..., 2].mean() - own[..., 0].mean() + 3


def test_clear_coats_and_unknown_paints_are_told(club: Bench) -> None:
    with pytest.raises(ClearSwatchError, match="nothing to see"):
        shown(club, body(club, "Quay Satin"))
    gone = body(club, "Storm Petrel")
    gone.paint.id = "gone"
    with pytest.raises(UnknownNameError, match="parts of the cup"):
        shown(club, gone)


def test_the_line_is_sprayed_near_however_far_the_setting_is(club: Bench) -> None:
    _, image = shown(club, body(club, "Storm Petrel", distance_mm=150))
    line = image[: round(6.5 * PX_MM), -200:, :3].mean(axis=2)
    rows = line.mean(axis=1)
    assert rows[len(rows) // 2] < rows[1] - 40, "narrow, not a haze over the whole strip"
