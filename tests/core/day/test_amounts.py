"""How much to mix: silhouettes, strokes, drops."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.day.amounts import (
    CUP_REST_ML,
    TRIAL_ML,
    Bottle,
    Silhouette,
    aimed_seconds,
    coat_amounts,
    coat_cup,
    pass_seconds,
    pour,
    silhouette_of,
    strokes_seconds,
)
from haze.core.plan.coat import Aim, StationAt
from haze.core.plan.mix import Mix
from haze.core.plan.paint import ThinnerUsed
from helpers import coat, outcome_of

BOX = np.asarray(trimesh.creation.box((20, 30, 60)).vertices, dtype=np.float32)
FRONT = Silhouette(1200.0, 160.0)


def test_silhouette_of_a_box_by_hand() -> None:
    # from the show side: 20 × 60 mm, outline 160 mm; from above: 20 × 30; from the left 30 × 60
    for azimuth, elevation, area, outline in (
        (0, 0, 1200, 160),
        (0, 90, 600, 100),
        (90, 0, 1800, 180),
    ):
        seen = silhouette_of(BOX, azimuth_deg=azimuth, elevation_deg=elevation)
        assert (seen.area, seen.outline) == pytest.approx((area, outline))
    assert FRONT.scaled(0.5) == Silhouette(300.0, 80.0)


def test_a_flat_thing_seen_edge_on_has_an_outline_and_no_area() -> None:
    plate = np.array([[0, 0, 0], [10, 0, 0], [10, 0, 20], [0, 0, 20]], dtype=np.float32)
    seen = silhouette_of(plate, azimuth_deg=90, elevation_deg=0)
    assert seen.area == 0
    assert seen.outline == pytest.approx(40)


def test_a_pass_covers_the_widened_silhouette() -> None:
    # σ = .07·100 = 7 mm: area 1200 + 14·160 + π·14² = 4055.8; strokes 17.55 mm apart: 231.1 mm
    seconds = pass_seconds(FRONT, distance_mm=100, speed_mm_s=50)
    assert seconds == pytest.approx(4055.8 / (np.sqrt(2 * np.pi) * 7) / 50, rel=1e-3)
    assert aimed_seconds(4055.8, distance_mm=100, speed_mm_s=50) == pytest.approx(seconds, rel=1e-3)


def test_strokes_sum_over_stations_passes_and_groups() -> None:
    c = coat(distance_mm=100.0, speed_mm_s=50.0)
    c.stations = [
        StationAt(id="a", azimuth_deg=0, elevation_deg=0, passes=2),
        StationAt(id="b", azimuth_deg=90, elevation_deg=0, passes=3),
    ]
    one = pass_seconds(FRONT, distance_mm=100, speed_mm_s=50)
    other = pass_seconds(Silhouette(100, 40), distance_mm=100, speed_mm_s=50)
    whole = strokes_seconds(c, silhouettes=[[FRONT], [FRONT, Silhouette(100, 40)]])
    assert whole == pytest.approx(2 * one + 3 * (one + other))
    c.stations, c.aim = [], Aim(field="edges", passes=5)
    aimed = strokes_seconds(c, silhouettes=[], aimed_mm2=4055.8)
    assert aimed == pytest.approx(5 * one, rel=1e-3)


def test_cup_is_poured_thinner_first_in_whole_drops() -> None:
    c = coat(thinner_parts=2.0, flow_aid_parts=0.25)
    cup = coat_cup(c, mix_ml=1.0)
    assert [p.role for p in cup] == ["thinner", "paint", "flow_aid"]
    assert sum(p.ml for p in cup) >= 1.0 - 0.05
    drops = {p.role: p.drops for p in cup}
    assert drops["thinner"] == 2 * drops["paint"]


def test_drop_sizes_count() -> None:
    c = coat(thinner_parts=1.0)
    c.thinner = ThinnerUsed(id="t", name="big drops", kind="acrylic_thinner", drop_ul=100)
    drops = {p.role: p.drops for p in coat_cup(c, mix_ml=2.0)}
    assert drops["paint"] == 2 * drops["thinner"]


def test_a_mix_is_poured_in_whole_multiples_of_its_drops() -> None:
    green, big = coat().paint, coat().paint.model_copy(update={"id": "q", "drop_ul": 100.0})
    c = coat(thinner_parts=1.0).mixed_as(Mix.of((green, 3), (big, 1)))
    cup = coat_cup(c, mix_ml=1.0)
    paints = [p for p in cup if p.role == "paint"]
    # 3 × 50 µl + 1 × 100 µl = 250 µl; half a millilitre of paint is two of it
    assert [p.drops for p in paints] == [6, 2]
    assert [p.ml for p in paints] == pytest.approx([0.3, 0.2])
    assert sum(p.ml for p in cup) == pytest.approx(1.0)


def test_nothing_is_poured_of_what_is_not_wanted() -> None:
    neat = pour(
        [(Bottle("ink", 50.0), 1)],
        thinner=Bottle("water", 50.0),
        thinner_parts=0.0,
        flow_aid_parts=0.0,
        mix_ml=0.4,
    )
    assert [(p.what, p.drops) for p in neat] == [("ink", 8)]


def test_amounts_grow_with_copies_and_carry_rest_and_trial() -> None:
    c = coat()
    out = outcome_of(c)
    one, six = (coat_amounts(c, outcome=out, strokes_s=30.0, copies=n, cup_ml=7) for n in (1, 6))
    assert one.spray_ml == pytest.approx(float(out.flow_ml_min) / 2)
    assert six.spray_ml == pytest.approx(6 * one.spray_ml)
    assert one.mix_ml == pytest.approx(one.spray_ml + CUP_REST_ML + TRIAL_ML)
    assert one.strokes_s == six.strokes_s == 30.0
    small = coat_amounts(c, outcome=out, strokes_s=300.0, copies=60, cup_ml=2)
    assert small.cup_loads > 1
    assert small.cup_loads * sum(p.ml for p in small.cup) >= small.spray_ml
    assert small.mix_ml == pytest.approx(small.spray_ml + TRIAL_ML + small.cup_loads * CUP_REST_ML)


def test_the_least_cup_by_hand() -> None:
    c = coat()
    out = outcome_of(c)
    least = coat_amounts(c, outcome=out, strokes_s=0.0, copies=1, cup_ml=7)
    # nothing sprayed: what stays in the cup, and the trial on card
    assert least.mix_ml == pytest.approx(0.15 + 0.1)
    assert least.cup_loads == 1
