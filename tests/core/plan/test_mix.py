"""Mixes: their optics by volume and strength, their names, and whether they hide."""

from __future__ import annotations

import pytest

from haze.core.film.mixing import Share, mixed
from haze.core.film.srgb import tone_of_rgb
from haze.core.plan.mix import Mix
from haze.core.plan.paint import PaintUsed, Swatches


def paint(name: str, masstone: str, **more: object) -> PaintUsed:
    given = {
        "id": name.lower().replace(" ", "-"),
        "name": name,
        "kind": "airbrush_acrylic",
        "opacity": "opaque",
    }
    return PaintUsed.model_validate(given | {"masstone": masstone} | more)


GREEN = paint("Wrack Green", "#4b5a35")
WHITE = paint("Tern White", "#f3f2ec", drop_ul=30.0, strength=2.0)
AMBER = paint("Lamp Amber", "#f2a01c", kind="transparent", opacity="transparent")
STEEL = paint("Bright Steel", "#b4b8bb", kind="metallic")
MATT = paint("Quay Matt", "#f6f6f2", kind="varnish", opacity="transparent")


def test_a_mix_weighs_its_paints_by_drop_and_strength() -> None:
    mix = Mix.of((GREEN, 3), (WHITE, 2))
    # three drops of 50 µl; two of 30 µl that colour twice as strongly
    expected = mixed([Share(GREEN.optics, 150.0, 1.0), Share(WHITE.optics, 60.0, 2.0)])
    assert mix.optics.absorb_per_um == pytest.approx(expected.absorb_per_um)
    assert mix.drop_ul == 210
    assert mix.paints == (GREEN, WHITE)
    assert mix.main is GREEN


def test_one_paint_alone_is_one_drop_of_itself() -> None:
    alone = Mix.of((GREEN, 5))
    assert alone.parts == ((GREEN, 1),)
    assert alone.name == "Wrack Green"
    assert alone.hex == GREEN.masstone
    assert alone == Mix.of((GREEN, 1))
    assert len({alone, Mix.of((GREEN, 2)), Mix.of((WHITE, 1))}) == 2


def test_a_mix_is_called_by_its_paints_and_drops_within_limits() -> None:
    assert Mix.of((GREEN, 1), (WHITE, 4)).name == "Wrack Green + Tern White 1:4"
    assert Mix.of((GREEN, 1), (WHITE, 4)).most_first().name == "Tern White + Wrack Green 4:1"
    long = [paint(f"{'Long name ' * 6}{i}", "#4b5a35") for i in range(3)]
    assert len(Mix.of(*((p, 1) for p in long)).name) == 120


def test_tones_lie_between_those_of_the_paints() -> None:
    half = Mix.of((GREEN, 1), (WHITE, 1))
    assert GREEN.tone < half.tone < WHITE.tone
    assert half.tone == tone_of_rgb(half.rgb)
    level, chroma, hue = half.lch
    assert 0 < level < 1
    assert 0 < chroma < 0.4
    assert 0 <= hue < 360


def test_what_hides_and_what_is_seen_through() -> None:
    assert GREEN.hides
    assert Mix.of((GREEN, 1)).hides
    assert not AMBER.hides
    assert Mix.of((AMBER, 1)).clear
    assert not Mix.of((AMBER, 1)).hides
    for apart in (STEEL, MATT):
        assert not apart.mixes
        assert not apart.hides
    # flake hides, yet it is no ground a colour is drafted over
    assert not Mix.of((GREEN, 9), (STEEL, 1)).hides


def test_swatches_and_fluorescence_change_the_optics_and_a_name_does_not() -> None:
    two = Swatches(over_dark="#3a3f2a", over_light="#6a7a4a", film_um=8)
    told = GREEN.model_copy(update={"swatches": two})
    assert told.optics.scatter_per_um != pytest.approx(GREEN.optics.scatter_per_um)
    glowing = GREEN.model_copy(update={"fluorescent": 0.5})
    assert glowing.optics.emission is not None
    renamed = GREEN.model_copy(update={"name": "Other", "id": "other", "maker": "Oddmere"})
    assert renamed.optics is GREEN.optics
    assert GREEN.model_copy(update={"finish": "gloss"}).optics.surface < GREEN.optics.surface
    assert MATT.optics.absorb_per_um.max() == 0
    assert STEEL.optics.flake == 1
