"""A photo of a painted piece over its plan: kept, marked, compared, told in words."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from haze.core.errors import PhotoError
from haze.core.inspect.piece.compared import PatchError
from haze.core.inspect.piece.outline import NoOutlineError
from haze.core.inspect.piece.pose import NoPoseError, in_view
from haze.core.inspect.piece.stand_in import patch_at, pose_from
from haze.core.light.picture import side_of
from haze.core.mesh.mesh import PreparedMesh
from haze.core.mesh.scene import between, scene_of
from haze.service.bench import Bench
from haze.service.cards import piece_photos as piece
from haze.service.cards.piece_photos import (
    SIDE_PX,
    STAND_IN_PX,
    Marks,
    OffPieceError,
    OnPlan,
    PiecePhotoView,
    PieceStandIn,
    SideSeen,
)
from haze.service.piece.onpiece import OnPiece
from haze.service.plan import plans
from haze.service.plan.plans import PlanView
from haze.store.connection import MissingError
from service.conftest import planned
from shapes import lantern

FROM = SideSeen(azimuth_deg=20, elevation_deg=12)
WIDE, HIGH = STAND_IN_PX


def marked(
    mesh: PreparedMesh, azimuth_deg: float, elevation_deg: float, *, count: int = 6
) -> list[dict[str, Any]]:
    """Places far apart as a careful hand marks them on a plan and on the stand-in's photo."""
    pose = pose_from(mesh, azimuth_deg, elevation_deg, width=WIDE, height=HIGH)
    side = side_of(mesh, azimuth_deg, elevation_deg, width=SIDE_PX, height=SIDE_PX)
    at = np.random.default_rng(4).uniform(0, SIDE_PX, (6000, 2))
    face, u, v = scene_of(mesh).met(*side.rays(at[:, 0], at[:, 1]))
    met = face >= 0
    at, points = at[met], between(mesh, mesh.vertices, (face[met], u[met], v[met]))
    chosen = [0]
    while len(chosen) < count:
        apart = [np.linalg.norm(points - points[i], axis=1) for i in chosen]
        chosen.append(int(np.argmax(np.min(apart, axis=0))))
    there, _ = pose.seen_at(points)
    return [
        {
            "plan": {
                "x": at[i, 0] / SIDE_PX,
                "y": at[i, 1] / SIDE_PX,
                "azimuth_deg": azimuth_deg,
                "elevation_deg": elevation_deg,
            },
            "photo": {"x": there[i, 0] / WIDE, "y": there[i, 1] / HIGH},
        }
        for i in chosen
    ]


def marks_on(on: OnPiece, count: int = 6) -> Marks:
    x, y = patch_at(WIDE, HIGH)
    pairs = marked(on.piece.mesh, FROM.azimuth_deg, FROM.elevation_deg, count=count)
    return Marks.model_validate({"points": pairs, "patch": {"x": x / WIDE, "y": y / HIGH}})


def taken(bench: Bench, cone: PlanView, on: OnPiece, reached: float) -> PiecePhotoView:
    how = PieceStandIn(**FROM.model_dump(), reached=reached)
    return piece.piece_stand_in(bench.db, cone.id, cone.plan, on, how)


def test_a_piece_as_planned_is_told_so_and_kept(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    photo = taken(bench, cone, on_cone, 1.0)
    assert (photo.width, photo.height) == STAND_IN_PX
    got = piece.compare(bench.db, photo.id, marks_on(on_cone), cone.plan, on_cone)
    assert got.told is not None
    assert got.told.off_share < 0.01
    assert [r.sign for r in got.told.regions] == ["clean"] * len(got.told.regions)
    for r in got.told.regions:
        assert r.seen.light == pytest.approx(r.planned.light, abs=5)
    assert piece.piece_photos(bench.db).photos == [got]
    few = piece.compare(bench.db, photo.id, marks_on(on_cone, 4), cone.plan, on_cone)
    assert few.told is not None
    assert any("4 points" in words for words in few.told.trust)


def test_light_that_fell_short_is_told_with_rounds_and_side(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    photo = taken(bench, cone, on_cone, 0.3)
    got = piece.compare(bench.db, photo.id, marks_on(on_cone), cone.plan, on_cone)
    assert got.told is not None
    worst = max(got.told.regions, key=lambda r: r.planned.light - r.seen.light)
    assert worst.sign == "mind"
    assert f"planned {worst.planned.light:.0f}" in worst.words
    light = cone.plan.coats[cone.plan.light_coats()[-1]]
    assert f"more of {light.name}" in worst.words


def test_the_plan_laid_over_covers_the_piece_on_the_photo(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    photo = taken(bench, cone, on_cone, 1.0)
    with pytest.raises(MissingError, match="not compared"):
        piece.planned_png(piece.piece_photo_row(bench.db, photo.id), cone.plan, on_cone)
    piece.compare(bench.db, photo.id, marks_on(on_cone), cone.plan, on_cone)
    row = piece.piece_photo_row(bench.db, photo.id)
    laid = Image.open(io.BytesIO(piece.planned_png(row, cone.plan, on_cone)))
    clear = np.asarray(laid)[..., 3] > 0
    assert laid.size == (900, 675)
    mesh = on_cone.piece.mesh
    pose = pose_from(mesh, FROM.azimuth_deg, FROM.elevation_deg, width=WIDE, height=HIGH)
    at, _ = pose.seen_at(mesh.vertices[in_view(pose, mesh, width=WIDE, height=HIGH)])
    inside = clear[(at[:, 1] * 900 / WIDE).astype(int), (at[:, 0] * 900 / WIDE).astype(int)]
    assert inside.mean() > 0.97
    side = Image.open(io.BytesIO(piece.side_picture(cone.plan, on_cone, FROM)))
    assert side.size == (SIDE_PX, SIDE_PX)


@pytest.mark.thorough
def test_a_ring_around_the_piece_lays_the_plan_over_it(bench: Bench) -> None:
    plan = planned(bench, lantern(), name="Lantern", height_mm=34)
    on = bench.on(plan)
    seen_from = SideSeen(azimuth_deg=38, elevation_deg=20)
    how = PieceStandIn(**seen_from.model_dump(), reached=1.0)
    photo = piece.piece_stand_in(bench.db, plans.every(bench.db)[0].id, plan, on, how)
    pose = pose_from(on.piece.mesh, 38, 20, width=WIDE, height=HIGH)
    at, _ = pose.seen_at(on.piece.mesh.vertices)
    (x0, y0), (x1, y1) = (at.min(axis=0) - 25) / STAND_IN_PX, (at.max(axis=0) + 25) / STAND_IN_PX
    px, py = patch_at(WIDE, HIGH)
    ring = [(x0, y0), (x1, y0), (x1, y1), ((x0 + x1) / 2, y1), (x0, y1)]
    marks = Marks.model_validate(
        {
            "ring": [{"x": x, "y": min(y, 1.0)} for x, y in ring],
            "side": {"azimuth_deg": 25, "elevation_deg": 12},
            "patch": {"x": px / WIDE, "y": py / HIGH},
        }
    )
    got = piece.compare(bench.db, photo.id, marks, plan, on)
    assert got.told is not None
    assert got.marks == marks
    assert got.told.off_share < 0.01
    assert "taken from 38° round" in got.told.trust[0]
    laid = Image.open(
        io.BytesIO(piece.planned_png(piece.piece_photo_row(bench.db, photo.id), plan, on))
    )
    clear = np.asarray(laid)[..., 3] > 0
    shown = at[in_view(pose, on.piece.mesh, width=WIDE, height=HIGH)] * 900 / WIDE
    assert clear[shown[:, 1].astype(int), shown[:, 0].astype(int)].mean() > 0.97
    few = marks.model_copy(update={"ring": marks.ring[:3]})
    with pytest.raises(NoOutlineError, match="there are 3"):
        piece.compare(bench.db, photo.id, few, plan, on)
    assert piece.piece_photos(bench.db).photos[0].told == got.told


def test_wrong_marks_are_refused_in_words_and_nothing_is_kept(
    bench: Bench, cone: PlanView, on_cone: OnPiece
) -> None:
    photo = taken(bench, cone, on_cone, 1.0)
    good = marks_on(on_cone)
    beside = good.points[0].model_copy(update={"plan": OnPlan(x=0.01, y=0.01)})
    cases = (
        (good.model_copy(update={"points": [*good.points[:3], beside]}), OffPieceError, "Point 4"),
        (good.model_copy(update={"points": good.points[:2]}), NoPoseError, "at least 4"),
        (good.model_copy(update={"points": []}), NoPoseError, "there are 0"),
    )
    for marks, error, words in cases:
        with pytest.raises(error, match=words):
            piece.compare(bench.db, photo.id, marks, cone.plan, on_cone)
    assert piece.piece_photos(bench.db).photos[0].told is None
    with pytest.raises(PhotoError):
        piece.take_in_piece(bench.db, cone.id, b"no photo")
    assert len(piece.piece_photos(bench.db).photos) == 1


def test_the_same_photo_is_kept_once(bench: Bench, cone: PlanView, on_cone: OnPiece) -> None:
    one, again = (taken(bench, cone, on_cone, 1.0) for _ in range(2))
    assert one.id == again.id


def test_a_photo_says_nothing_but_its_pixels(bench: Bench, cone: PlanView, tmp_path: Path) -> None:
    place = tmp_path / "place.jpg"
    image = Image.new("RGB", (900, 700), "#808080")
    exif = Image.Exif()
    exif[0x010E] = "where it was taken"
    image.save(place, exif=exif)
    kept = piece.take_in_piece(bench.db, cone.id, place.read_bytes())
    assert b"where it was" not in piece.piece_photo_bytes(bench.db, kept.id)


def test_paper_burnt_out_is_told(bench: Bench, cone: PlanView, on_cone: OnPiece) -> None:
    white = io.BytesIO()
    Image.new("RGB", STAND_IN_PX, "#ffffff").save(white, "PNG")
    photo = piece.take_in_piece(bench.db, cone.id, white.getvalue())
    with pytest.raises(PatchError, match="burnt out"):
        piece.compare(bench.db, photo.id, marks_on(on_cone), cone.plan, on_cone)
