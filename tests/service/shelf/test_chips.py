"""Chips, and mixes over three grounds."""

from __future__ import annotations

from haze.core.film.srgb import parse_hex
from haze.core.plan.coat import MixPart
from haze.service.bench import Bench
from haze.service.shelf.chips import GREY_CHROMA, MixBody, MixLook, mix_look
from haze.service.shelf.shelf import Shelf, screen


def test_the_wall_runs_from_greys_through_the_hues(club: Bench) -> None:
    chips = screen(club.db).chips
    greys = [i for i, c in enumerate(chips) if c.chroma < GREY_CHROMA]
    assert greys == list(range(len(greys)))
    lights = [chips[i].lightness for i in greys]
    assert lights == sorted(lights, reverse=True)
    yellow = next(c for c in chips if c.paint.name == "Beacon Yellow")
    # yellow is never its own over black; over light it comes, and a pale opaque covers both
    assert yellow.passes_dark is None
    assert yellow.passes_light is not None
    shell = next(c for c in chips if c.paint.name == "Cockle Shell")
    assert shell.passes_dark is not None
    assert shell.passes_light is not None
    assert shell.passes_dark > shell.passes_light
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
