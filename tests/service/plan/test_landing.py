"""Where the colours of a plan land on a piece, and whole schemes for programs."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.drafting.sites import LIGHT, MIDDLE, PANELS, PLACES
from haze.core.film.difference import delta_e
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.document import Plan
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.landing import best_mix, landing
from haze.service.plan.places import FINE, sites_of
from haze.service.plan.scheme import SchemeIn, scheme, shelf_given
from helpers import PAINTS


def all_over(rgb: np.ndarray) -> np.ndarray:
    return np.repeat(rgb[None], len(PLACES), axis=0)


def test_a_plan_of_one_colour_lands_on_it(lantern: Plan, on_lantern: OnPiece) -> None:
    plan = lantern.model_copy(update={"coats": lantern.coats[:1]})
    ground = lantern.coats[0]
    assert ground.kind == "spray"
    own, stock = linear_of_hex(ground.paint.masstone), shelf_given(PAINTS).stock
    told = landing(plan, on_lantern, all_over(own), best_mix(own, stock))
    assert told.shade_delta_e < 6
    assert told.light_delta_e < 3
    assert told.delta_e < 3
    assert told.middle_spread < 3
    assert told.words.startswith("The half light ends ")
    assert f"(ΔE {told.delta_e:.1f})" in told.words
    assert "thick mix" not in told.words, "it is close enough already"
    cyan = linear_of_hex("#12e0ff")
    far = landing(plan, on_lantern, all_over(cyan), best_mix(cyan, stock))
    assert far.delta_e > 20
    assert f"a thick mix of your paints comes to {far.best_delta_e:.1f}" in far.words
    assert far.best_delta_e > 6
    assert any("missing" in note for note in far.notes)


def test_places_are_ordered_by_light(lantern: Plan, on_lantern: OnPiece) -> None:
    sites = sites_of(lantern, on_lantern, panels=False)
    lit = sites.rough.sweeps[LIGHT].film
    assert lit[-1] > lit[1] >= lit[0]
    # a wash lies thinner where the piece is open
    assert sites.rough.wash.min() < 1.0
    assert sites.rough.place is None
    assert set(sites.rough.sweeps) == set(range(PANELS))


def test_points_stand_for_every_range_of_light(lantern: Plan, on_lantern: OnPiece) -> None:
    sites = sites_of(lantern, on_lantern, panels=True)
    place = sites.fine.place
    assert place is not None
    assert np.bincount(place).tolist() == list(FINE)
    lit = sites.fine.sweeps[LIGHT].film
    medians = [float(np.median(lit[place == n])) for n in range(len(PLACES))]
    assert medians[-1] > medians[MIDDLE] > medians[0]
    # mist reaches what no station sees
    assert (sites.fine.sweeps[LIGHT].film > 0).mean() > 0.95
    assert sites.fine.sweeps[PANELS].stations == ()
    assert 0 <= sites.fine.sweeps[PANELS].film.min() <= sites.fine.sweeps[PANELS].film.max() <= 1


@pytest.mark.parametrize("order", ["climb", "veil"])
def test_a_scheme_lands_near_what_is_asked(lantern: Plan, on_lantern: OnPiece, order: str) -> None:
    given = SchemeIn(stand_in="ball", colours=["#a81c1c"], order=order)  # type: ignore[arg-type]
    out = scheme(given, lantern, on_lantern, shelf_given(PAINTS))
    assert out.delta_e < 9
    assert out.chroma_kept is not None
    assert out.chroma_kept > 0.65
    assert out.steps[0].task == "prime"
    assert out.steps[-1].task == "matt"
    assert out.delta_e == pytest.approx(
        delta_e(linear_of_hex(out.lands.middle), linear_of_hex("#a81c1c")), abs=0.6
    )


def test_a_gradient_is_looked_at_at_its_ends(lantern: Plan, on_lantern: OnPiece) -> None:
    given = SchemeIn(stand_in="ball", colours=["#3a2a18", "#c9ab6a"], gradient=True)
    out = scheme(given, lantern, on_lantern, shelf_given(PAINTS))
    shade, light = (linear_of_hex(c) for c in (out.lands.shade, out.lands.light))
    assert delta_e(shade, linear_of_hex("#3a2a18")) < 16
    assert delta_e(light, linear_of_hex("#c9ab6a")) < 12


def test_lights_without_chroma_are_called_chalky(lantern: Plan, on_lantern: OnPiece) -> None:
    plan = lantern.model_copy(update={"coats": lantern.coats[:3]})  # greys and white
    red = linear_of_hex("#a81c1c")
    told = landing(plan, on_lantern, all_over(red), None)
    assert "the lights go chalky" in told.words
    assert told.light_chroma_kept is not None
    assert told.light_chroma_kept < 0.3


def test_a_scheme_says_what_it_needs() -> None:
    with pytest.raises(ValueError, match="either mesh"):
        SchemeIn(colours=["#a81c1c"])
    with pytest.raises(ValueError, match="height_mm is missing"):
        SchemeIn(mesh="a.stl", colours=["#a81c1c"])
