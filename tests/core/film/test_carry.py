"""The rest of a rung in the cup."""

from __future__ import annotations

import pytest

from haze.core.film.carry import with_rest
from haze.core.film.paint import masstone_rgb, paint_optics
from haze.core.film.palette import Palette


def test_what_is_left_in_the_cup_joins_the_next_rung() -> None:
    shelf = Palette.of([paint_optics(c, opacity="opaque") for c in ("#3b2a20", "#e6d7ae")])
    goal = {0: 1, 1: 3}
    add, made = with_rest(shelf, goal, {0: 1.0}, rest_volume=1.0, paints=[0, 1])
    # one drop of the dark is there already: three of the light make one to three
    assert add == {1: 3}
    assert made == pytest.approx(masstone_rgb(shelf.mix((0, 1), (1, 3))), abs=1e-9)
