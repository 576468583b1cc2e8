"""Shelf and settings over HTTP."""

from __future__ import annotations

from typing import Annotated

from flask import Response, request
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel, Field

from haze.core.plan.base import Identity
from haze.core.plan.paint import AirbrushUsed, Maker
from haze.core.spray.constants import PaintKind
from haze.service.bench import Bench
from haze.service.colour.photo import PhotoPick, PickOut, pick_from_photo
from haze.service.files.upkeep import backup_due
from haze.service.forms import settings
from haze.service.forms.wire import Strict
from haze.service.shelf import files
from haze.service.shelf import shelf as shelves
from haze.service.shelf.chips import Chip
from haze.service.shelf.files import ImportPreview
from haze.service.shelf.paints import NamedPaint, PaintOnShelf, named
from haze.service.shelf.shelf import (
    BulkChange,
    Compressor,
    Shelf,
    ShelfScreen,
    ThinnerOnShelf,
)
from haze.web.routes import route_group

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


class NameQuery(BaseModel):
    name: str = Field(max_length=120)


class ListBody(Strict):
    """A pasted list of paints; `maker` and `kind` hold for lines that name none."""

    text: str = Field(max_length=400_000)
    maker: Maker = ""
    kind: PaintKind = "airbrush_acrylic"
    apply: bool = False


class ImportQuery(BaseModel):
    """Without `apply` the file is only looked at."""

    apply: bool = False


def shelf_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes for what stands on the shelf, and for settings."""
    api = route_group("shelf", documented=documented)
    _keep_shelf(api, bench)
    _bring_in_and_out(api, bench)
    _keep_settings(api, bench)
    return api


def _keep_shelf(api: APIBlueprint, bench: Bench) -> None:
    """Paints and gear, with undo and trash."""
    db = bench.db

    @api.get("/shelf", responses={200: Shelf})
    def shelf() -> Shelf:
        return shelves.shelf_of(db)

    @api.get("/shelf/screen", responses={200: ShelfScreen})
    def shelf_screen() -> ShelfScreen:
        return shelves.screen(db)

    @api.get("/shelf/named", responses={200: NamedPaint})
    def named_paint(query: NameQuery) -> NamedPaint:
        return named(query.name)

    @api.put("/shelf/paint", responses={200: Chip})
    def put_paint(body: PaintOnShelf) -> Chip:
        return shelves.put_paint(db, body)

    @api.post("/shelf/bulk", responses={200: ShelfScreen})
    def change_many(body: BulkChange) -> ShelfScreen:
        return shelves.change_many(db, body)

    @api.post("/shelf/trash", responses={200: ShelfScreen})
    def put_away(body: IdsBody) -> ShelfScreen:
        return shelves.put_away(db, list(body.ids), trashed=body.trashed)

    @api.delete("/shelf/trash", responses={200: ShelfScreen})
    def empty_shelf_trash() -> ShelfScreen:
        return shelves.empty_trash(db)

    @api.post("/shelf/example", responses={200: ShelfScreen})
    def add_example() -> ShelfScreen:
        return shelves.add_example(db)

    @api.post("/shelf/undo", responses={200: ShelfScreen})
    def undo_on_shelf() -> ShelfScreen:
        return shelves.undo(db)

    @api.post("/shelf/redo", responses={200: ShelfScreen})
    def redo_on_shelf() -> ShelfScreen:
        return shelves.redo(db)

    @api.put("/shelf/thinner", responses={200: ShelfScreen})
    def put_thinner(body: ThinnerOnShelf) -> ShelfScreen:
        return shelves.put_thinner(db, body)

    @api.put("/shelf/airbrush", responses={200: ShelfScreen})
    def put_airbrush(body: AirbrushUsed) -> ShelfScreen:
        return shelves.put_airbrush(db, body)

    @api.put("/shelf/compressor", responses={200: ShelfScreen})
    def put_compressor(body: Compressor) -> ShelfScreen:
        return shelves.put_compressor(db, body)

    @api.delete("/shelf/<what>/<gear_id>", responses={200: ShelfScreen})
    def drop_gear(path: GearPath) -> ShelfScreen:
        return shelves.drop_gear(db, path.what, path.gear_id)


def _bring_in_and_out(api: APIBlueprint, bench: Bench) -> None:
    """Tables, palettes and a photo."""
    db = bench.db

    @api.get("/shelf/shelf.csv", responses={200: None})
    def shelf_csv() -> Response:
        return _file(files.export_csv(db), "text/csv; charset=utf-8", "shelf.csv")

    @api.get("/shelf/shelf.gpl", responses={200: None})
    def shelf_palette() -> Response:
        return _file(files.export_palette(db), "text/plain; charset=utf-8", "shelf.gpl")

    @api.post("/shelf/csv", responses={200: ImportPreview})
    def import_csv(query: ImportQuery) -> ImportPreview:
        return files.import_csv(db, request.get_data(), apply=query.apply)

    @api.post("/shelf/list", responses={200: ImportPreview})
    def import_list(body: ListBody) -> ImportPreview:
        return files.import_list(db, body.text, maker=body.maker, kind=body.kind, apply=body.apply)

    @api.post("/shelf/palette", responses={200: ImportPreview})
    def import_palette(query: ImportQuery) -> ImportPreview:
        return files.import_palette(db, request.get_data(), apply=query.apply)

    @api.post("/shelf/photo", responses={200: PickOut})
    def photo(query: PhotoPick) -> PickOut:
        return pick_from_photo(request.get_data(), query)


def _keep_settings(api: APIBlueprint, bench: Bench) -> None:
    """Settings."""
    db = bench.db

    def notices() -> list[str]:
        return [*bench.notices, *([BACK_UP] if backup_due(db) else [])]

    @api.get("/settings", responses={200: SettingsView})
    def read_settings() -> SettingsView:
        return SettingsView(settings=settings.read(db), notices=notices())

    @api.put("/settings", responses={200: SettingsView})
    def write_setting(body: SettingBody) -> SettingsView:
        done = settings.write(db, body.name, body.value)
        bench.devices.switch(on=done["devices"] == "simulated")
        return SettingsView(settings=done, notices=notices())


def _file(data: bytes, kind: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"}
    return Response(data, content_type=kind, headers=headers)
