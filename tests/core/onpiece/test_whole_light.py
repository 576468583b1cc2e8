"""All light coats at once: against hand-worked films, brute force and the true optimum."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from haze.core.errors import CancelledError
from haze.core.film.described import Described, optics_of
from haze.core.film.paint import PaintOptics
from haze.core.film.skin import bare_skin, coated, seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.light.stations import Station
from haze.core.onpiece.stack import Laying, Stack
from haze.core.onpiece.wanted import nearness, off_reasons, place_weights, wish_of, within_words
from haze.core.onpiece.whole_light import (
    MOST_ROUNDS,
    ROUND_COST,
    Fit,
    LightCoat,
    coat_by_coat,
    slope,
    solve,
    state_of,
    unsteady,
)

PLACES = 60


def paint(hex_: str, opacity: str = "opaque") -> PaintOptics:
    return optics_of(Described(masstone=hex_, opacity=opacity, finish="matt"))  # type: ignore[call-arg, arg-type]


GREY, WHITE = paint("#70757a"), paint("#f2f1ec", "semi_opaque")
AMBER = paint("#b8862b", "transparent")


def flat(um: float) -> np.ndarray:
    return np.full(PLACES, um, dtype=np.float32)


def stack(veil_um: float = 0.0) -> Stack:
    return Stack(
        bare_skin("#17181a", PLACES),
        [
            Laying(GREY, None, None),
            Laying(WHITE, None, None),
            Laying(AMBER, None, flat(veil_um)),
        ],
    )


def bumps() -> tuple[list[Station], np.ndarray]:
    """Stations along a line, each landing most where it stands."""
    x = np.linspace(0, 1, PLACES)
    at = np.linspace(0, 1, 9)
    lit = np.exp(-0.5 * ((x[None, :] - at[:, None]) / 0.2) ** 2).astype(np.float32)
    return [Station(float(a * 180), 20.0, 8.0) for a in at], lit


def fit(wanted: np.ndarray, *, veil_um: float = 0.0, stations: int = 2) -> Fit:
    where, lit = bumps()
    return Fit(
        stack=stack(veil_um),
        coats=[LightCoat(1.2, 0.0), LightCoat(0.8, 0.0)],
        where=where,
        lit=lit,
        openness=flat(1.0),
        wanted=wanted.astype(np.float32),
        weight=flat(1.0),
        stations=stations,
    )


# the stack --------------------------------------------------------------------------------------


def test_a_stack_is_the_coats_one_over_the_other() -> None:
    films = [flat(3.0), flat(2.0)]
    by_hand = bare_skin("#17181a", PLACES)
    for optics, um in ((GREY, 3.0), (WHITE, 2.0), (AMBER, 1.5)):
        by_hand = coated(by_hand, optics, flat(um))
    one = stack(1.5)
    assert one.lightness(films) == pytest.approx(lightness_of_rgb(seen(by_hand)), abs=1e-3)
    # what is kept below an unchanged coat gives the same as laying it anew
    other = [films[0], flat(6.0)]
    assert np.array_equal(one.lightness(other), stack(1.5).lightness(other))
    changed = [flat(0.5), other[1]]
    assert np.array_equal(one.lightness(changed), stack(1.5).lightness(changed))


# the wish ---------------------------------------------------------------------------------------


def test_the_wish_runs_in_luminance_between_what_the_plan_can_do() -> None:
    one = stack()
    value = np.linspace(0, 1, PLACES).astype(np.float32)
    wish = wish_of(one, value)
    assert wish.lightness[0] == pytest.approx(wish.dark[0], abs=0.01)
    assert wish.lightness[-1] == pytest.approx(wish.light[-1], abs=0.01)
    # half the light is half the luminance, which is three quarters of the way to white in L*
    half = wish.lightness[PLACES // 2]
    assert half > 0.5 * (wish.dark[0] + wish.light[0]) + 5
    assert wish.dark == pytest.approx(one.lightness(one.none()))


def test_a_veil_above_lowers_the_light_end_of_the_wish() -> None:
    value = flat(1.0)
    assert wish_of(stack(4.0), value).light[0] < wish_of(stack(), value).light[0] - 5


def test_places_count_by_side_and_not_where_something_else_decides() -> None:
    n = 6
    yes, no = np.ones(n, dtype=bool), np.zeros(n, dtype=bool)
    plain = {
        "show": yes.copy(),
        "reached": yes.copy(),
        "openness": np.full(n, 0.8, np.float32),
        "glow": np.zeros(n, np.float32),
        "other_um": np.zeros(n, np.float32),
    }
    plain["show"][1] = False
    plain["reached"][2] = False
    plain["openness"][3] = 0.2
    plain["glow"][4] = 0.3
    plain["other_um"][5] = 2.0
    assert place_weights(**plain).tolist() == [3, 1, 0, 0, 0, 0]  # type: ignore[arg-type]
    assert not place_weights(**(plain | {"reached": no})).any()  # type: ignore[arg-type]


def test_nearness_counts_area_and_sides() -> None:
    off = np.array([0.0, -20.0, 4.0, 9.0])
    near = nearness(off, weight=np.array([3, 3, 1, 0]), area=np.array([1.0, 1.0, 2.0, 50.0]))
    assert near.mean == pytest.approx((0 + 20 + 8) / 4)
    assert near.show_share == pytest.approx(0.5)
    assert near.share == pytest.approx(3 / 4)
    assert within_words(near).startswith("Within 8 L* of the light you drew on 50% of the front")


def test_the_step_that_costs_most_is_named() -> None:
    off = np.array([-20.0, -15.0, 0.0, 12.0])
    weight = np.ones(4)
    veil = ("Lamp Amber", np.array([12.0, 12.0, 5.0, 1.0]))
    rim = ("Rim", np.array([0.0, 0.0, 0.0, -6.0]))
    dark, light = off_reasons(off, weight=weight, without=[veil, rim])
    assert dark == "Where it is too dark, Lamp Amber above costs 12 L*."
    assert light == "Where it is too light, Rim above adds 6 L*."
    assert off_reasons(np.zeros(4), weight=weight, without=[veil]) == (None, None)


# the solver -------------------------------------------------------------------------------------


def test_slope_is_what_more_film_does() -> None:
    one = fit(flat(50.0))
    state = state_of(one, [{4: 2.0}, {4: 1.0}])
    rising = slope(one, state, 1)
    thicker = [state.films[0], state.films[1] + np.float32(0.5)]
    assert rising == pytest.approx(
        2 * (one.stack.lightness(thicker) - one.stack.lightness(state.films)), abs=1e-3
    )


def test_what_stations_painted_is_found_again() -> None:
    truth = fit(flat(0.0))
    made = state_of(truth, [{2: 3.0}, {6: 5.0}])
    wanted = truth.stack.lightness(made.films)
    asked = fit(wanted)
    found = solve(asked, [coat_by_coat(asked)])
    assert found.cost < 2.0
    assert np.mean(np.abs(found.off) <= 8) > 0.98


def test_sides_that_are_missing_are_found_from_a_poor_start() -> None:
    truth = fit(flat(0.0))
    wanted = truth.stack.lightness(state_of(truth, [{1: 4.0, 7: 4.0}, {4: 6.0}]).films)
    asked = fit(wanted)
    found = solve(asked, [state_of(asked, [{0: 1.0}, {0: 1.0}])])
    assert sum(len(rounds) for rounds in found.rounds) >= 3
    assert found.cost < 4.0


@pytest.mark.parametrize("veil_um", [0.0, 3.0])
def test_together_is_never_worse_than_coat_by_coat(veil_um: float) -> None:
    value = np.clip(np.linspace(-0.2, 1.1, PLACES), 0, 1).astype(np.float32)
    wanted = wish_of(stack(veil_um), value).lightness
    one = fit(wanted, veil_um=veil_um)
    start = coat_by_coat(one)
    found = solve(one, [start])
    assert found.cost < start.cost
    assert found.cost < 0.5 * state_of(one, [{}, {}]).cost


def test_rounds_are_whole_few_and_every_coat_keeps_one() -> None:
    one = fit(flat(90.0))
    found = solve(one, [coat_by_coat(one)])
    for rounds in found.rounds:
        assert 1 <= len(rounds) <= 2
        assert all(n == int(n) >= 1 for n in rounds.values())
        assert sum(rounds.values()) <= MOST_ROUNDS
    dark = fit(flat(8.0))
    assert [sum(r.values()) for r in solve(dark, [coat_by_coat(dark)]).rounds] == [1, 1]


def test_no_single_change_of_whole_rounds_is_better() -> None:
    value = np.linspace(0, 1, PLACES).astype(np.float32) ** 2
    one = fit(wish_of(stack(), value).lightness, stations=1)
    found = solve(one, [coat_by_coat(one)])
    best = min(
        (
            state_of(one, [{a: float(n)}, {b: float(m)}])
            for a, b in itertools.product(range(9), repeat=2)
            for n, m in itertools.product((1, 2, 4, 7, 11, 16), repeat=2)
        ),
        key=lambda s: s.total,
    )
    assert found.total <= best.total * 1.1 + ROUND_COST


def test_it_can_be_stopped_and_is_the_same_every_time() -> None:
    one = fit(flat(60.0))
    with pytest.raises(CancelledError):
        solve(one, [coat_by_coat(one)], progress=lambda _: False)
    first, again = (solve(one, [coat_by_coat(one)]) for _ in "ab")
    assert first.rounds == again.rounds


def test_an_unsteady_hand_costs_and_its_band_holds_the_steady_share_or_lies_below() -> None:
    where, lit = bumps()
    value = np.linspace(0, 1, PLACES).astype(np.float32)
    one = fit(wish_of(stack(), value).lightness)
    found = solve(one, [coat_by_coat(one)])

    def landed(station: Station) -> np.ndarray:
        near = min(range(9), key=lambda i: abs(where[i].azimuth_deg - station.azimuth_deg % 360))
        return np.asarray(lit[near])

    low, high = unsteady(one, found, landed, lambda off: float(np.mean(np.abs(off) <= 8)))
    assert 0 <= low <= high <= 1
    assert low < float(np.mean(np.abs(found.off) <= 8)) + 1e-9
