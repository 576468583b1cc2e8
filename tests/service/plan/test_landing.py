"""Where the colours of a plan land on a piece, and whole schemes for programs."""

from __future__ import annotations

import pytest

from haze.core.film.difference import delta_e
from haze.core.film.srgb import linear_of_hex
from haze.core.plan.document import Plan
from haze.service.piece.onpiece import OnPiece
from haze.service.plan.landing import best_mix, landing
from haze.service.plan.places import places_of
from haze.service.plan.scheme import PaintGiven, SchemeIn, scheme, shelf_given

PAINTS = [
    PaintGiven(name=name, masstone=colour, opacity=opacity)  # type: ignore[arg-type]
    for name, colour, opacity in (
        ("White", "#f3f2ec", "opaque"),
        ("Black", "#17181a", "opaque"),
        ("Grey", "#70757a", "opaque"),
        ("Red", "#a81c1c", "semi_opaque"),
        ("Orange", "#d86a1c", "semi_opaque"),
        ("Green", "#2f7a3a", "opaque"),
        ("Sand", "#c9ab6a", "opaque"),
        ("Red glass", "#b0261e", "transparent"),
        ("Brown glass", "#5a3a20", "transparent"),
    )
]


def test_a_plan_of_one_colour_lands_on_it(lantern: Plan, on_lantern: OnPiece) -> None:
    plan = lantern.model_copy(update={"coats": lantern.coats[:1]})
    ground = lantern.coats[0]
    assert ground.kind == "spray"
    own, stock = linear_of_hex(ground.paint.masstone), shelf_given(PAINTS).stock
    told = landing(plan, on_lantern, own, best_mix(own, stock))
    assert told.delta_e < 3
    assert told.middle_spread < 3
    assert told.words.startswith("The half light ends ΔE ")
    cyan = linear_of_hex("#12e0ff")
    far = landing(plan, on_lantern, cyan, best_mix(cyan, stock))
    assert far.delta_e > 20
    assert far.best_delta_e > 6
    assert any("missing" in note for note in far.notes)


def test_places_are_ordered_by_light(lantern: Plan, on_lantern: OnPiece) -> None:
    places = places_of(lantern, on_lantern)
    lit = places.sweeps[3].film
    assert lit[-1] > lit[1] >= lit[0]
    # a wash lies thinner where the piece is open
    assert places.wash.min() < 1.0
    assert len(places.sweeps) == 8


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


def test_a_scheme_says_what_it_needs() -> None:
    with pytest.raises(ValueError, match="either mesh"):
        SchemeIn(colours=["#a81c1c"])
    with pytest.raises(ValueError, match="height_mm is missing"):
        SchemeIn(mesh="a.stl", colours=["#a81c1c"])
