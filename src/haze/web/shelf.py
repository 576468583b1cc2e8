"""Shelf and settings over HTTP."""

from __future__ import annotations

from typing import Annotated

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from haze.core.plan.base import Identity
from haze.core.plan.paint import AirbrushUsed
from haze.service.bench import Bench
from haze.service.colour.photo import PhotoPick, PickOut, pick_from_photo
from haze.service.files.upkeep import backup_due
from haze.service.forms import settings
from haze.service.forms.wire import Strict
from haze.service.shelf import files
from haze.service.shelf import shelf as shelves
from haze.service.shelf.chips import Chip
from haze.service.shelf.files import ImportPreview
from haze.service.shelf.paints import PaintOnShelf
from haze.service.shelf.shelf import (
    BulkChange,
    Compressor,
    Shelf,
    ShelfScreen,
    ThinnerOnShelf,
)
from haze.web.problems import Problem

BACK_UP = "It is more than a month since you last backed up: Settings, Back up now."


class SettingsView(BaseModel):
    """Settings, and sentences that stand on every screen."""

    settings: dict[str, str]
    notices: list[str]


class SettingBody(Strict):
    name: str = Field(max_length=60)
    value: str = Field(max_length=60)


class IdsBody(Strict):
    """Paints by id, and whether they go into the trash or come out of it."""

    ids: Annotated[list[Identity], Field(min_length=1, max_length=5000)]
    trashed: bool = True


class GearPath(BaseModel):
    what: str = Field(pattern=r"^(thinner|airbrush|compressor)$")
    gear_id: str = Field(max_length=64)


class ImportQuery(BaseModel):
    """Without `apply` the file is only looked at."""

    apply: bool = False


def shelf_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for what stands on the shelf, and for settings."""
    api = APIBlueprint(
        "shelf",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="shelf")],
        doc_ui=documented,
        abp_responses={404: Problem, 422: Problem},
    )
    db = bench.db

    @api.get("/shelf", responses={200: Shelf})
    def shelf() -> dict[str, object]:
        return shelves.shelf_of(db).model_dump()

    @api.get("/shelf/screen", responses={200: ShelfScreen})
    def shelf_screen() -> dict[str, object]:
        return shelves.screen(db).model_dump()

    @api.put("/shelf/paint", responses={200: Chip})
    def put_paint(body: PaintOnShelf) -> dict[str, object]:
        return shelves.put_paint(db, body).model_dump()

    @api.post("/shelf/bulk", responses={200: ShelfScreen})
    def change_many(body: BulkChange) -> dict[str, object]:
        return shelves.change_many(db, body).model_dump()

    @api.post("/shelf/trash", responses={200: ShelfScreen})
    def put_away(body: IdsBody) -> dict[str, object]:
        return shelves.put_away(db, list(body.ids), trashed=body.trashed).model_dump()

    @api.delete("/shelf/trash", responses={200: ShelfScreen})
    def empty_shelf_trash() -> dict[str, object]:
        return shelves.empty_trash(db).model_dump()

    @api.post("/shelf/undo", responses={200: ShelfScreen})
    def undo_on_shelf() -> dict[str, object]:
        return shelves.undo(db).model_dump()

    @api.post("/shelf/redo", responses={200: ShelfScreen})
    def redo_on_shelf() -> dict[str, object]:
        return shelves.redo(db).model_dump()

    @api.put("/shelf/thinner", responses={200: ShelfScreen})
    def put_thinner(body: ThinnerOnShelf) -> dict[str, object]:
        return shelves.put_thinner(db, body).model_dump()

    @api.put("/shelf/airbrush", responses={200: ShelfScreen})
    def put_airbrush(body: AirbrushUsed) -> dict[str, object]:
        return shelves.put_airbrush(db, body).model_dump()

    @api.put("/shelf/compressor", responses={200: ShelfScreen})
    def put_compressor(body: Compressor) -> dict[str, object]:
        return shelves.put_compressor(db, body).model_dump()

    @api.delete("/shelf/<what>/<gear_id>", responses={200: ShelfScreen})
    def drop_gear(path: GearPath) -> dict[str, object]:
        return shelves.drop_gear(db, path.what, path.gear_id).model_dump()

    @api.get("/shelf/shelf.csv", responses={200: None})
    def shelf_csv() -> Response:
        return _file(files.export_csv(db), "text/csv; charset=utf-8", "shelf.csv")

    @api.get("/shelf/shelf.gpl", responses={200: None})
    def shelf_palette() -> Response:
        return _file(files.export_palette(db), "text/plain; charset=utf-8", "shelf.gpl")

    @api.post("/shelf/csv", responses={200: ImportPreview})
    def import_csv(query: ImportQuery) -> dict[str, object]:
        return files.import_csv(db, request.get_data(), apply=query.apply).model_dump()

    @api.post("/shelf/palette", responses={200: ImportPreview})
    def import_palette(query: ImportQuery) -> dict[str, object]:
        return files.import_palette(db, request.get_data(), apply=query.apply).model_dump()

    @api.post("/shelf/photo", responses={200: PickOut})
    def photo(query: PhotoPick) -> dict[str, object]:
        return pick_from_photo(request.get_data(), query).model_dump()

    def notices() -> list[str]:
        return [*bench.notices, *([BACK_UP] if backup_due(db) else [])]

    @api.get("/settings", responses={200: SettingsView})
    def read_settings() -> dict[str, object]:
        return SettingsView(settings=settings.read(db), notices=notices()).model_dump()

    @api.put("/settings", responses={200: SettingsView})
    def write_setting(body: SettingBody) -> dict[str, object]:
        done = settings.write(db, body.name, body.value)
        bench.devices.switch(on=done["devices"] == "simulated")
        return SettingsView(settings=done, notices=notices()).model_dump()

    return api


def _file(data: bytes, kind: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"}
    return Response(data, content_type=kind, headers=headers)
