"""A photo of the painted piece laid over its plan: marked, compared, described."""

from __future__ import annotations

import hashlib
import io
import uuid
from functools import partial
from typing import Annotated

import numpy as np
from PIL import Image
from pydantic import BaseModel, Field

from haze.core.arrays import Array, Bytes, Floats
from haze.core.errors import HazeError
from haze.core.film.looks import encode_bytes
from haze.core.film.skin import seen
from haze.core.inspect.card_colours import PAPER_LIGHTNESS
from haze.core.inspect.piece.compared import exposure
from haze.core.inspect.piece.outline import MOST_RING
from haze.core.inspect.piece.pose import MOST_POINTS, Pose, drawn, pose_of
from haze.core.inspect.piece.pose_by_outline import pose_by_outline
from haze.core.inspect.piece.stand_in import piece_photo, pose_from
from haze.core.light.picture import side_of
from haze.core.mesh.scene import between, scene_of
from haze.core.plan.document import Plan
from haze.formats.photos import as_jpeg, require_size
from haze.service.cards.comparison import Compared, compared
from haze.service.forms.records import Unreadable, readable, reading
from haze.service.forms.wire import Strict
from haze.service.notebook.photos import Sized, sized
from haze.service.piece.looks import colours
from haze.service.piece.onpiece import OnPiece
from haze.service.piece.pictures import png_of
from haze.service.work import apart
from haze.store import piece_photos as store
from haze.store.connection import Database, MissingError, now
from haze.store.piece_photos import PiecePhotoRow

SIDE_PX = 620  # of the square picture of a plan that is marked
LISTED = 40
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
    """What is marked on a photo: points, or a ring around the piece; a patch of known L*.

    A ring counts before points. `side` is the side the plan was turned to when it was marked.
    """

    points: list[PointPair] = Field(default=[], max_length=MOST_POINTS)
    ring: list[OnPhoto] = Field(default=[], max_length=MOST_RING)
    side: SideSeen = SideSeen()
    patch: OnPhoto
    lightness: float = Field(default=PAPER_LIGHTNESS, ge=20, le=100)


class PiecePhotoView(BaseModel):
    """A photo of a piece, the marks on it, and what was found then."""

    id: str
    at: str
    plan: str
    width: int
    height: int
    marks: Marks | None
    told: Compared | None


class PiecePhotos(BaseModel):
    """The photos, the newest first, and those that could not be read."""

    photos: list[PiecePhotoView]
    unreadable: list[Unreadable]


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
        return view(store.add(tx, row, data=made.data))


def piece_photos(db: Database) -> PiecePhotos:
    """All photos of pieces."""
    found = readable(store.newest(db.connection(), LISTED), view, named_piece_photo)
    return PiecePhotos(photos=found.views, unreadable=found.unreadable)


def named_piece_photo(row: PiecePhotoRow) -> Unreadable:
    """What can be said of a photo without reading it."""
    return Unreadable(kind="piece_photo", id=row.id, name="A photo of a piece", at=row.at)


def piece_photo_row(db: Database, photo: str) -> PiecePhotoRow:
    """A photo's row; `MissingError` when there is none."""
    return store.one(db.connection(), photo)


def piece_photo_bytes(db: Database, photo: str) -> bytes:
    """JPEG of a photo."""
    return store.data(db.connection(), photo)


def view(row: PiecePhotoRow) -> PiecePhotoView:
    """A photo for the screen."""
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
    met = scene_of(mesh).met(*side.rays(x, y))
    if met[0][0] < 0:
        raise OffPieceError(
            f"Point {number} lies beside the piece on the plan; mark it on the piece.",
            field="points",
        )
    return np.asarray(between(mesh, mesh.vertices, met)[0], dtype=np.float64)


def compare(db: Database, photo: str, marks: Marks, plan: Plan, on: OnPiece) -> PiecePhotoView:
    """What a photo shows beside its plan; kept with it.

    Raises
    ------
    MissingError, OffPieceError, NoPoseError, NoOutlineError, PatchError
    """
    row = store.one(db.connection(), photo)
    pixels = np.asarray(Image.open(io.BytesIO(store.data(db.connection(), photo))).convert("RGB"))
    pose = _pose(row, marks, on, pixels)
    patch = (marks.patch.x * row.width, marks.patch.y * row.height)
    factor = exposure(pixels, patch, marks.lightness)
    points = None if marks.ring else len(marks.points)
    comparison = compared(pixels, pose, factor=factor, points=points, plan=plan, on=on)
    with db.atomic() as tx:
        store.tell(tx, photo, marks=marks.model_dump_json(), told=comparison.model_dump_json())
        return view(store.one(tx, photo))


def _pose(row: PiecePhotoRow, marks: Marks, on: OnPiece, pixels: Bytes) -> Pose:
    size = np.array([row.width, row.height])
    if marks.ring:
        ring = np.array([(at.x, at.y) for at in marks.ring]) * size
        side = marks.side.model_dump()
        return pose_by_outline(on.piece.mesh, pixels, ring, **side)
    points = [on_piece(on, n, pair.plan) for n, pair in enumerate(marks.points, 1)]
    there = [(pair.photo.x, pair.photo.y) for pair in marks.points]
    return pose_of(
        np.array(points).reshape(-1, 3),
        np.array(there).reshape(-1, 2) * size,
        width=row.width,
        height=row.height,
    )


def planned_png(row: PiecePhotoRow, plan: Plan, on: OnPiece) -> bytes:
    """PNG of the plan as the photo's camera sees it, clear around it.

    Raises
    ------
    MissingError while it was not compared
    """
    with reading("piece_photo", row.id):
        comparison = Compared.model_validate_json(row.told) if row.told else None
    if comparison is None or comparison.camera is None:
        raise MissingError("This photo was not compared yet.", field="photo")
    pose = comparison.camera.pose(row.width, row.height)
    scale = PLANNED_SIDE / max(row.width, row.height)
    near = Pose(pose.turn, pose.shift, pose.focal_px * scale, pose.middle * scale)
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
