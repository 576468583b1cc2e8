"""What plans do on a piece, kept step by step: everything a film depends on must change it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from haze.core.plan.coat import Aim, HandStep
from haze.core.plan.document import Plan
from haze.core.plan.mix import Mix
from haze.core.plan.piece import BlockedSector, Room
from haze.service.bench import Bench
from haze.service.piece.onpiece import OnPiece
from helpers import ended, with_spray, with_station

LAST = -1


@pytest.fixture
def plan(lantern: Plan) -> Plan:
    """Four coats on a lantern; the last one is what is changed."""
    return lantern


@pytest.fixture
def on(on_lantern: OnPiece) -> OnPiece:
    return on_lantern


def with_step(plan: Plan, **change: object) -> Plan:
    changed = plan.model_copy(deep=True)
    changed.coats[LAST] = changed.coats[LAST].model_copy(update=change)
    return changed


def aimed(plan: Plan, **aim: object) -> Plan:
    given = {"field": "edges", "passes": 3} | aim
    return with_step(plan, stations=[], aim=Aim.model_validate(given))


def by_hand(plan: Plan, **change: object) -> Plan:
    changed = plan.model_copy(deep=True)
    paint = changed.coats[1].paint
    given = {"id": "hand", "name": "Dry", "role": "dry_brush", "paint": paint, "strength": 0.5}
    changed.coats[LAST] = HandStep.model_validate(given | change)
    return changed


def masked(plan: Plan, part: str) -> Plan:
    changed = plan.model_copy(deep=True)
    mask = HandStep(id="mask", name="Mask", role="mask_on", part=part)
    changed.coats.insert(len(changed.coats) - 1, mask)
    return changed


def other_paint(plan: Plan, **change: object) -> Plan:
    paint = plan.coats[LAST].paint
    assert paint is not None
    return with_step(plan, paint=paint.model_copy(update=change))


def other_piece(plan: Plan, **change: object) -> Plan:
    return plan.model_copy(update={"piece": plan.piece.model_copy(update=change)})


SPRAYED: dict[str, Callable[[Plan], Plan]] = {
    "azimuth": lambda p: with_station(p, LAST, azimuth_deg=77.0),
    "elevation": lambda p: with_station(p, LAST, elevation_deg=7.0),
    "sweep": lambda p: with_station(p, LAST, spread_deg=55.0),
    "passes of a station": lambda p: with_station(p, LAST, passes=11),
    "thinner parts": lambda p: with_spray(p, LAST, thinner_parts=5.0),
    "trigger": lambda p: with_spray(p, LAST, trigger=0.9),
    "pressure": lambda p: with_spray(p, LAST, pressure_psi=33.0),
    "distance": lambda p: with_spray(p, LAST, distance_mm=33.0),
    "speed": lambda p: with_spray(p, LAST, speed_mm_s=33.0),
    "needle": lambda p: p.model_copy(
        update={"airbrush": p.airbrush.model_copy(update={"needle_mm": 0.5})}
    ),
    "kind of paint": lambda p: other_paint(p, kind="ink"),
    "task that runs into recesses": lambda p: with_step(p, task="wash"),
    "switched off": lambda p: with_step(p, off=True),
    "aimed": lambda p: aimed(p),
    "mask": lambda p: masked(p, "part-1"),
    "room": lambda p: p.model_copy(update={"room": Room(temperature_c=33, humidity_pct=20)}),
}
AIMED: dict[str, Callable[[Plan], Plan]] = {
    "field": lambda p: aimed(p, field="recesses"),
    "passes": lambda p: aimed(p, passes=4),
    "reversed": lambda p: aimed(p, reversed=True),
    "part": lambda p: aimed(p, field="part", part="part-2"),
    "distance": lambda p: with_spray(aimed(p), LAST, distance_mm=22.0),
    "height": lambda p: other_piece(aimed(p), height_mm=80.0),
    "blocked sky": lambda p: other_piece(
        aimed(p),
        blocked=[
            BlockedSector(id="b", name="Above", azimuth_deg=0, elevation_deg=90, half_angle_deg=80)
        ],
    ),
}
HAND: dict[str, Callable[[Plan], Plan]] = {
    "role": lambda p: by_hand(p, role="chips"),
    "strength": lambda p: by_hand(p, strength=0.9),
    "part": lambda p: by_hand(p, part="part-2"),
    "zone": lambda p: by_hand(p, aim={"field": "ramp", "start": (0, 0, 0), "end": (0, 0, 30)}),
    "wash": lambda p: by_hand(p, role="wash"),
}


def last_film(on: OnPiece, plan: Plan) -> np.ndarray:
    return on.layers(plan, len(plan.coats))[-1].film_um


@pytest.mark.parametrize(
    ("begun", "change"),
    [
        *(pytest.param(lambda p: p, f, id=f"sprayed: {n}") for n, f in SPRAYED.items()),
        *(pytest.param(aimed, f, id=f"aimed: {n}") for n, f in AIMED.items()),
        *(pytest.param(by_hand, f, id=f"by hand: {n}") for n, f in HAND.items()),
    ],
)
def test_whatever_a_film_depends_on_changes_it_and_a_fresh_bench_agrees(
    begun: Callable[[Plan], Plan], change: Callable[[Plan], Plan], plan: Plan, on: OnPiece
) -> None:
    before, after = begun(plan), change(plan)
    here = last_film(on, before)
    there = last_film(on, after)
    if before.room != after.room:
        # a room changes waits and specks, not what lands: the outcome must follow all the same
        outs = [on.outcome(p, p.sprayed[LAST]) for p in (before, after)]
        assert float(outs[0].touch_dry_still_s) != float(outs[1].touch_dry_still_s)
    else:
        assert not np.array_equal(here, there)
    assert np.array_equal(there, last_film(OnPiece(on.piece), after))
    assert np.array_equal(here, last_film(on, before)), "the way back finds what was there"


def test_colours_of_paints_do_not_move_films(plan: Plan, on: OnPiece) -> None:
    films = [layer.film_um for layer in on.layers(plan, len(plan.coats))]
    other = plan.model_copy(deep=True)
    paint = other.coats[1].paint
    assert paint is not None
    red = Mix.of((paint.model_copy(update={"masstone": "#a8322c"}), 1))
    other.coats[1] = (
        other.sprayed[1].mixed_as(red).model_copy(update={"name": "Other", "note": "x"})
    )
    again = on.layers(other, len(other.coats))
    assert all(a is b.film_um for a, b in zip(films, again, strict=True))
    assert not np.array_equal(again[1].after.inside, on.layers(plan, 4)[1].after.inside)


def test_what_lies_below_a_change_is_not_laid_again(plan: Plan, on: OnPiece) -> None:
    first = on.layers(plan, 4)
    moved = on.layers(with_station(plan, 2, azimuth_deg=99.0), 4)
    assert [a is b for a, b in zip(first, moved, strict=True)] == [True, True, False, False]
    bare = other_piece(plan, surface="#102030")
    assert on.layers(bare, 4)[0] is not moved[0]
    assert on.below(bare, 0).inside[:, 0] != pytest.approx(on.below(plan, 0).inside[:, 0])


def test_fresh_rays_take_the_place_of_the_table(club: Bench, plan: Plan) -> None:
    on = OnPiece(club.on(plan).piece)
    coarse = on.layers(plan, 4)[1]
    (wanted, *_) = on.deposits.coarse(plan)
    on.deposits.refresh(on.deposits.coarse(plan))
    assert on.deposits.coarse(plan) == []
    assert on.deposits.is_fresh(wanted.station)
    fine = on.layers(plan, 4)[1]
    assert fine.laid != coarse.laid
    gap = np.abs(fine.film_um - coarse.film_um)
    assert 0 < float(gap.mean()) < 0.1 * float(coarse.film_um.max())


def test_masks_keep_paint_off_their_part(plan: Plan, on: OnPiece) -> None:
    covered = masked(plan, "part-1")
    films = on.layers(covered, len(covered.coats))
    on_part = on.piece.part == 0
    assert films[-1].film_um[on_part].max() == 0
    assert films[-1].film_um[~on_part].max() > 0.5
    assert films[-2].film_um.max() == 0


def test_many_threads_see_the_same_films(plan: Plan, on: OnPiece) -> None:
    from concurrent.futures import ThreadPoolExecutor

    fresh = OnPiece(on.piece)
    plans = [with_station(plan, 1, azimuth_deg=float(a)) for a in (10, 20, 30, 40)] * 4
    alone = {p.model_dump_json(): last_film(OnPiece(on.piece), p) for p in plans[:4]}
    with ThreadPoolExecutor(8) as pool:
        found = list(pool.map(lambda p: (p.model_dump_json(), last_film(fresh, p)), plans))
    for key, film in found:
        assert np.array_equal(film, alone[key])


def test_stations_to_choose_from_follow_lights_and_blocked_sky(plan: Plan, on: OnPiece) -> None:
    atoms = on.atoms(plan)
    assert on.atoms(plan) is atoms
    assert on.has_atoms(plan)
    key = plan.key_light.model_copy(update={"azimuth_deg": -88.0})
    lit = plan.model_copy(update={"lights": [key]})
    assert not on.has_atoms(lit)
    assert key.station in on.atoms(lit).where
    wall = [BlockedSector(id="w", name="Wall", azimuth_deg=-88, elevation_deg=45)]
    benched = other_piece(lit, blocked=wall)
    assert key.station not in on.atoms(benched).where
    dark = [
        BlockedSector(id=i, name="All", elevation_deg=e, half_angle_deg=120)
        for i, e in (("u", 90), ("d", -90))
    ]
    assert on.has_atoms(other_piece(plan, blocked=dark)), "there are none to collect"


def test_smoothing_ends_in_a_job_and_collects_the_stations(club: Bench, plan: Plan) -> None:
    moved = with_station(plan, 1, azimuth_deg=-66.0)
    on = club.on(moved)
    job = club.smooth(moved)
    assert job is not None
    assert ended(club.jobs, job).state == "done"
    assert on.deposits.coarse(moved) == []
    assert club.smooth(moved) is None
