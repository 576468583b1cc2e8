"""Values on a photo beside those planned: read again, and where they fall short."""

from __future__ import annotations

import numpy as np
import pytest

from haze.core.arrays import Floats
from haze.core.film.srgb import LUMINANCE, lightness_of, linear_of_hex, luminance_of_lightness
from haze.core.inspect.card_colours import PAPER
from haze.core.inspect.piece.compared import (
    Ends,
    PatchError,
    Region,
    exposure,
    falls_short,
    lightness_on_photo,
    regions,
    share_reached,
    too_light_below,
)
from haze.core.inspect.piece.pose import Pose, in_view
from haze.core.inspect.piece.stand_in import patch_at, piece_photo, pose_from
from haze.core.light.stations import ambient
from haze.core.mesh.mesh import PreparedMesh
from shapes import ball_on_plate, seen

WIDE, HIGH = 900, 700
PAPER_L = float(lightness_of(LUMINANCE @ linear_of_hex(PAPER)))
On = tuple[PreparedMesh, Floats, Pose]
STILL = Ends(0, 0, 0)


@pytest.fixture(scope="module")
def on() -> On:
    mesh, table = seen(ball_on_plate())
    return mesh, ambient(table), pose_from(mesh, 20, 20, width=WIDE, height=HIGH)


def planned(mesh: PreparedMesh) -> np.ndarray:
    """Light from above: dark below, light on top."""
    return 35 + 45 * np.clip(0.5 + 0.5 * mesh.normals[:, 2].astype(float), 0, 1)


def photo(on: On, lightness: np.ndarray, *, light: float = 0.8) -> np.ndarray:
    mesh, openness, pose = on
    grey = luminance_of_lightness(lightness)[:, None].repeat(3, axis=1).astype(np.float32)
    rng = np.random.default_rng(3)
    return piece_photo(mesh, grey, openness, pose, rng, width=WIDE, height=HIGH, exposure=light)


def compared(on: On, image: np.ndarray) -> Region:
    mesh, openness, pose = on
    factor = exposure(image, patch_at(WIDE, HIGH), PAPER_L)
    read = lightness_on_photo(image, pose, mesh.vertices, openness=openness, factor=factor)
    (one,) = regions(
        planned(mesh),
        read,
        shown=in_view(pose, mesh, width=WIDE, height=HIGH),
        part=np.zeros(len(read), dtype=np.int32),
        area=mesh.vertex_area,
        openness=openness,
    )
    return one


@pytest.mark.parametrize("light", [0.35, 0.6, 0.9])
def test_a_piece_painted_as_planned_is_read_so_however_bright_the_photo(
    on: On, light: float
) -> None:
    one = compared(on, photo(on, planned(on[0]), light=light))
    for end in ("light", "middle", "dark"):
        assert getattr(one.seen, end) == pytest.approx(getattr(one.planned, end), abs=3.5)
    assert one.unsure < 6
    assert falls_short(one) == 0
    assert too_light_below(one) == 0
    assert 0.1 < one.share < 0.9


def test_highlights_that_fall_short_are_told_by_how_much(on: On) -> None:
    wanted = planned(on[0])
    one = compared(on, photo(on, np.minimum(wanted, 62)))
    assert falls_short(one) == pytest.approx(one.planned.light - 62, abs=4)
    assert too_light_below(one) == 0


def test_shadows_lost_under_mist_are_told(on: On) -> None:
    one = compared(on, photo(on, np.maximum(planned(on[0]), 68)))
    assert too_light_below(one) > 10
    assert falls_short(one) == 0


def test_paper_that_is_burnt_out_or_dark_is_no_reference(on: On) -> None:
    image = photo(on, planned(on[0]), light=1.4)
    with pytest.raises(PatchError, match="burnt out"):
        exposure(image, patch_at(WIDE, HIGH), PAPER_L)
    with pytest.raises(PatchError, match="dark"):
        exposure(np.zeros((300, 400, 3), dtype=np.uint8), (100, 100), PAPER_L)
    # a patch at the very edge is still within the photo
    assert exposure(photo(on, planned(on[0])), (0, 0), 50.0) > 0


def test_a_grey_of_known_lightness_serves_as_well(on: On) -> None:
    image = np.full((300, 400, 3), 119, dtype=np.uint8)  # L* 50
    assert exposure(image, (200, 150), 50.0) == pytest.approx(1.0, rel=0.02)


def test_a_part_of_which_little_is_seen_is_left_out() -> None:
    values = np.linspace(20, 80, 500)
    part = np.zeros(500, dtype=np.int32)
    part[:30] = 1
    told = regions(
        values,
        values,
        shown=np.ones(500, dtype=bool),
        part=part,
        area=np.ones(500, dtype=np.float32),
        openness=np.ones(500, dtype=np.float32),
    )
    assert [one.part for one in told] == [0]
    assert told[0].planned.light > told[0].planned.middle > told[0].planned.dark
    assert set(told[0].lightest) == set(range(500 - len(told[0].lightest), 500))


def test_what_is_not_sure_is_not_told() -> None:
    near = np.arange(8)

    def short_by(much: float, unsure: float, wander: Ends = STILL) -> float:
        return falls_short(
            Region(0, Ends(80, 50, 30), Ends(80 - much, 50, 30), unsure, wander, 1.0, near, near)
        )

    assert short_by(6.9, 3) == 0
    assert short_by(7.1, 3) == pytest.approx(7.1)
    assert short_by(7.1, 4) == 0
    # what moves when the photo is laid a little beside is not sure either
    assert short_by(7.1, 3, Ends(4, 0, 0)) == 0
    assert short_by(7.1, 3, Ends(0, 4, 4)) == pytest.approx(7.1)


def test_a_place_at_an_edge_wanders_and_one_within_does_not(on: On) -> None:
    mesh, openness, pose = on
    image = photo(on, planned(mesh))
    read = [
        lightness_on_photo(
            image, pose, mesh.vertices, openness=openness, factor=1.25, beside=(by, 0)
        )
        for by in (0, 6, -6)
    ]
    rims = np.flatnonzero(
        in_view(pose, mesh, width=WIDE, height=HIGH)
        & ~in_view(pose, mesh, width=WIDE // 2, height=HIGH)
    )
    assert np.abs(read[1] - read[0])[rims].max() > 10
    (one,) = regions(
        planned(mesh),
        read[0],
        beside=read[1:],
        shown=in_view(pose, mesh, width=WIDE, height=HIGH),
        part=np.zeros(len(read[0]), dtype=np.int32),
        area=mesh.vertex_area,
        openness=openness,
    )
    assert one.wander.middle < 3
    assert one.wander.light < 3


def test_how_much_of_a_film_lies_there_follows_from_its_lightness() -> None:
    shares, places = [0.0, 0.5, 1.0], np.array([40.0, 60.0, 70.0])
    assert share_reached(shares, places, 50.0) == pytest.approx(0.25)
    assert share_reached(shares, places, 70.0) == pytest.approx(1.0)
    assert share_reached(shares, places, 39.0) is None
    assert share_reached(shares, places, 71.0) is None
