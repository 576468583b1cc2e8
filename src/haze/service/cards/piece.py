"""A photo of the painted piece laid over its plan: marked, compared, told in words."""

from __future__ import annotations

import hashlib
import io
import math
import uuid
from dataclasses import astuple
from functools import partial
from typing import Annotated, Literal

import numpy as np
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.arrays import Array, Bytes, Floats, Longs
from haze.core.day.holding import side_words
from haze.core.errors import HazeError
from haze.core.film.looks import encode_bytes
from haze.core.film.skin import seen
from haze.core.film.srgb import lightness_of_rgb
from haze.core.inspect.piece.compared import (
    Ends,
    Region,
    exposure,
    falls_short,
    lightness_on_photo,
    regions,
    share_reached,
    too_light_below,
)
from haze.core.inspect.piece.pose import Pose, drawn, in_view, pose_of
from haze.core.inspect.piece.stand_in import piece_photo, pose_from
from haze.core.light.picture import side_of
from haze.core.mesh.scene import scene_of
from haze.core.plan.coat import Coat, HandStep
from haze.core.plan.document import Plan
from haze.formats.photos import as_jpeg, require_size
from haze.service import apart
from haze.service.notebook.photos import Sized, sized
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of
from haze.service.wire import Strict
from haze.store import piece_photos as store
from haze.store.connection import Database, now
from haze.store.piece_photos import PiecePhotoRow

SIDE_PX = 620  # of the square picture of a plan that is marked
MOST_POINTS, CHECKED_FROM = 12, 6
LISTED = 40
PAPER_LIGHTNESS = 94.7  # L* of bare card
SHARES = np.linspace(0.0, 1.0, 26)
LEAST_ROUNDS = 0.3  # of a round that lacks is none
LANDS_UM = 0.1
PASSED_OVER = 8.0  # L*
AS_PLANNED = "As planned, as far as the photo tells."
NOT_SURE = (
    "It differs, but marks that lie a little beside would explain it. Mark more points, on sharp "
    "tips and corners."
)
MISSED_BY, LEAST_MISSED = 1.3, 0.002  # of what points miss by, and of the piece's size (judged)
PLANNED_SIDE = 900  # px, of the plan laid over a photo
STAND_IN_PX = (1600, 1200)
Share = Annotated[float, Field(ge=0, le=1)]


class OffPieceError(HazeError):
    """A point that was marked beside the piece."""

    code = "off_piece"


class SideSeen(Strict):
    """From where the plan is looked at."""

    azimuth_deg: float = Field(default=20, ge=-360, le=360)
    elevation_deg: float = Field(default=12, ge=-80, le=80)


class OnPlan(SideSeen):
    """A place on the picture of a plan, in shares of its width and height."""

    x: Share
    y: Share


class OnPhoto(Strict):
    """A place on a photo, in shares of its width and height."""

    x: Share
    y: Share


class PointPair(Strict):
    """The same place on the plan and on the photo."""

    plan: OnPlan
    photo: OnPhoto


class Marks(Strict):
    """What is marked on a photo: points, and a patch of known lightness [L*]."""

    points: list[PointPair] = Field(max_length=MOST_POINTS)
    patch: OnPhoto
    lightness: float = Field(default=PAPER_LIGHTNESS, ge=20, le=100)


class EndsOut(BaseModel):
    """Lightness [L*] of the lightest, the middle and the darkest part."""

    light: float
    middle: float
    dark: float


class RegionOut(BaseModel):
    """A part of the piece: planned and seen, how sure [L*], the share of it shown, what to do."""

    part: str
    planned: EndsOut
    seen: EndsOut
    unsure: float
    share: float
    sign: Literal["clean", "mind", "unknown"]
    words: str


class Compared(BaseModel):
    """A photo beside its plan; `off_share` is by how much of the piece's size the points miss."""

    regions: list[RegionOut]
    off_share: float
    trust: list[str]


class PiecePhotoView(BaseModel):
    """A photo of a piece, the marks on it, and what was told then."""

    id: str
    at: str
    plan: str
    width: int
    height: int
    marks: Marks | None
    told: Compared | None


class PiecePhotos(BaseModel):
    """The photos, the newest first."""

    photos: list[PiecePhotoView]


class PieceStandIn(SideSeen):
    """A photo nobody took: `reached` is how much of the light coats' films is really there."""

    reached: float = Field(default=0.6, ge=0, le=1.5)
    seed: int = Field(default=1, ge=0, le=1_000_000)


def take_in_piece(db: Database, plan: str, data: bytes) -> PiecePhotoView:
    """Keep a photo of a plan's piece, upright, sized down, nothing but its pixels.

    Raises
    ------
    PhotoError, TooLongError, TooMuchRoomError
    """
    require_size(data)
    made: Sized = apart.run(partial(sized, data=data), limits=apart.PICTURE)
    row = PiecePhotoRow(
        id=uuid.uuid4().hex,
        at=now(),
        hash=hashlib.sha256(made.data).hexdigest(),
        plan=plan,
        width=made.width,
        height=made.height,
    )
    with db.atomic() as tx:
        return _view(store.add(tx, row, data=made.data))


def piece_photos(db: Database) -> PiecePhotos:
    """All photos of pieces."""
    return PiecePhotos(photos=[_view(row) for row in store.newest(db.connection(), LISTED)])


def piece_photo_row(db: Database, photo: str) -> PiecePhotoRow:
    """A photo's row; `MissingError` when there is none."""
    return store.one(db.connection(), photo)


def piece_photo_bytes(db: Database, photo: str) -> bytes:
    """JPEG of a photo."""
    return store.data(db.connection(), photo)


def throw_piece_photo(db: Database, photo: str) -> None:
    """Delete a photo for good."""
    with db.atomic() as tx:
        store.one(tx, photo)
        store.delete(tx, photo)


def _view(row: PiecePhotoRow) -> PiecePhotoView:
    return PiecePhotoView(
        id=row.id,
        at=row.at,
        plan=row.plan,
        width=row.width,
        height=row.height,
        marks=Marks.model_validate_json(row.marks) if row.marks else None,
        told=Compared.model_validate_json(row.told) if row.told else None,
    )


def side_picture(plan: Plan, on: OnPiece, side: SideSeen) -> bytes:
    """PNG of a plan's end from a side, to be marked."""
    return png_of(
        on.piece.mesh,
        colours(on, plan, after=len(plan.coats), look="as_painted"),
        width=SIDE_PX,
        height=SIDE_PX,
        azimuth_deg=side.azimuth_deg,
        elevation_deg=side.elevation_deg,
    )


def on_piece(on: OnPiece, number: int, at: OnPlan) -> Array:
    """(3,) the point of the piece under a mark; `OffPieceError` beside it."""
    mesh = on.piece.mesh
    side = side_of(mesh, at.azimuth_deg, at.elevation_deg, width=SIDE_PX, height=SIDE_PX)
    x, y = np.array([at.x * SIDE_PX]), np.array([at.y * SIDE_PX])
    face, u, v = scene_of(mesh).met(*side.rays(x, y))
    if face[0] < 0:
        raise OffPieceError(
            f"Point {number} lies beside the piece on the plan; mark it on the piece.",
            field="points",
        )
    a, b, c = mesh.vertices[mesh.faces[face[0]]]
    return np.asarray(a * (1 - u[0] - v[0]) + b * u[0] + c * v[0], dtype=np.float64)


def compare(db: Database, photo: str, marks: Marks, plan: Plan, on: OnPiece) -> PiecePhotoView:
    """What a photo shows beside its plan; kept with it.

    Raises
    ------
    MissingError, OffPieceError, NoPoseError, PatchError
    """
    row = store.one(db.connection(), photo)
    pixels = np.asarray(Image.open(io.BytesIO(store.data(db.connection(), photo))).convert("RGB"))
    pose = _pose(row, marks, on)
    told = compared(pixels, pose, marks, plan, on)
    with db.atomic() as tx:
        store.tell(tx, photo, marks=marks.model_dump_json(), told=told.model_dump_json())
        return _view(store.one(tx, photo))


def _pose(row: PiecePhotoRow, marks: Marks, on: OnPiece) -> Pose:
    points = [on_piece(on, n, pair.plan) for n, pair in enumerate(marks.points, 1)]
    size = (row.width, row.height)
    there = [(pair.photo.x * size[0], pair.photo.y * size[1]) for pair in marks.points]
    return pose_of(
        np.array(points).reshape(-1, 3),
        np.array(there).reshape(-1, 2),
        width=row.width,
        height=row.height,
    )


def compared(pixels: Bytes, pose: Pose, marks: Marks, plan: Plan, on: OnPiece) -> Compared:
    """A photo whose camera is known beside its plan."""
    high, wide = pixels.shape[:2]
    piece = on.piece
    shown = in_view(pose, piece.mesh, width=wide, height=high)
    patch = (marks.patch.x * wide, marks.patch.y * high)
    size = float(np.linalg.norm(np.ptp(pose.seen_at(piece.mesh.vertices)[0], axis=0)))
    by = MISSED_BY * pose.off_px + LEAST_MISSED * size
    read = partial(
        lightness_on_photo,
        pixels,
        pose,
        piece.mesh.vertices,
        openness=piece.openness,
        factor=exposure(pixels, patch, marks.lightness),
    )
    lightness = read()
    planned = lightness_of_rgb(seen(on.below(plan, len(plan.coats)))).astype(np.float64)
    found = regions(
        planned,
        lightness,
        beside=[read(beside=(x * by, y * by)) for x, y in ((1, 0), (-1, 0), (0, 1), (0, -1))],
        shown=shown,
        part=piece.part,
        area=piece.mesh.vertex_area,
        openness=piece.openness,
    )
    parts = piece.parts_in(plan)
    names = [part.name for part in parts]
    return Compared(
        regions=[_region(one, names[one.part], plan, on) for one in found],
        off_share=pose.off_px / max(size, 1.0),
        trust=_trust(pose.off_px / max(size, 1.0), len(marks.points), found),
    )


def _region(one: Region, name: str, plan: Plan, on: OnPiece) -> RegionOut:
    short, over = falls_short(one), too_light_below(one)
    words = []
    if short:
        words.append(
            f"Lightest {one.seen.light:.0f} L*, planned {one.planned.light:.0f}: "
            f"{_more_light(one, plan, on)}."
        )
    if over:
        words.append(
            f"Darkest {one.seen.dark:.0f} L*, planned {one.planned.dark:.0f}: mist of the light "
            "coats lies in the shadows, or the shade went on thin; a thin round of the shade from "
            "below brings them back."
        )
    if one.seen.light - one.planned.light > 4 + np.hypot(one.unsure, one.wander.light):
        words.append(
            f"Lightest {one.seen.light:.0f} L*, planned {one.planned.light:.0f}: lighter than "
            "planned; leave out the last round."
        )
    return RegionOut(
        part=name,
        planned=_ends_out(one.planned),
        seen=_ends_out(one.seen),
        unsure=float(np.hypot(one.unsure, one.wander.light)),
        share=one.share,
        sign="mind" if words else ("unknown" if _off(one) else "clean"),
        words=" ".join(words) or (NOT_SURE if _off(one) else AS_PLANNED),
    )


def _off(one: Region) -> bool:
    """Whether something differs by more than an eye would pass over, sure or not."""
    pairs = zip(astuple(one.planned), astuple(one.seen), strict=True)
    return any(abs(planned - painted) > PASSED_OVER for planned, painted in pairs)


def _ends_out(ends: Ends) -> EndsOut:
    return EndsOut(light=ends.light, middle=ends.middle, dark=ends.dark)


def _more_light(one: Region, plan: Plan, on: OnPiece) -> str:
    """What brings the lightest places up: rounds of the coat that lights them last, or of all."""
    coats = [i for i in plan.light_coats() if _lands(plan, on, i, one.lightest)]
    if not coats:
        return "no light coat of the plan reaches it; put one there, or lay it by brush"
    for short in (coats[-1:], coats):
        reached = _reached(short, one, plan, on)
        if reached is not None:
            told = [_rounds_more(plan.coats[i], reached) for i in short]
            return f"about {', and '.join(told)}"
    return (
        "darker than before any light coat by the model, so the coats below fall short, or the "
        "photo shows it too dark"
    )


def _lands(plan: Plan, on: OnPiece, index: int, where: Longs) -> bool:
    return float(np.median(on.step_film(plan, index)[where])) >= LANDS_UM


def _reached(short: list[int], one: Region, plan: Plan, on: OnPiece) -> float | None:
    """The share of the films of some light coats at which the place is as light as it is seen."""
    stack = on.stack(plan, one.lightest, open_at=short)
    films = [on.step_film(plan, i)[one.lightest] for i in short]
    places = [
        float(np.median(stack.lightness([(f * share).astype(np.float32) for f in films])))
        for share in SHARES
    ]
    return share_reached(list(SHARES), np.array(places), one.seen.light)


def _rounds_more(coat: Coat | HandStep, reached: float) -> str:
    assert coat.kind == "spray"
    rounds = (1 - reached) * sum(s.passes for s in coat.stations)
    count = max(1, math.ceil(rounds - LEAST_ROUNDS))
    return f"{count} round{'' if count == 1 else 's'} more of {coat.name} {_side(coat)}"


def _side(coat: Coat) -> str:
    best = max(coat.stations, key=lambda s: s.passes)
    return side_words(best.azimuth_deg, best.elevation_deg)


def _trust(off: float, points: int, found: list[Region]) -> list[str]:
    told = [f"The points agree to {100 * off:.1f} % of the piece."]
    if points < CHECKED_FROM:
        told.append(
            f"{points} points leave little check on each other: with {CHECKED_FROM} the place is "
            "surer."
        )
    if found:
        unsure = float(np.median([np.hypot(r.unsure, r.wander.middle) for r in found]))
        told.append(
            f"Values are good to about ± {unsure:.0f} L* in even light from all sides; a lamp "
            "from one side adds light and shadow of its own, which is taken for paint. Recesses "
            "and what is aslant are left out; gloss and metal mirror the room."
        )
    else:
        told.append("Too little of the piece is seen to compare anything.")
    return told


def planned_png(row: PiecePhotoRow, marks: Marks, plan: Plan, on: OnPiece) -> bytes:
    """PNG of the plan as the photo's camera would see it, clear around it."""
    scale = PLANNED_SIDE / max(row.width, row.height)
    pose = _pose(row, marks, on)
    near = Pose(pose.turn, pose.shift, pose.focal_px * scale, pose.middle * scale, 0.0)
    wide, high = round(row.width * scale), round(row.height * scale)
    light = _end(plan, on)
    image = drawn(near, on.piece.mesh, light, width=wide, height=high)
    shown = encode_bytes(np.ascontiguousarray(image[..., :3].reshape(-1, 3).T))
    clear = (255 * image[..., 3:]).astype(np.uint8)
    out = io.BytesIO()
    both = np.concatenate([shown.reshape(high, wide, 3), clear], axis=2)
    Image.fromarray(both).save(out, "PNG", compress_level=3)
    return out.getvalue()


def _end(plan: Plan, on: OnPiece) -> Floats:
    """(n, 3) float32: linear light of the plan's end."""
    return np.ascontiguousarray(np.clip(seen(on.below(plan, len(plan.coats))), 0, 1).T)


def piece_stand_in(
    db: Database, plan_id: str, plan: Plan, on: OnPiece, body: PieceStandIn
) -> PiecePhotoView:
    """A photo of the piece as it would be if its light coats had fallen short."""
    wide, high = STAND_IN_PX
    mesh = on.piece.mesh
    coats = plan.light_coats()
    instead = {i: on.step_film(plan, i) * np.float32(body.reached) for i in coats}
    skin = on.with_films(plan, len(plan.coats), instead) if instead else None
    light = _end(plan, on) if skin is None else np.clip(seen(skin), 0, 1).T
    pose = pose_from(mesh, body.azimuth_deg, body.elevation_deg, width=wide, height=high)
    pixels = piece_photo(
        mesh,
        np.ascontiguousarray(light),
        on.piece.openness,
        pose,
        np.random.default_rng(body.seed),
        width=wide,
        height=high,
    )
    return take_in_piece(db, plan_id, as_jpeg(Image.fromarray(pixels)))
