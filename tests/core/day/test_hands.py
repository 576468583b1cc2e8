"""What the hands do: rounds from sides, stroke by stroke, and what is idle."""

from __future__ import annotations

import numpy as np
import pytest
import trimesh

from haze.core.day.hands import (
    HOLD_S,
    Round,
    Silhouette,
    by_hand_s,
    coat_hands_s,
    coat_rounds,
    idle_s,
    patches_of,
    round_counts,
    side_hands_s,
    silhouette_of,
    strokes_seconds,
    swept_round,
)
from haze.core.plan.coat import Aim, HandStep, StationAt
from haze.core.plan.roles import HANDS
from helpers import coat

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


SPACING = np.sqrt(2 * np.pi) * 7  # mm between strokes at 100 mm


def two_sided(**spray: float):  # type: ignore[no-untyped-def]
    c = coat(distance_mm=100.0, speed_mm_s=50.0, **spray)
    c.stations = [
        StationAt(id="a", azimuth_deg=0, elevation_deg=0, passes=2),
        StationAt(id="b", azimuth_deg=90, elevation_deg=0, passes=3),
    ]
    return c


def test_a_round_by_hand() -> None:
    # σ = .07·100 = 7 mm: area 1200 + 14·160 + π·14² = 4055.8, in strokes 17.55 mm apart;
    # they lie across 160/π + 28 = 78.9 mm
    one = swept_round([FRONT], distance_mm=100, speed_mm_s=50)
    assert one.paint_s == pytest.approx(4055.8 / SPACING / 50, rel=1e-3)
    assert one.strokes == pytest.approx(78.93 / SPACING, rel=1e-3)
    assert one.hands_s == pytest.approx(one.paint_s + 0.5 * one.strokes + 2)


def test_groups_sprayed_one_after_the_other_are_begun_each() -> None:
    one = swept_round([FRONT], distance_mm=100, speed_mm_s=50)
    two = swept_round([FRONT, FRONT], distance_mm=100, speed_mm_s=50)
    assert (two.paint_s, two.strokes) == pytest.approx((2 * one.paint_s, 2 * one.strokes))
    assert two.hands_s == pytest.approx(2 * one.hands_s)


def test_a_small_thing_takes_one_stroke_at_least() -> None:
    dot = swept_round([Silhouette(0.01, 0.4)], distance_mm=200, speed_mm_s=50)
    assert dot.strokes >= 1


def test_an_aimed_coat_goes_over_the_faces_that_look_each_way() -> None:
    normals = np.array([[0, -1, 0], [0, -0.6, 0.8], [0, -1, 0], [1, 0, 0]], dtype=np.float32)
    front, up, tiny = 30.0, 20.0 * 0.8, 0.5
    patches = patches_of(normals, np.array([10.0, 20.0, 20.0, tiny]))
    assert sorted(p.area for p in patches) == pytest.approx(sorted([front, up]))
    # discs, and next to nothing is left out
    assert patches[0].outline == pytest.approx(2 * np.sqrt(np.pi * patches[0].area))
    assert patches_of(normals[:0], np.zeros(0)) == []


def test_paint_goes_past_the_edges_of_what_is_aimed_at() -> None:
    small = patches_of(np.array([[0.0, -1.0, 0.0]], dtype=np.float32), np.array([80.0]))
    one = swept_round(small, distance_mm=60, speed_mm_s=50)
    held = 80.0 / (60 * 0.07 * np.sqrt(2 * np.pi)) / 50
    assert one.paint_s > 4 * held, "most of it misses a part as small as the spot"


def test_strokes_and_hands_sum_over_sides_and_rounds() -> None:
    c = two_sided()
    small = Silhouette(100, 40)
    rounds = coat_rounds(c, silhouettes=[[FRONT], [FRONT, small]])
    front, other = rounds
    assert round_counts(c) == [2, 3]
    assert other.paint_s > front.paint_s
    assert strokes_seconds(c, rounds) == pytest.approx(2 * front.paint_s + 3 * other.paint_s)
    by_side = [side_hands_s(n, r, copies=6) for n, r in zip((2, 3), rounds, strict=True)]
    assert by_side[0] == pytest.approx(6 * (HOLD_S + 2 * front.hands_s))
    assert coat_hands_s(c, rounds, copies=6) == pytest.approx(sum(by_side))


def test_an_aimed_coat_has_one_side() -> None:
    c = coat(distance_mm=100.0, speed_mm_s=50.0)
    c.stations, c.aim = [], Aim(field="edges", passes=5)
    (one,) = coat_rounds(c, silhouettes=[], aimed=[FRONT])
    assert one == swept_round([FRONT], distance_mm=100, speed_mm_s=50)
    assert strokes_seconds(c, [one]) == pytest.approx(5 * one.paint_s)


def test_other_sides_and_copies_fill_the_rest() -> None:
    c = two_sided(rest_s=30.0)
    tens = [Round(7, 3, 10.0), Round(7, 3, 10.0)]
    # 30 s less one other side of 10 s, before the second and the third round
    assert idle_s(c, tens, copies=1) == pytest.approx(2 * 20)
    assert idle_s(c, tens, copies=2) == pytest.approx(0)
    assert idle_s(c, tens[:1], copies=1) == pytest.approx(2 * 30)
    assert idle_s(c, tens[:1], copies=3) == pytest.approx(2 * 10)
    assert idle_s(two_sided(), tens, copies=1) == 0
    c.stations = [c.stations[0].model_copy(update={"passes": 1})]
    assert idle_s(c, tens[:1], copies=1) == 0
    c.stations = []
    assert idle_s(c, [], copies=1) == 0


def test_six_copies_cost_less_than_six_times_one() -> None:
    c = two_sided(rest_s=60.0)
    rounds = coat_rounds(c, silhouettes=[[FRONT], [FRONT]])

    def whole(copies: int) -> float:
        return coat_hands_s(c, rounds, copies=copies) + idle_s(c, rounds, copies=copies)

    assert whole(6) < 6 * whole(1)


def test_steps_by_hand_grow_with_the_root_of_the_surface() -> None:
    step = HandStep(id="h", name="Wash", role="wash", paint=coat().paint)
    figure = 60 * HANDS["wash"].hands_min
    assert by_hand_s(step, copies=1) == pytest.approx(figure)
    assert by_hand_s(step, copies=3, area_cm2=100.0) == pytest.approx(3 * 2 * figure)
    assert by_hand_s(step, copies=1, area_cm2=0.1) == pytest.approx(figure / 2)
