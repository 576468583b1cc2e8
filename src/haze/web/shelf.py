"""Shelf and settings over HTTP."""

from __future__ import annotations

from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from haze.service import plans, settings
from haze.service.bench import Bench
from haze.service.plans import Shelf
from haze.service.spray_io import Strict
from haze.web.problems import Problem


class SettingsView(BaseModel):
    settings: dict[str, str]


class SettingBody(Strict):
    name: str = Field(max_length=60)
    value: str = Field(max_length=60)


def shelf_blueprint(bench: Bench) -> APIBlueprint:
    """Routes for what stands on the shelf, and for settings."""
    api = APIBlueprint(
        "shelf",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="shelf")],
        abp_responses={422: Problem},
    )

    @api.get("/shelf", responses={200: Shelf})
    def shelf() -> dict[str, object]:
        return plans.shelf_of(bench.db).model_dump()

    @api.get("/settings", responses={200: SettingsView})
    def read_settings() -> dict[str, object]:
        return SettingsView(settings=settings.read(bench.db)).model_dump()

    @api.put("/settings", responses={200: SettingsView})
    def write_setting(body: SettingBody) -> dict[str, object]:
        done = settings.write(bench.db, body.name, body.value)
        return SettingsView(settings=done).model_dump()

    return api
