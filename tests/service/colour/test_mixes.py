"""Mixes from the shelf."""

from __future__ import annotations

import pytest

from haze.core.errors import CancelledError, HazeError
from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.srgb import decode_srgb, parse_hex
from haze.service.colour.mixes import MixIn, ShelfMix, mix, mix_from
from haze.service.forms.wire import FilmLater, MixPaint
from haze.service.shelf.shelf import Shelf
from helpers import going, stopping


def apart(one: str, other: str) -> float:
    labs = (lab_of(decode_srgb(parse_hex(c))) for c in (one, other))
    return float(ciede2000(*labs))


def test_mixes_of_the_shelf_come_nearest_first_and_name_a_simple_one(shelf: Shelf) -> None:
    found = mix_from(ShelfMix(target="#7a8f5c"), shelf, going)
    offs = [m.delta_e for m in found.mixes]
    assert offs == sorted(offs)
    assert offs[0] < 1
    assert found.missing is None
    for m in found.mixes:
        assert apart(m.colour, "#7a8f5c") == pytest.approx(m.delta_e, abs=0.6)
        assert set(m.drops) <= {p.id for p in shelf.paints}
        assert sum(m.drops.values()) <= 8
    plainest = found.mixes[found.simplest]
    assert plainest.delta_e <= offs[0] + 1
    size = (len(plainest.drops), sum(plainest.drops.values()))
    assert size == min(
        (len(m.drops), sum(m.drops.values())) for m in found.mixes if m.delta_e <= offs[0] + 1
    )


def test_what_does_not_mix_is_left_out(shelf: Shelf) -> None:
    by_id = {p.id: p for p in shelf.paints}
    for target in ("#b4b8bb", "#f6f6f2", "#4a3f34"):
        for m in mix_from(ShelfMix(target=target), shelf, going).mixes:
            kinds = {by_id[i].kind for i in m.drops}
            assert not kinds & {"metallic", "varnish", "enamel_wash", "lacquer"}
    metal = next(p.id for p in shelf.paints if p.kind == "metallic")
    with pytest.raises(HazeError, match="No paint"):
        mix_from(ShelfMix(target="#808080", only=[metal]), shelf, going)
    with pytest.raises(CancelledError):
        mix_from(ShelfMix(target="#808080"), shelf, stopping)


def test_when_nothing_comes_close_the_missing_paint_is_described(shelf: Shelf) -> None:
    found = mix_from(ShelfMix(target="#00ff66"), shelf, going)
    assert found.missing is not None
    assert "green" in found.missing
    assert "too dull" in found.missing
    greys = [MixPaint(name=n, masstone=h) for n, h in (("Dark", "#202020"), ("Mid", "#707070"))]
    light = mix(MixIn(target="#f0f0f0", paints=greys))
    assert light.missing is not None
    assert "lighter" in light.missing


def test_a_mix_aims_past_what_comes_later(shelf: Shelf) -> None:
    amber = FilmLater(masstone="#f2a01c", finish="satin", dry_film_um=3)
    plain = mix_from(ShelfMix(target="#b98a2e"), shelf, going)
    past = mix_from(ShelfMix(target="#b98a2e", then=[amber]), shelf, going)
    assert plain.aim == "#b98a2e"
    assert apart(past.aim, "#b98a2e") > 3
    assert past.mixes[0].delta_e < 2


def test_names_in_the_command_line_must_differ() -> None:
    twice = [MixPaint(name="Grey", masstone=h) for h in ("#202020", "#707070")]
    with pytest.raises(HazeError, match="'Grey' twice"):
        mix(MixIn(target="#404040", paints=twice))
