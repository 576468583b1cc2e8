"""The devices at the bench over HTTP: as they stand, one stream of them, and the panel."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

from haze.service.bench import Bench
from haze.service.booth.devices import DevicesView, DriveBody
from haze.web.events import events
from haze.web.problems import Problem


def devices_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/devices."""
    api = APIBlueprint(
        "devices",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="devices")],
        doc_ui=documented,
        abp_responses={422: Problem, 503: Problem},
    )

    @api.get("/devices", responses={200: DevicesView})
    def all_devices() -> dict[str, object]:
        return bench.devices.view().model_dump()

    @api.get("/devices/events", responses={200: None})
    def device_events() -> Response:
        """Server-sent events: all devices now and whenever they change."""
        return events(bench.devices.listen())

    @api.post("/devices", responses={200: DevicesView})
    def drive_devices(body: DriveBody) -> dict[str, object]:
        return bench.devices.drive(body).model_dump()

    return api
