"""Aiming past a colour."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.film.difference import ciede2000, lab_of
from haze.core.film.finish import SURFACE
from haze.core.film.overshoot import Film, after_films, aim_before
from haze.core.film.paint import (
    PaintOptics,
    paint_optics,
)
from haze.core.film.srgb import decode_srgb, lightness_of, parse_hex

AMBER = paint_optics("#f2a01c", opacity="transparent", finish="satin")


def rgb(text: str) -> np.ndarray:
    return decode_srgb(parse_hex(text))


def test_aiming_before_a_tint_lands_on_the_target_when_a_paint_can() -> None:
    target = rgb("#b98a2e")
    varnish = PaintOptics(np.zeros(12), np.zeros(12), SURFACE["matt"])
    later = [Film(AMBER, 4.0), Film(varnish, 10.0)]
    aimed = aim_before(target, later)
    assert aimed.left_over < 0.3
    landed = after_films(aimed.inside, later)
    assert float(ciede2000(lab_of(landed), lab_of(target))) < 0.3
    assert float(lab_of(aimed.rgb)[0]) > float(lab_of(target)[0]), "overshoot is lighter"


def test_what_no_paint_can_make_up_for_is_told() -> None:
    aimed = aim_before(rgb("#f0f4ff"), [Film(AMBER, 12.0)])
    assert aimed.left_over > 5
    assert float(lightness_of(np.clip(aimed.rgb, 0, 1) @ [0.2126, 0.7152, 0.0722])) < 99.5
    nothing = aim_before(rgb("#4b5a35"), [])
    assert nothing.rgb == pytest.approx(rgb("#4b5a35"), abs=2e-3)
