"""Films from a plan's coats, and the values they depend on."""

from __future__ import annotations

from dataclasses import fields, replace

import numpy as np
import pytest

from haze.core.light.stations import Station, deposit
from haze.core.onpiece.aiming import MaskAt
from haze.core.onpiece.painting import (
    HandFilm,
    SprayedFilm,
    Spraying,
    Through,
    landed_passes,
    mist_um,
    sprayed_film_um,
    under_edge,
)
from haze.core.plan.masks import MaskKind
from haze.core.plan.piece import Room
from haze.core.spray.calibrate import Belief
from helpers import coat, plan

ONE, TWO = Station(20, 40, 10), Station(200, -10, 30)


def spraying() -> Spraying:
    p = plan(coat())
    return Spraying.of(p, p.sprayed[0])


def test_two_stations_add(ball_table: np.ndarray) -> None:
    deposits = [deposit(ball_table, s) for s in (ONE, TWO)]
    both = landed_passes([2, 3], deposits)
    assert both == pytest.approx(2 * deposits[0] + 3 * deposits[1], abs=1e-5)


def test_film_is_passes_times_deposit_plus_mist(ball_table: np.ndarray) -> None:
    out = spraying().outcome()
    landed = deposit(ball_table, ONE)
    openness = np.full(ball_table.shape[1], 0.7, dtype=np.float32)
    film = sprayed_film_um([2], outcome=out, deposits=[landed], openness=openness)
    expected = 2 * float(out.dry_film_um) * landed + 0.7 * mist_um(out, passes=2)
    assert film == pytest.approx(expected, rel=1e-4)
    some = np.linspace(0, 1, len(film)).astype(np.float32)
    aimed = sprayed_film_um([2], outcome=out, deposits=[landed], openness=openness, mist_at=some)
    assert film - aimed == pytest.approx((1 - some) * 0.7 * mist_um(out, passes=2), abs=1e-4)
    through = Through(np.full_like(some, 0.25), np.full_like(some, 0.5))
    masked = sprayed_film_um(
        [2], outcome=out, deposits=[landed], openness=openness, mist_at=some, through=through
    )
    direct = 2 * float(out.dry_film_um) * landed
    assert masked == pytest.approx(0.25 * direct + 0.5 * (aimed - direct), abs=1e-4)


def test_an_eighth_of_the_film_gets_as_far_under_an_edge_as_its_kind_says() -> None:
    depth = np.array([0.0, 0.5, 1.0, 2.0, 3.1], dtype=np.float32)
    putty = under_edge(depth, kind="putty")
    assert putty == pytest.approx([1.0, np.exp(-0.5), np.exp(-2.0), np.exp(-8.0), 0.0], abs=1e-6)
    # the softer the mask's edge, the farther in
    at = np.array([0.6], dtype=np.float32)
    kinds: list[MaskKind] = ["liquid", "tape", "putty", "foam", "card"]
    under = [float(under_edge(at, kind=kind)[0]) for kind in kinds]
    assert under == sorted(under)
    assert under[1] < 0.01 < 0.4 < under[2]


def test_mist_by_hand() -> None:
    # what misses of each pass, (1 − TE)/TE, three tenths of it over a halo of 3 × 3 footprints
    out = spraying().outcome()
    te, dry = float(out.transfer), float(out.dry_film_um)
    assert mist_um(out, passes=4) == pytest.approx(4 * dry * (1 - te) / te * 0.3 / 9)


CHANGED = {
    "paint": "ink",
    "thinner": "water",
    "needle_mm": 0.5,
    "room": Room(temperature_c=31, humidity_pct=22),
    "most_passes": 9,
    "contrast": 0.9,
    "surface": "gloss",
    "belief": Belief(np.log([[0.5, 1.2, 1.5, 1.1, 1.4]]), np.ones(1), 2),
}


def test_every_part_of_a_setting_counts_for_its_outcome() -> None:
    here = spraying()
    knobs = {
        "thinner_parts": 2.0,
        "flow_aid_parts": 0.4,
        "retarder_parts": 0.2,
        "trigger": 0.6,
        "pressure_psi": 30.0,
        "distance_mm": 40.0,
        "speed_mm_s": 60.0,
        "rest_s": 60.0,
    }
    others = [replace(here, **{name: value}) for name, value in CHANGED.items()]
    others += [
        replace(here, spray=here.spray.model_copy(update={name: value}))
        for name, value in knobs.items()
    ]
    assert set(CHANGED) == {f.name for f in fields(Spraying)} - {"spray"}
    assert set(knobs) == set(type(here.spray).model_fields) - {"blown"}
    own = here.outcome()
    for other in others:
        made = other.outcome()
        assert any(
            float(getattr(made, f.name)) != float(getattr(own, f.name)) for f in fields(made)
        ), other
    # air dries between passes only where there is a rest
    resting = replace(
        here, spray=here.spray.model_copy(update={"rest_s": 30.0, "trigger": 0.9}), most_passes=6
    )
    blown = replace(resting, spray=resting.spray.model_copy(update={"blown": True}))
    assert float(blown.outcome().spiders) != float(resting.outcome().spiders)


MASK = MaskAt("tape", 1, None, 32.0)


def test_values_are_equal_by_content_and_can_be_keys() -> None:
    assert spraying() == spraying()
    assert len({spraying(), spraying(), replace(spraying(), needle_mm=0.2)}) == 2
    film = SprayedFilm(spraying(), ((ONE, 2),), (False,), None, False, (MASK,))
    assert {film: "held"}[replace(film)] == "held"
    for change in (
        {"swept": ((ONE, 3),)},
        {"fresh": (True,)},
        {"washes": True},
        {"masks": ()},
        {"masks": (replace(MASK, kind="putty"),)},
    ):
        assert replace(film, **change) != film
    assert film.passes == (2,)
    assert film.stations == (ONE,)


def test_a_step_that_leaves_nothing_depends_on_nothing() -> None:
    from haze.core.plan.coat import HandStep

    mask = HandStep(id="m", name="Mask", role="mask_on", part="gone")
    assert HandFilm.of(mask, plan(coat()), []) == HandFilm("mask_on", 0.0, None, None)
