"""Chips, mixes over three grounds, colours from a photo, strength from a mix with white."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import HazeError
from haze.core.film.spectra import parse_hex
from haze.core.plan.document import MixPart, PaintUsed
from haze.service.bench import Bench
from haze.service.chips import GREY_CHROMA, MixBody, MixLook, PaintOnShelf, mix_look
from haze.service.shelf import Shelf, screen
from haze.service.strength import WhiteMix, strength_from
from haze.service.swatch_photo import PhotoPick, pick_from_photo


def test_the_wall_runs_from_greys_through_the_hues(club: Bench) -> None:
    chips = screen(club.db).chips
    greys = [i for i, c in enumerate(chips) if c.chroma < GREY_CHROMA]
    assert greys == list(range(len(greys)))
    lights = [chips[i].lightness for i in greys]
    assert lights == sorted(lights, reverse=True)
    yellow = next(c for c in chips if c.paint.name == "Beacon Yellow")
    assert yellow.passes_dark is not None
    assert yellow.passes_light is not None
    assert yellow.passes_dark > yellow.passes_light
    dark, light = (parse_hex(getattr(yellow, f"over_{g}")) for g in ("dark", "light"))
    assert light.mean() > dark.mean()


def test_a_mix_is_shown_over_three_grounds_dry_and_wet(shelf: Shelf) -> None:
    by_name = {p.name: p for p in shelf.paints}

    def look(pass_um: float = 3.0, **drops: int) -> MixLook:
        parts = [MixPart(paint=by_name[n.replace("_", " ")], drops=d) for n, d in drops.items()]
        return mix_look(MixBody(parts=parts, pass_um=pass_um))

    half = look(Wrack_Green=1, Lamp_Amber=1)
    assert [g.ground for g in half.grounds] == ["dark", "mid", "light"]
    light = {g.ground: parse_hex(g.dry).mean() for g in half.grounds}
    assert light["light"] > light["dark"]
    assert half.own not in (by_name["Wrack Green"].masstone, by_name["Lamp Amber"].masstone)
    opaque = look(Wrack_Green=1)
    assert all(p.passes is not None for p in opaque.grounds)
    assert (half.grounds[2].passes or 99) > (opaque.grounds[2].passes or 0)
    thin = look(pass_um=1.0, Wrack_Green=1)
    assert (thin.grounds[0].passes or 0) > (opaque.grounds[0].passes or 0)
    assert look(Quay_Matt=1, Quay_Gloss=1).finish == "satin"
    assert look(Quay_Gloss=1).finish == "gloss"


def photo() -> bytes:
    """A warm photo: a grey card of L* 50 at the left, a green swatch at the right."""
    pixels = np.zeros((60, 120, 3))
    pixels[:, :60] = parse_hex("#777777")
    pixels[:, 60:] = parse_hex("#4b7a35")
    warm = np.clip((pixels**2.2 * [1.1, 0.95, 0.7]) ** (1 / 2.2), 0, 1)
    out = io.BytesIO()
    Image.fromarray(np.round(warm * 255).astype(np.uint8)).save(out, format="PNG")
    return out.getvalue()


def test_a_colour_is_picked_from_a_photo_against_its_grey() -> None:
    where = PhotoPick(grey_x=0.2, grey_y=0.5, x=0.8, y=0.5)
    found = pick_from_photo(photo(), where)
    assert np.abs(parse_hex(found.hex) - parse_hex("#4b7a35")).max() * 255 <= 5
    assert found.warning is None
    with pytest.raises(HazeError, match="no photo"):
        pick_from_photo(b"not a picture", where)


# strength -----------------------------------------------------------------------------------------


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
