"""The wet look."""

from __future__ import annotations

from haze.core.film.difference import lab_of
from haze.core.film.finish import (
    inside_film,
    outside_film,
)
from haze.core.film.paint import (
    film_over,
    paint_optics,
)
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.wet import wet_rgb

GREEN = paint_optics("#4b5a35", opacity="opaque")


AMBER = paint_optics("#f2a01c", opacity="transparent", finish="satin")


def test_wet_paint_is_deeper_than_dry_and_milky_paint_lighter_than_clear() -> None:
    ground = inside_film(spectrum_of_hex("#202020"), "matt")
    dry = rgb_of(outside_film(film_over(GREEN, ground, 8.0), "matt"))
    wet = wet_rgb(GREEN, ground=ground, film_um=8.0, milky=False)
    assert float(lab_of(wet)[0]) < float(lab_of(dry)[0])
    milky = wet_rgb(AMBER, ground=ground, film_um=8.0)
    clear = wet_rgb(AMBER, ground=ground, film_um=8.0, milky=False)
    assert float(lab_of(milky)[0]) > float(lab_of(clear)[0])
