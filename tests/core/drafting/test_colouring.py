"""Asked colours: targets by hand, and what random shelves make of them."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.drafting.colouring import ColouredRow, Surroundings, coloured
from haze.core.drafting.recipes import Pass
from haze.core.drafting.sites import BASE, EVERY, MIDDLE, PANELS, PLACES
from haze.core.drafting.stock import Stock, palette_of
from haze.core.errors import NoRecipeError, NothingFitsError
from haze.core.film.difference import delta_e, lab_of, oklch_of
from haze.core.film.finish import SURFACE, inside_film, outside_film
from haze.core.film.layering import Later
from haze.core.film.match import nearest_mixes
from haze.core.film.paint import film_over
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.paint import PaintUsed
from helpers import plain_places, plain_sites

MATT = SURFACE["matt"]
OPACITIES = ("opaque", "semi_opaque", "opaque", "transparent")


def dark_ground() -> np.ndarray:
    return np.repeat(inside_film(spectrum_of_hex("#17181a"), "matt")[:, None], len(PLACES), axis=1)


def random_shelf(rng: np.random.Generator) -> Stock:
    count = int(rng.integers(12, 41))
    made = [("#f3f2ec", "opaque"), ("#17181a", "opaque")]
    made += [
        (f"#{rng.integers(0, 1 << 24):06x}", OPACITIES[int(rng.integers(4))]) for _ in range(count)
    ]
    return few(*((masstone, opacity, 0.0) for masstone, opacity in made))


def pass_of(paint: PaintUsed, task: str, over: str, *, aimed: bool) -> Pass:
    return Pass({"cover": 1.2, "prime": 1.5, "light": 0.8, "rung": 0.6}.get(task, 0.4), 0.2)


def searched(
    asked: np.ndarray,
    stock: Stock,
    *,
    order: str = "climb",
    later: PaintUsed | None = None,
    panels: bool = False,
) -> ColouredRow:
    def around(places):  # type: ignore[no-untyped-def]
        over = [Later(later.optics, 0.1 * places.wash)] if later else []
        return Surroundings(dark_ground().astype(np.float32), over)

    return coloured(
        asked[None],
        order=order,
        stock=stock,
        sites=plain_sites(panels=panels),
        around=around,
        pass_of=pass_of,  # type: ignore[arg-type]
        below="#17181a",
        surface=MATT,
    )


@pytest.mark.parametrize("seed", range(10))
def test_random_shelves_never_do_worse_than_one_mix_all_over(seed: int) -> None:
    rng = np.random.default_rng(seed)
    stock, places = random_shelf(rng), plain_places()
    asked = linear_of_hex(f"#{rng.integers(0, 1 << 24):06x}")
    wash = stock.paints[1]
    found = searched(asked, stock, later=wash)
    plain = [p for p in stock.paints if p.hides]
    palette = palette_of(plain)
    best = nearest_mixes(asked, palette, keep=1)[0]
    optics = palette.mix(best.paints, best.drops)
    one = film_over(optics, dark_ground()[:, MIDDLE], 13.0 * places.sweeps[BASE].film[MIDDLE])
    one = film_over(wash.optics, one, 0.1 * places.wash[MIDDLE])
    naive = delta_e(rgb_of(outside_film(one, "matt")), asked)
    assert delta_e(found.rgb[MIDDLE], asked) <= naive + 3.0
    assert 2 <= len(found.layers) <= 6
    tones = lab_of(found.rgb)[:, 0]
    assert tones[-1] >= tones[0] - 1, "light is not darker than shade"


def few(*made: tuple[str, str, float], primer: str | None = None) -> Stock:
    """A shelf of masstones, opacities and how fluorescent; perhaps with a primer."""
    paints = [
        PaintUsed.model_validate(
            {
                "id": f"p{n}",
                "name": f"Paint {n}",
                "kind": "transparent" if opacity == "transparent" else "airbrush_acrylic",
                "masstone": masstone,
                "opacity": opacity,
                "fluorescent": shine,
            }
        )
        for n, (masstone, opacity, shine) in enumerate(made)
    ]
    if primer:
        given = {"id": "prime", "name": "Primer", "kind": "primer", "masstone": primer}
        paints.append(PaintUsed.model_validate({**given, "opacity": "opaque"}))
    return Stock(paints=tuple(paints))


WHITE, BLACK = ("#f3f2ec", "opaque", 0.0), ("#17181a", "opaque", 0.0)


def test_a_clear_gives_the_chroma_no_opaque_paint_has() -> None:
    dull, clear = ("#44516c", "opaque", 0.0), ("#2f62b8", "transparent", 0.0)
    asked = linear_of_hex("#1f4fa0")
    alone = searched(asked, few(WHITE, BLACK, dull))
    glazed = searched(asked, few(WHITE, BLACK, dull, clear))
    kept = [float(oklch_of(f.rgb[MIDDLE])[1]) for f in (alone, glazed)]
    assert kept[1] > 1.3 * kept[0]
    assert delta_e(glazed.rgb[MIDDLE], asked) < delta_e(alone.rgb[MIDDLE], asked)
    veils = [x for x in glazed.layers if x.task == "veil"]
    assert [x.sweep for x in veils] == [EVERY]


def test_a_fluorescent_paint_is_no_part_of_a_colour() -> None:
    shining = searched(linear_of_hex("#e8c020"), few(WHITE, BLACK, ("#e8c020", "opaque", 0.8)))
    assert all("Paint 2" not in layer.mix.name for layer in shining.layers)


def test_panels_fade_where_there_are_some() -> None:
    stock = few(WHITE, BLACK, ("#3f5a3a", "opaque", 0.0))
    asked = linear_of_hex("#3f5a3a")
    fades = [x for x in searched(asked, stock, panels=True).layers if x.sweep == PANELS]
    assert [x.task for x in fades] == ["rung"]
    assert all(x.sweep != PANELS for x in searched(asked, stock).layers)


def test_a_descent_begins_with_a_primer_and_tells_what_white_is_for() -> None:
    stock = few(WHITE, BLACK, ("#d8a818", "transparent", 0.0), primer="#2a2c30")
    found = searched(linear_of_hex("#d8a818"), stock, order="descend")
    assert found.layers[0].task == "prime"
    assert found.unlit is not None
    chroma = [float(oklch_of(rgb[MIDDLE])[1]) for rgb in (found.unlit, found.rgb)]
    assert chroma[0] < chroma[1]
    with pytest.raises(NothingFitsError, match="no primer"):
        searched(linear_of_hex("#d8a818"), few(WHITE, BLACK), order="descend")


def test_without_clears_a_veil_says_what_is_missing() -> None:
    with pytest.raises(NothingFitsError, match="no transparent paint"):
        searched(linear_of_hex("#a81c1c"), few(WHITE, BLACK), order="veil")


def test_a_paint_that_cannot_be_sprayed_is_left_out() -> None:
    def none_of(paint: PaintUsed, task: str, over: str, *, aimed: bool) -> Pass:
        raise NoRecipeError("Nothing sprays it.", field="spray")

    with pytest.raises(NoRecipeError):
        coloured(
            linear_of_hex("#a81c1c")[None],
            order="climb",
            stock=few(WHITE, BLACK),
            sites=plain_sites(),
            around=lambda _: Surroundings(dark_ground().astype(np.float32), []),
            pass_of=none_of,  # type: ignore[arg-type]
            below="#17181a",
            surface=MATT,
        )
