from __future__ import annotations

import itertools

import numpy as np
import pytest
import trimesh
from pydantic import ValidationError

from haze.core.light.stations import Station, deposit
from haze.core.plan.amounts import (
    CUP_REST_ML,
    TRIAL_ML,
    coat_amounts,
    pass_seconds,
    pour,
    silhouette_mm2,
)
from haze.core.plan.cautions import coat_cautions, plan_cautions
from haze.core.plan.document import Plan, ThinnerUsed
from haze.core.plan.drafts import passes_to_cover
from haze.core.plan.holding import holding_words
from haze.core.plan.painting import coat_film_um, coat_outcome, mist_um
from haze.core.plan.runsheet import RINSE_S, Sprayed, run_sheet, total_seconds
from haze.core.plan.waits import coat_waits
from helpers import coat, plan

BOX = np.asarray(trimesh.creation.box((20, 30, 60)).vertices, dtype=np.float32)


def outcome_of(c):  # type: ignore[no-untyped-def]
    p = plan(c)
    return coat_outcome(c, airbrush=p.airbrush, room=p.room)


@pytest.mark.parametrize(
    ("azimuth", "elevation", "words"),
    [
        (0, 0, "hold the show side toward you, keep it upright"),
        (40, 45, "turn the show side 40° to your right, tip the head 45° toward the airbrush"),
        (320, -20, "turn the show side 40° to your left, tip the head 20° away from the airbrush"),
        (180, 0, "turn the show side away from you, keep it upright"),
    ],
)
def test_how_to_hold_it(azimuth: float, elevation: float, words: str) -> None:
    assert holding_words(azimuth, elevation) == words


def test_from_straight_above_the_turn_no_longer_matters() -> None:
    assert holding_words(10, 90) == holding_words(200, 90)
    assert "90° toward the airbrush" in holding_words(0, 90)


def test_silhouette_of_a_box_by_hand() -> None:
    # from the show side: 20 × 60 mm, outline 160 mm; from above: 20 × 30
    assert silhouette_mm2(BOX, azimuth_deg=0, elevation_deg=0) == pytest.approx((1200, 160))
    assert silhouette_mm2(BOX, azimuth_deg=0, elevation_deg=90) == pytest.approx((600, 100))


def test_a_pass_covers_the_widened_silhouette() -> None:
    # σ = .07·100 = 7 mm: area 1200 + 14·160 + π·14² = 4055.8; strokes 17.55 mm apart: 231.1 mm
    seconds = pass_seconds(BOX, azimuth_deg=0, elevation_deg=0, distance_mm=100, speed_mm_s=50)
    assert seconds == pytest.approx(4055.8 / (np.sqrt(2 * np.pi) * 7) / 50, rel=1e-3)


def test_cup_is_poured_thinner_first_in_whole_drops() -> None:
    c = coat(thinner_parts=2.0, flow_aid_parts=0.25)
    cup = pour(c, mix_ml=1.0)
    assert [p.role for p in cup] == ["thinner", "paint", "flow_aid"]
    assert sum(p.ml for p in cup) >= 1.0 - 0.05
    drops = {p.role: p.drops for p in cup}
    assert drops["thinner"] == 2 * drops["paint"]


def test_drop_sizes_count() -> None:
    c = coat(thinner_parts=1.0)
    c.thinner = ThinnerUsed(id="t", name="big drops", kind="acrylic_thinner", drop_ul=100)
    drops = {p.role: p.drops for p in pour(c, mix_ml=2.0)}
    assert drops["paint"] == 2 * drops["thinner"]


def test_amounts_grow_with_copies_and_carry_rest_and_trial() -> None:
    c = coat()
    one, six = (
        coat_amounts(c, outcome=outcome_of(c), groups_mm=[BOX], copies=n, cup_ml=7) for n in (1, 6)
    )
    assert six.spray_ml == pytest.approx(6 * one.spray_ml)
    assert one.mix_ml == pytest.approx(one.spray_ml + CUP_REST_ML + TRIAL_ML)
    small = coat_amounts(c, outcome=outcome_of(c), groups_mm=[BOX], copies=60, cup_ml=2)
    assert small.cup_loads > 1
    assert small.cup_loads * sum(p.ml for p in small.cup) >= small.spray_ml


def test_film_is_passes_times_deposit_plus_mist(ball_table: np.ndarray) -> None:
    c = coat()
    out = outcome_of(c)
    at = c.stations[0]
    landed = deposit(
        ball_table, Station(at.azimuth_deg, at.elevation_deg, at.spread_deg, at.passes)
    )
    openness = np.ones(ball_table.shape[1], dtype=np.float32)
    film = coat_film_um(c, outcome=out, deposits=[landed], openness=openness)
    expected = 2 * float(out.dry_film_um) * landed + mist_um(out, passes=2)
    assert film == pytest.approx(expected, rel=1e-4)
    square_on = 2 * float(out.dry_film_um)
    assert film.max() == pytest.approx(square_on, rel=0.05)
    assert mist_um(out, passes=2) < 0.05 * square_on


def test_waits_follow_the_kind_of_paint() -> None:
    acrylic, ink, lacquer = (
        coat_waits(c, outcome_of(c)) for c in (coat(), coat(kind="ink"), coat(kind="lacquer"))
    )
    assert acrylic.recoat_s == pytest.approx(1.5 * acrylic.touch_dry_still_s)
    assert ink.recoat_s == pytest.approx(3 * ink.touch_dry_still_s)
    assert lacquer.recoat_s >= 600


def test_solvent_coats_call_for_a_vapour_cartridge() -> None:
    water = {c.id for c in coat_cautions(coat())}
    solvent = coat_cautions(coat(kind="lacquer"))
    assert "mist" in water
    assert "solvent" not in water
    assert solvent[0].id == "solvent"
    assert solvent[0].sign == "stop"
    high = {c.id for c in coat_cautions(coat(pressure_psi=55))}
    assert "high_pressure" in high


def test_a_plan_tells_each_caution_once_and_the_gravest_first() -> None:
    told = plan_cautions(plan(coat("a"), coat("b", kind="lacquer"), coat("c")))
    assert len({c.id for c in told}) == len(told)
    assert told[0].sign == "stop"
    assert {"mist", "skin", "air", "home", "label", "solvent"} <= {c.id for c in told}


def test_the_day_runs_in_order_and_rinses_while_it_dries() -> None:
    coats = [coat("a"), coat("b")]
    outs = [outcome_of(c) for c in coats]
    needs = {
        c.id: Sprayed(
            coat_amounts(c, outcome=o, groups_mm=[BOX], copies=2, cup_ml=7), coat_waits(c, o)
        )
        for c, o in zip(coats, outs, strict=True)
    }
    steps = run_sheet(plan(*coats, copies=2), sprayed=needs, parts={})
    hands = [s for s in steps if not s.beside]
    assert [s.kind for s in hands] == ["pour", "trial", "spray", "rinse"] * 2
    for one, two in itertools.pairwise(hands):
        assert two.start_s >= one.start_s + one.seconds - 1e-6
    dries = next(s for s in steps if s.kind == "dry")
    assert steps[steps.index(dries) + 1].start_s == dries.start_s
    second = next(s for s in steps if s.coat == "b")
    assert second.start_s == pytest.approx(dries.start_s + max(dries.seconds, RINSE_S))
    assert total_seconds(steps) >= steps[-1].start_s
    assert "2 passes" in next(s.text for s in steps if s.kind == "spray")


def test_white_takes_more_passes_over_black_than_over_grey() -> None:
    white = coat(kind="white").paint.model_copy(update={"masstone": "#f3f2ec"})
    over_black = passes_to_cover(white, over="#101010", dry_film_um=3)
    assert over_black > passes_to_cover(white, over="#b0b0b0", dry_film_um=3)


def test_plans_survive_json_and_refuse_what_they_do_not_know() -> None:
    p = plan(coat())
    assert Plan.model_validate_json(p.model_dump_json()) == p
    with pytest.raises(ValidationError, match="surprise"):
        Plan.model_validate({**p.model_dump(), "surprise": 1})
    with pytest.raises(ValidationError, match="share an id"):
        plan(coat("a"), coat("a"))
    with pytest.raises(ValidationError, match="same axis"):
        Plan.model_validate_json(p.model_dump_json().replace('"show":"-y"', '"show":"-z"'))
    with pytest.raises(ValidationError):
        Plan.model_validate_json(p.model_dump_json().replace('"passes":2', '"passes":0'))
