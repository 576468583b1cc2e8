"""Light plans and angles over HTTP."""

from __future__ import annotations

from flask import Response
from flask_openapi3 import APIBlueprint, Tag

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
from haze.web.problems import Problem


def light_blueprint(bench: Bench, *, documented: bool) -> APIBlueprint:
    """Routes under /api/light and /api/angles."""
    api = APIBlueprint(
        "light",
        __name__,
        url_prefix="/api",
        abp_tags=[Tag(name="light")],
        doc_ui=documented,
        abp_responses={404: Problem, 422: Problem},
    )

    @api.get("/light/presets", responses={200: PresetList})
    def presets() -> dict[str, object]:
        return preset_list().model_dump()

    @api.post("/light/preset", responses={200: LightsOut})
    def use_preset(body: PresetBody) -> dict[str, object]:
        return lights_of(body, bench.on(body.plan)).model_dump()

    @api.post("/light/picture", responses={200: None})
    def picture(body: PresetBody) -> Response:
        return Response(light_picture(body, bench.on(body.plan)), mimetype="image/png")

    @api.post("/angles", responses={200: JobView})
    def angles(body: AnglesBody) -> dict[str, object]:
        return bench.angles(body).model_dump()

    @api.get("/angles/<job_id>", responses={200: AnglesOut})
    def angles_found(path: JobPath) -> dict[str, object]:
        return bench.jobs.result(path.job_id, AnglesOut).model_dump()

    return api
