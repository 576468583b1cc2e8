"""What trials teach, against a brute force of the same model and on painters made up."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.arrays import Array
from haze.core.spray.calibrate import (
    ARRAYS,
    CLASSES,
    LAPSE,
    NAMES,
    WORTH_SPRAYING,
    Belief,
    Look,
    Measured,
    PaintThrough,
    Trial,
    before_trials,
    believe,
    chances,
    latents_of,
    message,
    odd_ones,
    tables,
    teaches_most,
)
from haze.core.spray.model import dry_film_um, spray
from haze.core.spray.setting import Setting, make_setting
from haze.core.spray.unsure import NOMINAL, SPREAD, Latents


def setting(**more: float | Array) -> Setting:
    given: dict[str, float | Array] = {
        "thinner_parts": 1.0,
        "needle_mm": 0.3,
        "trigger": 0.4,
        "pressure_psi": 18.0,
        "distance_mm": 65.0,
        "speed_mm_s": 80.0,
        "passes": 2.0,
    }
    return make_setting("airbrush_acrylic", thinner="acrylic_thinner", **(given | more))  # type: ignore[arg-type]


EDGE = setting(distance_mm=50.0, thinner_parts=1.25)  # about as likely clean as not


def trials(*looks: Look, of: Setting = EDGE) -> list[Trial]:
    return [Trial(of, look) for look in looks]


def clean(belief: Belief, at: Setting = EDGE) -> float:
    return float(belief.looks(at)[0])


def test_looks_are_shared_out_by_the_odds_of_the_faults() -> None:
    out, each = spray(EDGE), chances(EDGE, NOMINAL)
    risks = np.array([float(getattr(out, n)) for n in ("spiders", "specks", "dust", "no_flow")])
    assert each.sum() == pytest.approx(1.0)
    assert each[0] == pytest.approx(np.prod(1 - risks))
    odds = risks / (1 - risks)
    assert each[1] / each[2] == pytest.approx(odds[0] / odds[1])


def test_without_trials_the_tables_are_believed() -> None:
    belief = believe([], tables())
    assert belief.trials == 0
    assert belief.gaussian.mean == pytest.approx(np.zeros(len(NAMES)), abs=0.02)
    spread = np.sqrt(np.diag(belief.gaussian.cov))
    assert spread == pytest.approx(list(SPREAD.values()), rel=0.05)
    assert belief.draws.viscosity.shape == (64,)


@pytest.mark.parametrize("looks", [("spiders",), ("clean", "clean"), ("specks", "clean", "dust")])
def test_the_belief_is_that_of_a_brute_force(looks: tuple[Look, ...]) -> None:
    told = trials(*looks)
    rng = np.random.default_rng(2)
    logs = rng.normal(0, list(SPREAD.values()), (60_000, len(NAMES)))
    each = (1 - LAPSE) * chances(EDGE, latents_of(logs.T)) + LAPSE / len(CLASSES)
    weights = np.prod([each[t.seen] for t in told], axis=0)
    mean = weights @ logs / weights.sum()
    found = believe(told, tables())
    assert found.gaussian.mean == pytest.approx(mean, abs=0.04)
    exact = weights @ chances(EDGE, latents_of(logs.T))[0] / weights.sum()
    assert clean(found) == pytest.approx(exact, abs=0.04)


def test_each_look_moves_the_belief_its_way_and_more_trials_make_it_surer() -> None:
    none = believe([], tables())
    assert clean(believe(trials("clean"), tables())) > clean(none)
    assert clean(believe(trials("spiders"), tables())) < clean(none)
    three = believe(trials("clean", "clean", "clean"), tables())
    assert clean(three) > clean(believe(trials("clean"), tables()))
    assert np.linalg.det(three.gaussian.cov) < np.linalg.det(none.gaussian.cov)
    pooled, spiders = (believe(trials(look), tables()) for look in ("pooled", "spiders"))
    assert clean(pooled) == clean(spiders)


def test_one_wrong_log_is_survived_and_pointed_out() -> None:
    safe = setting(distance_mm=75.0, thinner_parts=0.75)
    right = trials("clean", "clean", "clean", "clean", "clean", of=safe)
    wrong = [*right[:3], Trial(safe, "dust"), *right[3:]]
    before, after = believe(right, tables()), believe(wrong, tables())
    assert clean(after, safe) > 0.75
    assert odd_ones(wrong, after) == [3]
    assert odd_ones(right, before) == []
    assert odd_ones(right[:1], believe(right[:1], tables())) == []


ONE = PaintThrough("airbrush_acrylic", "slate", "all-round", 0.3)
TOLD = [
    Trial(setting(thinner_parts=parts, pressure_psi=psi), "spiders")
    for parts, psi in ((0.75, 18.0), (1.0, 14.0), (1.0, 20.0), (0.75, 22.0))
]


def test_a_new_bottle_of_a_kind_and_another_needle_begin_better_than_the_tables() -> None:
    said = {ONE: message(TOLD)}
    own = believe(TOLD, tables()).gaussian.mean
    bottle = before_trials(PaintThrough("airbrush_acrylic", "dun", "other", 0.4), said)
    needle = before_trials(PaintThrough("white", "tern", "all-round", 0.2), said)
    stranger = before_trials(PaintThrough("white", "tern", "other", 0.2), said)
    at = {name: place for place, name in enumerate(NAMES)}
    for name in ("viscosity", "creep"):
        shared = bottle.mean[at[name]] / own[at[name]]
        assert 0.2 < shared < 0.8
        assert needle.mean[at[name]] == pytest.approx(0.0, abs=1e-9)
    assert needle.mean[at["flow"]] / own[at["flow"]] == pytest.approx(0.5, abs=0.25)
    assert bottle.mean[at["flow"]] == pytest.approx(0.0, abs=1e-9)
    assert stranger.mean == pytest.approx(np.zeros(len(NAMES)), abs=1e-9)
    assert np.diag(stranger.cov) == pytest.approx(np.square(list(SPREAD.values())))
    assert np.all(np.diag(bottle.cov) <= np.diag(stranger.cov) + 1e-12)


def test_a_pair_does_not_hear_its_own_trials_twice() -> None:
    said = {ONE: message(TOLD)}
    assert before_trials(ONE, said).mean == pytest.approx(np.zeros(len(NAMES)), abs=1e-12)


def test_the_trial_that_teaches_most_is_worth_spraying_and_open() -> None:
    belief = believe([], tables())
    sure = setting(distance_mm=70.0, thinner_parts=0.6)
    hopeless = setting(distance_mm=20.0, thinner_parts=4.0)
    candidates = setting(
        distance_mm=np.array([70.0, 20.0, 60.0]), thinner_parts=np.array([0.6, 4.0, 1.0])
    )
    assert clean(belief, sure) > 0.75
    assert clean(belief, hopeless) < 0.1
    found = teaches_most(candidates, belief)
    assert found is not None
    assert found.place == 2
    assert found.clean >= WORTH_SPRAYING
    assert 0 < found.bits < np.log2(len(CLASSES))
    assert teaches_most(hopeless.but(distance_mm=np.array([20.0, 22.0])), belief) is None


def test_beliefs_of_arrays_are_those_of_single_settings() -> None:
    belief = believe(trials("spiders"), tables())
    many = setting(distance_mm=np.array([40.0, 90.0]), pressure_psi=np.array([25.0, 15.0]))
    each = belief.looks(many)
    assert each.shape == (len(CLASSES), 2)
    for place, (mm, psi) in enumerate(((40.0, 25.0), (90.0, 15.0))):
        alone = belief.looks(setting(distance_mm=mm, pressure_psi=psi))
        assert each[:, place] == pytest.approx(alone)
    assert set(ARRAYS) >= {"distance_mm", "pressure_psi", "tooth_um"}


def test_trials_with_two_thinners_are_visibly_changed() -> None:
    water = make_setting(
        "airbrush_acrylic",
        thinner="water",
        **{n: EDGE.knob(n) for n in ("thinner_parts", "needle_mm", "trigger", "pressure_psi")},
        distance_mm=50.0,
        speed_mm_s=80.0,
        passes=2.0,
    )
    mixed = [Trial(EDGE, "clean"), Trial(water, "spiders"), Trial(EDGE, "clean")]
    swapped = [Trial(water, "clean"), Trial(EDGE, "spiders"), Trial(water, "clean")]
    one, other = believe(mixed, tables()), believe(swapped, tables())
    assert clean(one) != pytest.approx(clean(other), abs=1e-6)
    again = believe([mixed[1], mixed[0], mixed[2]], tables())
    assert again.gaussian.mean == pytest.approx(one.gaussian.mean)


@pytest.mark.parametrize("name", ["viscosity", "flow"])
def test_what_is_hidden_is_found(name: str) -> None:
    """Ten trials of one painter whose paint differs in one factor by two spreads."""
    hidden = np.zeros(len(NAMES))
    hidden[NAMES.index(name)] = 2 * SPREAD[name]
    rng = np.random.default_rng(7)
    told = []
    for parts, psi, mm in rng.uniform((0.3, 8, 35), (2.0, 28, 90), (10, 3)):
        s = setting(thinner_parts=parts, pressure_psi=psi, distance_mm=mm)
        told.append(Trial(s, CLASSES[int(np.argmax(chances(s, latents_of(hidden))))]))  # type: ignore[arg-type]
    belief = believe(told, tables())
    before = believe([], tables())
    test = setting(thinner_parts=rng.uniform(0.3, 2.5, 100), pressure_psi=rng.uniform(6, 30, 100))
    truth = chances(test, latents_of(hidden))[0]
    miss = [float(np.abs(b.looks(test)[0] - truth).mean()) for b in (belief, before)]
    assert miss[0] < miss[1]


# what a card's photo measures --------------------------------------------------------------------


def test_a_measured_width_is_believed_as_far_as_it_is_sure() -> None:
    s = setting()
    sure, unsure = (
        believe([Trial(s, "clean", Measured(width=1.3, width_unsure=u))], tables()).point.width
        for u in (0.06, 0.6)
    )
    # a normal prior of .2 and a measure of .06: nine tenths of the way
    share = 0.2**2 / (0.2**2 + 0.06**2)
    assert float(np.log(sure)) == pytest.approx(share * np.log(1.3), abs=0.05)
    assert 1.0 < float(unsure) < 1.12


def test_a_measured_film_moves_what_lets_it_through() -> None:
    s = setting()
    more = believe([Trial(s, "clean", Measured(film=1.6, film_unsure=0.15))], tables()).point
    less = believe([Trial(s, "clean", Measured(film=0.6, film_unsure=0.15))], tables()).point
    film = [float(dry_film_um(s, p) / dry_film_um(s)) for p in (less, more)]
    assert film[0] < 0.85 < 1.2 < film[1]


def test_one_mistaken_measure_does_not_drag_the_rest() -> None:
    s = setting()
    good = [Trial(s, "clean", Measured(width=1.0, width_unsure=0.06))] * 3
    wild = [*good, Trial(s, "clean", Measured(width=3.0, width_unsure=0.06))]
    assert float(believe(wild, tables()).point.width) == pytest.approx(1.0, abs=0.08)


def test_ten_measured_cards_teach_more_than_ten_presses() -> None:
    """Painters of many airbrushes: looks at settings nobody tried, foreseen by log loss."""
    rng = np.random.default_rng(6)
    asked = [
        setting(
            pressure_psi=float(rng.uniform(8, 32)),
            thinner_parts=float(rng.uniform(0.5, 4)),
            distance_mm=float(rng.uniform(30, 110)),
            trigger=float(rng.uniform(0.2, 0.6)),
        )
        for _ in range(22)
    ]
    losses: dict[bool, list[float]] = {True: [], False: []}
    for _ in range(12):
        own = Latents(*(np.asarray(np.exp(rng.normal(0, v))) for v in SPREAD.values()))
        looks = [rng.choice(5, p=chances(s, own)) for s in asked]
        for measured in (True, False):
            tried = []
            for s, look in zip(asked[:10], looks[:10], strict=True):
                film = float(dry_film_um(s, own) / dry_film_um(s) * rng.lognormal(0, 0.3))
                width = float(own.width * rng.lognormal(0, 0.08))
                m = Measured(width, 0.08, film, 0.3) if measured else None
                tried.append(Trial(s, CLASSES[look], m))  # type: ignore[arg-type]
            belief = believe(tried, tables())
            for s, look in zip(asked[10:], looks[10:], strict=True):
                losses[measured].append(-float(np.log(belief.looks(s)[look] + 1e-3)))
    assert np.mean(losses[True]) < np.mean(losses[False])
