"""Rows of layers that land on wanted colours: against enumeration, by hand and by properties."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from haze.core.errors import CancelledError
from haze.core.film.difference import lab_of, oklch_of
from haze.core.film.finish import SURFACE, inside_film, outside_film
from haze.core.film.kubelka_munk import film
from haze.core.film.layering import Goal, Later, Layering, Slot
from haze.core.film.paint import PaintOptics, paint_optics
from haze.core.film.spectra import rgb_of, spectrum_of_hex
from haze.core.film.srgb import linear_of_hex, to_hex

RED = paint_optics("#a81c1c", opacity="semi_opaque")
WHITE = paint_optics("#f2f1ec", opacity="opaque")
GREY = paint_optics("#70757a", opacity="opaque")
AMBER = paint_optics("#b8862b", opacity="transparent")
ALL = np.ones(2, dtype=bool)
NONE = np.zeros(2, dtype=bool)
WAYS = np.array([[0.0, 0.0], [2.0, 1.0], [1.0, 6.0], [9.0, 9.0]])
FREE = np.zeros(4)


def ground(hex_: str = "#17181a") -> np.ndarray:
    return np.repeat(inside_film(spectrum_of_hex(hex_), "matt")[:, None], 2, axis=1)


def goal(*hexes: str, need: float = 0.5) -> Goal:
    rgb = np.stack([linear_of_hex(h) for h in hexes])
    return Goal(rgb, np.ones(2), need * np.asarray(oklch_of(rgb))[:, 1], rgb[1])


def laid(films: list[tuple[PaintOptics, float]], hex_: str = "#17181a") -> np.ndarray:
    """By hand: one film over the other, through the single-film function."""
    inside = inside_film(spectrum_of_hex(hex_), "matt")
    for optics, um in films:
        inside = film(optics.absorb_per_um, optics.scatter_per_um, inside, um)
    return rgb_of(outside_film(inside, "matt"))


def search(slots: list[Slot], wanted: Goal, later: tuple[Later, ...] = ()) -> Layering:
    return Layering(ground(), slots, later=later, surface=SURFACE["matt"], goal=wanted)


def test_a_row_ends_as_its_films_laid_by_hand() -> None:
    slots = [Slot((RED, WHITE), WAYS, NONE, FREE), Slot((AMBER,), WAYS, ALL, FREE)]
    later = Later(GREY, np.array([0.2, 0.4]))
    row = search(slots, goal("#7a3a20", "#a05a30"), (later,)).solve()
    (paint, way), (_, veil) = row.chosen
    base = (RED, WHITE)[paint]
    for place in range(2):
        by_hand = laid(
            [
                (base, WAYS[way, place]),
                (AMBER, WAYS[veil, place]),
                (GREY, later.film_um[place]),
            ]
        )
        assert row.rgb[place] == pytest.approx(by_hand, abs=2e-3)


def test_choosing_again_lays_what_lies_below() -> None:
    # straight on the black ground a thin clear would be darker, and nearer; but white lies there
    slots = [
        Slot((WHITE,), np.array([[9.0, 9.0]]), NONE, np.zeros(1)),
        Slot((AMBER,), WAYS, ALL, FREE),
    ]
    row = search(slots, goal("#1c1a17", "#1c1a17")).solve()
    (_, (_, veil)) = row.chosen
    assert row.rgb[0] == pytest.approx(laid([(WHITE, 9.0), (AMBER, WAYS[veil, 0])]), abs=2e-3)


def test_the_row_found_is_the_best_of_all() -> None:
    slots = [
        Slot((RED, WHITE, GREY), WAYS, NONE, 0.01 * WAYS.max(axis=1)),
        Slot((AMBER, RED), WAYS, ALL, 0.01 * WAYS.max(axis=1)),
    ]
    wanted = goal("#5a2a1c", "#a8432a")
    found = search(slots, wanted)
    best = found.solve()
    every = []
    for one, two in itertools.product(itertools.product(range(3), range(4)), repeat=2):
        if two[0] > 1:
            continue
        fixed = [
            Slot((slots[0].optics[one[0]],), WAYS[[one[1]]], NONE, slots[0].effort[[one[1]]]),
            Slot((slots[1].optics[two[0]],), WAYS[[two[1]]], ALL, slots[1].effort[[two[1]]]),
        ]
        every.append(search(fixed, wanted).solve().score)
    assert best.score == pytest.approx(min(every), abs=1e-3)


def test_what_was_painted_is_found_again() -> None:
    truth = np.stack([laid([(WHITE, 2.0), (AMBER, 1.0)]), laid([(WHITE, 1.0), (AMBER, 6.0)])])
    wanted = Goal(truth, np.ones(2), np.zeros(2), truth[1])
    slots = [
        Slot((RED, WHITE), np.array([[2.0, 1.0], [9.0, 9.0]]), NONE, np.zeros(2)),
        Slot((GREY, AMBER), np.array([[1.0, 6.0], [3.0, 3.0]]), ALL, np.zeros(2)),
    ]
    row = search(slots, wanted).solve()
    assert row.chosen == ((1, 0), (1, 0))
    assert lab_of(row.rgb) == pytest.approx(lab_of(truth), abs=0.3)


def test_effort_chroma_and_order_decide_between_alike_rows() -> None:
    twice = Slot((WHITE,), np.array([[9.0, 9.0], [9.0, 9.0]]), ALL, np.array([1.0, 0.0]))
    assert search([twice], goal("#c0c0bc", "#c8c8c4")).solve().chosen == ((0, 1),)
    # a hair nearer is not worth the effort
    nearer = Slot((WHITE,), np.array([[9.0, 9.0], [9.2, 9.2]]), ALL, np.array([0.0, 1.0]))
    assert search([nearer], goal("#f2f1ec", "#f2f1ec")).solve().chosen == ((0, 0),)
    # what hardly counts is still to be lighter where the light is
    rising = Slot((WHITE,), np.array([[4.0, 1.0], [4.0, 8.0]]), ALL, np.array([0.0, 0.05]))
    light = goal("#8a8a88", "#9a9a98")
    little = Goal(light.rgb, np.array([1.0, 1e-6]), light.chroma, light.asked)
    assert search([rising], little).solve().chosen == ((0, 1),)
    # dark before light is what is wanted; the same films the other way round are not
    turned = Slot((WHITE,), np.array([[6.0, 1.0], [1.0, 6.0]]), ALL, np.zeros(2))
    assert search([turned], goal("#3c3c3e", "#a0a09c")).solve().chosen == ((0, 1),)


def test_a_place_of_several_points_ends_as_their_median() -> None:
    # three points of the shade, three of the light; a way leaves each its own film
    films = np.array([[0.5, 1.0, 6.0, 3.0, 8.0, 20.0]])
    place = np.array([0, 0, 0, 1, 1, 1])
    wanted = goal("#3c3c3e", "#a0a09c")
    made = Layering(
        np.repeat(ground()[:, :1], 6, axis=1),
        [Slot((WHITE,), films, ALL, np.zeros(1))],
        later=(),
        surface=SURFACE["matt"],
        goal=wanted,
        place=place,
    )
    ends = made.ends_of(((0, 0),))
    for n, points in enumerate((films[0, :3], films[0, 3:])):
        by_hand = np.median([laid([(WHITE, um)]) for um in points], axis=0)
        assert ends[n] == pytest.approx(by_hand, abs=2e-3)


def test_of_two_rows_with_one_median_the_evener_is_taken() -> None:
    ways = np.array([[1.0, 1.0, 1.0, 3.0, 3.0, 3.0], [1.0, 1.0, 1.0, 0.2, 3.0, 12.0]])
    made = Layering(
        np.repeat(ground()[:, :1], 6, axis=1),
        [Slot((WHITE,), ways[::-1], ALL, np.zeros(2))],
        later=(),
        surface=SURFACE["matt"],
        goal=Goal(
            np.stack([laid([(WHITE, 1.0)]), laid([(WHITE, 3.0)])]),
            np.array([1.0, 3.0]),
            np.zeros(2),
            laid([(WHITE, 3.0)]),
        ),
        place=np.array([0, 0, 0, 1, 1, 1]),
    )
    assert made.solve().chosen == ((0, 1),)


def test_films_are_those_of_each_paints_own_pass() -> None:
    slot = Slot((RED, WHITE), WAYS, ALL, FREE, np.array([[1.0] * 4, [0.5] * 4]))
    row = search([slot], goal("#70706c", "#c0c0bc")).solve()
    assert slot.film_um(1)[3] == pytest.approx([4.5, 4.5])
    (paint, way) = row.chosen[0]
    film = slot.film_um(paint)[way]
    own = (RED, WHITE)[paint]
    assert row.rgb[0] == pytest.approx(laid([(own, float(film[0]))]), abs=2e-3)


def test_splats_leave_more_of_the_ground_than_a_closed_film() -> None:
    def ends(splat: float | None) -> np.ndarray:
        each = None if splat is None else np.array([splat])
        slot = Slot((WHITE,), np.array([[1.0, 1.0]]), ALL, np.zeros(1), None, each)
        return search([slot], goal("#70706c", "#c0c0bc")).ends_of(((0, 0),))

    assert lab_of(ends(4.0))[0, 0] < lab_of(ends(None))[0, 0] - 1
    slot = Slot((WHITE, RED), WAYS, ALL, FREE, None, np.array([4.0, 4.0]))
    made = search([slot], goal("#70706c", "#c0c0bc"))
    row = made.solve()
    assert row.rgb == pytest.approx(made.ends_of(row.chosen), abs=1e-4)


def test_what_lies_below_a_foreseen_glaze_is_judged_under_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    # nothing but the first judgement decides
    monkeypatch.setattr("haze.core.film.layering.BEAM", 1)
    monkeypatch.setattr("haze.core.film.layering.REFINED", 0)
    # white is nearest under six micrometres of amber; by itself the opaque ochre is
    glazed = laid([(WHITE, 9.0), (AMBER, 6.0)])
    ochre = paint_optics(to_hex(glazed), opacity="opaque")
    truth = np.stack([glazed] * 2)
    wanted = Goal(truth, np.ones(2), np.zeros(2), truth[0])
    slots = [
        Slot((WHITE, ochre), np.array([[9.0, 9.0]]), ALL, np.zeros(1)),
        Slot((AMBER,), np.array([[3.0, 3.0], [6.0, 6.0]]), ALL, np.zeros(2)),
    ]
    rows = search(slots, wanted).rows(foreseen=(1, 0, 1))
    assert rows[0].chosen == ((0, 0), (0, 1))
    assert lab_of(rows[0].rgb) == pytest.approx(lab_of(truth), abs=0.3)
    assert [r.score for r in rows] == sorted(r.score for r in rows)


def test_rows_found_elsewhere_are_chosen_again_here() -> None:
    slots = [Slot((RED, WHITE), WAYS, ALL, FREE)]
    there = search(slots, goal("#a81c1c", "#a81c1c")).rows()
    here = search(slots, goal("#d0d0cc", "#e0e0dc"))
    assert here.best_of(there).score == pytest.approx(here.solve().score, abs=1e-6)


@settings(max_examples=15, deadline=None)
@given(
    st.lists(st.sampled_from(["#a81c1c", "#1f4fa0", "#2f7a3a", "#e0a818", "#f2f1ec"]), min_size=1),
    st.integers(0, 0xFFFFFF),
)
def test_more_to_choose_from_is_never_worse(paints: list[str], asked: int) -> None:
    optics = tuple(paint_optics(p, opacity="opaque") for p in dict.fromkeys(paints))
    wanted = goal(f"#{asked:06x}", f"#{asked:06x}")
    few = search([Slot(optics[:1], WAYS, ALL, FREE)], wanted).solve()
    more = search([Slot((*optics, GREY), WAYS, ALL, FREE)], wanted).solve()
    assert more.score <= few.score + 1e-9


def test_it_can_be_stopped() -> None:
    with pytest.raises(CancelledError):
        search([Slot((RED,), WAYS, ALL, FREE)], goal("#a81c1c", "#a81c1c")).solve(
            progress=lambda _: False
        )
