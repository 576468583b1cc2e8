"""A paint as its owner describes it, and the optics that follow."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.errors import ColourTextError
from haze.core.film.described import Described, optics_of
from haze.core.film.paint import metallic, paint_optics
from haze.core.film.swatches import TwoSwatches


def test_masstone_and_grade_give_the_film() -> None:
    plain = optics_of(Described("#4b5a35", opacity="semi_opaque", finish="satin"))
    same = paint_optics("#4b5a35", opacity="semi_opaque", finish="satin")
    assert np.array_equal(plain.absorb_per_um, same.absorb_per_um)
    assert plain.surface == same.surface
    assert plain.emission is None
    assert optics_of(Described("#4b5a35")) is optics_of(Described("#4b5a35"))
    with pytest.raises(ColourTextError):
        optics_of(Described("green"))


def test_flake_is_metal_and_clear_has_no_colour() -> None:
    flake = optics_of(Described("#b4b8bb", body="flake", finish="satin"))
    assert flake.flake == metallic("#b4b8bb").flake
    clear = optics_of(Described("#f6f6f2", body="clear", finish="gloss"))
    assert not np.any(clear.absorb_per_um)
    assert not np.any(clear.scatter_per_um)
    assert clear.surface < optics_of(Described("#f6f6f2", body="clear")).surface


def test_only_what_is_fluorescent_gives_light_of_its_own() -> None:
    dull, bright = (optics_of(Described("#ff5a2a", fluorescent=f)) for f in (0.0, 0.8))
    assert dull.emission is None
    assert bright.emission is not None
    assert np.array_equal(dull.absorb_per_um, bright.absorb_per_um)


def test_two_swatches_replace_masstone_and_grade() -> None:
    two = TwoSwatches(
        over_dark="#303828", over_light="#8a9a60", dark="#0c0c0d", light="#f6f6f2", film_um=10
    )
    seen = optics_of(Described("#ffffff", swatches=two))
    assert not np.allclose(seen.absorb_per_um, optics_of(Described("#ffffff")).absorb_per_um)
