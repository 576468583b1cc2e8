"""Light plans and angles over HTTP."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint

from haze.service.bench import Bench
from haze.service.light.angles import AnglesBody, AnglesOut
from haze.service.light.lights import (
    LightsOut,
    PresetBody,
    PresetList,
    light_picture,
    lights_of,
    preset_list,
)
from haze.service.work.jobs import JobView
from haze.web.jobs import JobPath
from haze.web.routes import route_group


def light_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/light and /api/angles."""
    api = route_group("light", documented=documented)

    @api.get("/light/presets", responses={200: PresetList})
    def presets() -> PresetList:
        return preset_list()

    @api.post("/light/preset", responses={200: LightsOut})
    def use_preset(body: PresetBody) -> LightsOut:
        return lights_of(body, bench.on(body.plan))

    @api.post("/light/picture", responses={200: None})
    def picture(body: PresetBody) -> Response:
        return Response(light_picture(body, bench.on(body.plan)), mimetype="image/png")

    @api.post("/angles", responses={200: JobView})
    def angles(body: AnglesBody) -> JobView:
        return bench.angles(body)

    @api.get("/angles/<job_id>", responses={200: AnglesOut})
    def angles_found(path: JobPath) -> AnglesOut:
        return bench.jobs.result(path.job_id, AnglesOut)

    return api
