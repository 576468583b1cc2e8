"""Photos of painted pieces over HTTP: taken in, marked, laid over their plan."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from haze.service.bench import Bench
from haze.service.cards import piece_photos as photos
from haze.service.cards.piece_photos import (
    Marks,
    PiecePhotos,
    PiecePhotoView,
    PieceStandIn,
    SideSeen,
)
from haze.service.forms.wire import Identity
from haze.service.plan import plans
from haze.web.plans import PlanPath
from haze.web.routes import route_group


class PiecePhotoPath(BaseModel):
    photo_id: Identity


class OfPlan(BaseModel):
    plan: Identity


def piece_photos_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api for photos of pieces."""
    db = bench.db
    api = route_group("piece photos", documented=documented, tag="cards")

    @api.get("/piece-photos", responses={200: PiecePhotos})
    def all_piece_photos() -> PiecePhotos:
        return photos.piece_photos(db)

    @api.post("/piece-photos", responses={200: PiecePhotoView})
    def add_piece_photo(query: OfPlan) -> PiecePhotoView:
        plans.open_plan(db, query.plan)
        return photos.take_in_piece(db, query.plan, request.get_data())

    @api.get("/piece-photos/<photo_id>.jpg", responses={200: None})
    def one_piece_photo(path: PiecePhotoPath) -> Response:
        headers = {"Cache-Control": "private, max-age=31536000, immutable"}
        image = photos.piece_photo_bytes(db, path.photo_id)
        return Response(image, mimetype="image/jpeg", headers=headers)

    @api.post("/piece-photos/<photo_id>/compare", responses={200: PiecePhotoView})
    def compare_piece(path: PiecePhotoPath, body: Marks) -> PiecePhotoView:
        plan = plans.open_plan(db, photos.piece_photo_row(db, path.photo_id).plan).plan
        return photos.compare(db, path.photo_id, body, plan, bench.on(plan))

    @api.get("/piece-photos/<photo_id>/planned.png", responses={200: None})
    def planned_over_photo(path: PiecePhotoPath) -> Response:
        row = photos.piece_photo_row(db, path.photo_id)
        plan = plans.open_plan(db, row.plan).plan
        image = photos.planned_png(row, plan, bench.on(plan))
        return Response(image, mimetype="image/png", headers={"Cache-Control": "no-cache"})

    @api.get("/plans/<plan_id>/side.png", responses={200: None})
    def side_of_plan(path: PlanPath, query: SideSeen) -> Response:
        plan = plans.open_plan(db, path.plan_id).plan
        image = photos.side_picture(plan, bench.on(plan), query)
        return Response(image, mimetype="image/png", headers={"Cache-Control": "no-cache"})

    @api.post("/plans/<plan_id>/piece-stand-in", responses={200: PiecePhotoView})
    def stand_in_piece(path: PlanPath, body: PieceStandIn) -> PiecePhotoView:
        plan = plans.open_plan(db, path.plan_id).plan
        on = bench.on(plan)
        return photos.piece_stand_in(db, path.plan_id, plan, on, body)

    return api
