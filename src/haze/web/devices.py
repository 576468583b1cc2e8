"""The devices at the bench over HTTP: as they stand, one stream of them, and the panel."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from haze.service.bench import Bench
from haze.service.booth.devices import DevicesView, DriveBody
from haze.web.events import events
from haze.web.routes import route_group


def devices_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/devices."""
    api = route_group("devices", documented=documented, refuses=(422, 503))

    @api.get("/devices", responses={200: DevicesView})
    def all_devices() -> DevicesView:
        return bench.devices.view()

    @api.get("/devices/events", responses={200: None})
    def device_events() -> Response:
        """Server-sent events: all devices now and whenever they change."""
        return events(bench.devices.listen())

    @api.post("/devices", responses={200: DevicesView})
    def drive_devices(body: DriveBody) -> DevicesView:
        return bench.devices.drive(body)

    return api
