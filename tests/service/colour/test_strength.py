"""Tinting strength from a mix with white."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import HazeError
from haze.core.film.srgb import parse_hex
from haze.core.plan.coat import MixPart
from haze.core.plan.paint import PaintUsed
from haze.service.colour.strength import WhiteMix, strength_from
from haze.service.shelf.chips import MixBody, mix_look
from haze.service.shelf.paints import PaintOnShelf
from haze.service.shelf.shelf import Shelf


def named(shelf: Shelf, name: str) -> PaintUsed:
    return next(p for p in shelf.paints if p.name == name)


def on_shelf(paint: PaintUsed, **change: object) -> PaintOnShelf:
    return PaintOnShelf.model_validate(paint.model_dump() | change)


@pytest.mark.parametrize("name", ["Wrack Green", "Ensign Red", "Deep Channel", "Beacon Yellow"])
@pytest.mark.parametrize("true", [0.4, 1.0, 2.5])
def test_a_strength_is_found_again_from_the_mix_it_makes(
    shelf: Shelf, name: str, true: float
) -> None:
    white, paint = named(shelf, "Tern White"), named(shelf, name)
    strong = paint.model_copy(update={"strength": true})
    seen = mix_look(
        MixBody(parts=[MixPart(paint=strong, drops=2), MixPart(paint=white, drops=3)])
    ).own
    test = WhiteMix(paint=on_shelf(paint), white=white, paint_drops=2, white_drops=3, colour=seen)
    found = strength_from(test)
    assert found.strength == pytest.approx(true, rel=0.08)
    assert np.abs(parse_hex(found.after) - parse_hex(seen)).max() * 255 <= 3
    assert found.delta_e < 1


def test_drop_size_counts_in_a_test_mix(shelf: Shelf) -> None:
    white, red = named(shelf, "Tern White"), named(shelf, "Ensign Red")
    small = WhiteMix(paint=on_shelf(red, drop_ul=25), white=white, colour="#c8696b")
    usual = WhiteMix(paint=on_shelf(red, drop_ul=50), white=white, colour="#c8696b")
    ratio = strength_from(small).strength / strength_from(usual).strength
    assert ratio == pytest.approx(2, rel=0.05)


def test_a_test_mix_that_tells_nothing_is_refused(shelf: Shelf) -> None:
    white, red = named(shelf, "Tern White"), named(shelf, "Ensign Red")
    with pytest.raises(HazeError, match="another paint"):
        strength_from(WhiteMix(paint=on_shelf(red), white=red, colour="#c8696b"))
    steel = named(shelf, "Bright Steel")
    with pytest.raises(HazeError, match="flake"):
        strength_from(WhiteMix(paint=on_shelf(steel), white=white, colour="#c8c8c8"))
    with pytest.raises(HazeError, match=r"strength"):
        strength_from(WhiteMix(paint=on_shelf(red), white=white, colour=white.masstone))


def test_a_mix_of_another_hue_is_told(shelf: Shelf) -> None:
    white, red = named(shelf, "Tern White"), named(shelf, "Ensign Red")
    found = strength_from(WhiteMix(paint=on_shelf(red), white=white, colour="#b89a4b"))
    assert "not between these two paints" in found.words
